-- choose_goals: Choose these goals, in their order; a goal chosen before comes back.
insert into trainee_goal (hall_id, trainee_id, goal, rank, since)
select current_hall(), %(trainee)s, goal, rank, %(moment)s from unnest(%(goals)s::text[]) with ordinality as chosen (goal, rank)
on conflict (hall_id, trainee_id, goal) do update set rank = excluded.rank, struck_at = null

-- drop_goals: Strike out every other goal.
update trainee_goal set struck_at = %(moment)s
where trainee_id = %(trainee)s and struck_at is null and not goal = any(%(goals)s)

-- waive: Let a gate pass; the same id again changes nothing.
insert into waiver (hall_id, id, trainee_id, drill, reason, at)
values (current_hall(), %(id)s, %(trainee)s, %(drill)s, %(reason)s, %(at)s)
on conflict (hall_id, id) do nothing

-- waiver: One waiver.
select trainee_id as trainee, drill, reason from waiver where id = %(id)s

-- take_back: Take a waiver back; taken back before stays as it was.
update waiver set struck_at = coalesce(struck_at, %(moment)s) where id = %(id)s

-- add_intake: Keep an intake; the same id again changes nothing.
insert into intake (hall_id, id, trainee_id, at, profile)
values (current_hall(), %(id)s, %(trainee)s, %(at)s, %(profile)s)
on conflict (hall_id, id) do nothing

-- intake: One intake.
select trainee_id as trainee, profile from intake where id = %(id)s

-- set_schools: Set a trainee's exceptions from the coach's schools; what was judged by the old ones is no longer true.
update trainee set schools = %(schools)s, evidence_version = evidence_version + 1 where id = %(trainee)s and struck_at is null
