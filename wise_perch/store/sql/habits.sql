-- put: Keep the minutes of a habit on a day; what was told later stands.
insert into habit_day (hall_id, trainee_id, day, habit, minutes, at)
values (current_hall(), %(trainee)s, %(day)s, %(habit)s, %(minutes)s, %(at)s)
on conflict (hall_id, trainee_id, day, habit) do update set minutes = excluded.minutes, at = excluded.at
where habit_day.at <= excluded.at

-- since: What a trainee told from a day on.
select day, habit, minutes from habit_day where trainee_id = %(trainee)s and day >= %(first)s and minutes > 0 order by day, habit
