-- put: Keep whether a drill was looked at from a view on a day; what was said later stands.
insert into line_seen (hall_id, trainee_id, day, drill, view, seen, at)
values (current_hall(), %(trainee)s, %(day)s, %(drill)s, %(view)s, %(seen)s, %(at)s)
on conflict (hall_id, trainee_id, day, drill, view) do update set seen = excluded.seen, at = excluded.at
where line_seen.at <= excluded.at

-- of_drill: The last day that a drill was looked at, from each view.
select drill, view, max(day) as day from line_seen where trainee_id = %(trainee)s and drill = %(drill)s and seen group by drill, view
