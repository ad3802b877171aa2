-- add: Keep a test day; the same id again changes nothing.
insert into test_day (hall_id, id, at, plan) values (current_hall(), %(id)s, %(at)s, %(plan)s)
on conflict (hall_id, id) do nothing

-- one: One test day.
select id, at, plan from test_day where id = %(id)s and struck_at is null

-- every: The newest test days.
select id, at, plan from test_day where struck_at is null order by at desc, id desc limit %(most)s

-- strike: Strike a test day out; its runs stay.
update test_day set struck_at = coalesce(struck_at, %(moment)s) where id = %(id)s
