-- add: Keep a piece of long work that was asked for; the same id again changes nothing.
insert into job (hall_id, id, kind, trainee_id, what, at, total)
values (current_hall(), %(id)s, %(kind)s, %(trainee)s, %(what)s, %(at)s, %(total)s)
on conflict (hall_id, id) do nothing

-- one: How far a piece of long work has come.
select id, kind, trainee_id as trainee, what, at, state, done, total, wrong, result, stop_asked, ended_at from job where id = %(id)s

-- newest: The newest work of a kind, about one trainee where one is named.
select id, kind, trainee_id as trainee, what, at, state, done, total, wrong, result, stop_asked, ended_at from job
where kind = %(kind)s and trainee_id is not distinct from %(trainee)s and (not %(finished)s or state = 'finished')
order by at desc, id desc limit 1

-- newest_of_class: The newest work that laid a class night out.
select id, kind, trainee_id as trainee, what, at, state, done, total, wrong, result, stop_asked, ended_at from job
where kind = 'class-night' and what ->> 'class' = %(class)s order by at desc, id desc limit 1

-- come_to: Say how far it has come, and what went wrong so far; answered with whether it is to stop. What has ended stays as it is.
update job set state = 'running', done = %(done)s, wrong = %(wrong)s where id = %(id)s and state in ('waiting', 'running')
returning stop_asked

-- ask_to_stop: Ask work that has not ended to stop.
update job set stop_asked = true where id = %(id)s and state in ('waiting', 'running')

-- end: End a piece of work once.
update job set state = %(state)s, done = coalesce(%(done)s, done), wrong = %(wrong)s, result = %(result)s, ended_at = %(moment)s
where id = %(id)s and state in ('waiting', 'running')

-- left: The work of every hall that has not ended.
select hall_id as hall, coach_id as coach, id as job from open_jobs()
