-- add: Add a trainee; the same id again changes nothing.
insert into trainee (hall_id, id, name, stepping_side, note)
values (current_hall(), %(id)s, %(name)s, %(stepping_side)s, %(note)s)
on conflict (hall_id, id) do nothing

-- change: Change name, side and note.
update trainee set name = %(name)s, stepping_side = %(stepping_side)s, note = %(note)s
where id = %(id)s and struck_at is null

-- one: One trainee.
select id, name, stepping_side, note from trainee where id = %(id)s and struck_at is null

-- every: Every trainee, by name.
select id, name, stepping_side, note from trainee where struck_at is null order by lower(name)

-- some: These trainees, by name.
select id, name, stepping_side, note from trainee where id = any(%(ids)s) and struck_at is null order by lower(name)

-- by_names: The trainees with these names, however they are cased.
select id, name, stepping_side, note from trainee
where lower(name) = any(select lower(wanted) from unnest(%(names)s::text[]) as wanted) and struck_at is null

-- put_away: Put a trainee who left away; put away before stays as it was.
update trainee set struck_at = coalesce(struck_at, %(moment)s) where id = %(id)s

-- bring_back: Bring a trainee back as they were left.
update trainee set struck_at = null where id = %(id)s

-- away: Who was put away, by name.
select id, name, struck_at as since from trainee where struck_at is not null order by lower(name)

-- anybody: One trainee, put away or not.
select id, name, stepping_side, note from trainee where id = %(id)s

-- hold: Keep everybody else from changing a trainee until this transaction ends, and say whether they are put away.
select struck_at is not null from trainee where id = %(id)s for update

-- erase: Delete a trainee with everything of theirs for good, and count what it was; null where there is none.
select erase_trainee(%(id)s)

-- receipt: Keep the receipt of a deletion, which names nobody.
insert into erasure (hall_id, id, trainee_id, counted) values (current_hall(), %(receipt)s, %(id)s, %(counted)s)
returning id, trainee_id as trainee, at, counted

-- receipts: Every receipt, the newest first.
select id, trainee_id as trainee, at, counted from erasure order by at desc, id desc
