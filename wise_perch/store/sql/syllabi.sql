-- add: Keep a version; the same id again changes nothing.
insert into syllabus_version (hall_id, id, at, text, note)
values (current_hall(), %(id)s, %(at)s, %(text)s, %(note)s)
on conflict (hall_id, id) do nothing

-- one: One version with its text.
select id, at, text, note from syllabus_version where id = %(id)s

-- every: Every version, the newest first, without the texts.
select id, at, note, text = '' as ours from syllabus_version order by arrived desc

-- hold: Let one change of this coach's syllabus after the other, until the transaction ends.
select pg_advisory_xact_lock(hashtextextended('syllabus ' || current_hall()::text, 0))
