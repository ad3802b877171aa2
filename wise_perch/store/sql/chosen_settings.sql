-- keep_setting: Keep the dial settings chosen for a drill; the same id again changes nothing.
insert into dial_setting (hall_id, id, trainee_id, drill, settings, at)
values (current_hall(), %(id)s, %(trainee)s, %(drill)s, %(settings)s, %(at)s)
on conflict (hall_id, id) do nothing

-- setting: One choice of settings.
select trainee_id as trainee, drill, settings from dial_setting where id = %(id)s
