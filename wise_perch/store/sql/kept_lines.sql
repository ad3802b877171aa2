-- add: Keep a line; the same id again changes nothing.
insert into kept_line (hall_id, trainee_id, id, at, day, drill, view, points, width, height, said, off_deg, run_id, note)
values (current_hall(), %(trainee)s, %(id)s, %(at)s, %(day)s, %(drill)s, %(view)s, %(points)s, %(width)s, %(height)s, %(said)s, %(off_deg)s, %(run)s, %(note)s)
on conflict (hall_id, id) do nothing

-- one: A line, with the trainee it is of.
select trainee_id as trainee, id, drill, view, at, day, points, width, height, said, off_deg, run_id as run, note, struck_at from kept_line where id = %(id)s

-- of_trainee: The lines of a trainee that count, the newest first.
select id, drill, view, at, day, points, width, height, said, off_deg, run_id as run, note, struck_at from kept_line
where trainee_id = %(trainee)s and struck_at is null order by at desc, id desc limit %(most)s

-- strike: Strike out a line, or bring it back.
update kept_line set struck_at = %(moment)s where id = %(id)s and (struck_at is null) = (%(moment)s::timestamptz is not null)
