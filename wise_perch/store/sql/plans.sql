-- keep: Keep a version of a week's plan; the same id again changes nothing.
insert into plan (hall_id, id, trainee_id, week, at, wish, planned, note)
values (current_hall(), %(id)s, %(trainee)s, %(week)s, %(at)s, %(wish)s, %(planned)s, %(note)s)
on conflict (hall_id, id) do nothing

-- one: One version of a plan.
select id, trainee_id as trainee, week, at, wish, planned, note from plan where id = %(id)s

-- is_kept: Is a version of this id there?
select 1 from plan where id = %(id)s

-- newest: The newest version of a week's plan.
select id, trainee_id as trainee, week, at, wish, planned, note from plan
where trainee_id = %(trainee)s and week = %(week)s order by arrived desc limit 1

-- last: The newest version of the latest week that was planned.
select id, trainee_id as trainee, week, at, wish, planned, note from plan
where trainee_id = %(trainee)s order by week desc, arrived desc limit 1

-- from_week: The newest version of each week from one on, earliest first.
select distinct on (week) id, trainee_id as trainee, week, at, wish, planned, note from plan
where trainee_id = %(trainee)s and week >= %(week)s order by week, arrived desc

-- how_many: How many versions each week from one on has.
select week, count(*) from plan where trainee_id = %(trainee)s and week >= %(week)s group by week

-- versions: Every version of a week's plan, the newest first, without the plans.
select id, at, note from plan where trainee_id = %(trainee)s and week = %(week)s order by arrived desc

-- days_of_week: Of everybody's newest plan of a week the days.
select distinct on (trainee_id) trainee_id as trainee, id, days from plan where week = %(week)s order by trainee_id, arrived desc

-- add_link: Keep the hash of a secret address; the same id again changes nothing.
insert into share_link (hall_id, id, trainee_id, kind, token_hash) values (current_hall(), %(id)s, %(trainee)s, %(kind)s, %(token_hash)s)
on conflict (hall_id, id) do nothing

-- links: The secret addresses of a trainee, or of the whole hall, that still work, the newest first.
select id, kind, created_at from share_link where trainee_id is not distinct from %(trainee)s and revoked_at is null order by created_at desc, id desc

-- revoke: Take a secret address back; taken back before stays as it was.
update share_link set revoked_at = coalesce(revoked_at, %(moment)s) where id = %(id)s

-- of_token: Whose secret address is this, if it still works?
select hall_id as hall, coach_id as coach, trainee_id as trainee, kind from link_of_token(%(token_hash)s)
