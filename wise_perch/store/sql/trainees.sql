-- add: Add a trainee; the same id again changes nothing.
insert into trainee (coach_id, id, name, stepping_side, note)
values (current_coach(), %(id)s, %(name)s, %(stepping_side)s, %(note)s)
on conflict (coach_id, id) do nothing

-- change: Change name, side and note.
update trainee set name = %(name)s, stepping_side = %(stepping_side)s, note = %(note)s
where id = %(id)s and struck_at is null

-- one: One trainee.
select id, name, stepping_side, note from trainee where id = %(id)s and struck_at is null

-- every: Every trainee, by name.
select id, name, stepping_side, note from trainee where struck_at is null order by lower(name)

-- by_names: The trainees with these names, however they are cased.
select id, name, stepping_side, note from trainee
where lower(name) = any(select lower(wanted) from unnest(%(names)s::text[]) as wanted) and struck_at is null
