-- rooms: Every room that is kept, by name.
select id, name, stations, heights, day_out from room where struck_at is null order by lower(name)

-- add_room: Add a room; the same id again changes nothing.
insert into room (hall_id, id, name, stations, heights, day_out)
values (current_hall(), %(id)s, %(name)s, %(stations)s, %(heights)s, %(day_out)s)
on conflict (hall_id, id) do nothing

-- change_room: Change a room.
update room set name = %(name)s, stations = %(stations)s, heights = %(heights)s, day_out = %(day_out)s, author_id = current_coach()
where id = %(id)s and struck_at is null

-- strike_room: Strike a room out; struck out before stays as it was.
update room set struck_at = coalesce(struck_at, %(moment)s) where id = %(id)s

-- restore_room: Bring a room back that was struck out.
update room set struck_at = null where id = %(id)s

-- add: Keep a class night that is to be laid out; the same id again changes nothing.
insert into class_night (hall_id, id, day, evening) values (current_hall(), %(id)s, %(day)s, %(evening)s)
on conflict (hall_id, id) do nothing

-- hold: Keep everybody else from changing a class night until this transaction ends.
select id from class_night where id = %(id)s and struck_at is null for update

-- lay_out: Keep how a class night was laid out, with each one's sheet.
update class_night set evening = %(evening)s, sheets = %(sheets)s where id = %(id)s

-- add_sheet: Keep one more sheet of a class night.
update class_night set sheets = sheets || %(sheet)s where id = %(id)s

-- one: A class night as it stands: by its newest event that was not taken back, else as it was laid out.
select id, day, coalesce((select evening from class_event where class_event.hall_id = class_night.hall_id and class_id = class_night.id
    and class_event.struck_at is null order by arrived desc limit 1), evening) as evening, token_hash is not null as displayed
from class_night where id = %(id)s and struck_at is null

-- every: The class nights that are kept, the newest day first.
select id, day, coalesce((select evening from class_event where class_event.hall_id = class_night.hall_id and class_id = class_night.id
    and class_event.struck_at is null order by arrived desc limit 1), evening) as evening, token_hash is not null as displayed
from class_night where struck_at is null and day <= %(last)s order by day desc, created_at desc limit %(most)s

-- sheet: Somebody's sheet in the class night of a day that is under way.
select sheets -> %(trainee)s as sheet from class_night
join lateral (select evening from class_event where class_event.hall_id = class_night.hall_id and class_id = class_night.id
    and class_event.struck_at is null order by arrived desc limit 1) as newest on true
where class_night.struck_at is null and day = %(day)s and sheets ? %(trainee)s
    and newest.evening ->> 'begun_at' is not null and newest.evening ->> 'closed_at' is null
order by created_at desc limit 1

-- strike: Strike a class night out; struck out before stays as it was.
update class_night set struck_at = coalesce(struck_at, %(moment)s) where id = %(id)s

-- restore: Bring a class night back that was struck out.
update class_night set struck_at = null where id = %(id)s

-- add_event: Keep what happened in a class night and how it stands then; the same id again changes nothing.
insert into class_event (hall_id, id, class_id, at, what, evening, changed)
values (current_hall(), %(id)s, %(class)s, %(at)s, %(what)s, %(evening)s, %(changed)s)
on conflict (hall_id, id) do nothing

-- event: One thing that happened, with its class night.
select class_id as class, struck_at from class_event where id = %(id)s

-- events: What happened in a class night, the newest first.
select id, at, what, changed, struck_at from class_event where class_id = %(class)s order by arrived desc limit %(most)s

-- strike_event: Take back what happened in a class night last.
update class_event set struck_at = coalesce(struck_at, %(moment)s) where class_id = %(class)s and id = %(id)s

-- strike_events: Take back what happened in a class night before it was laid out once more.
update class_event set struck_at = %(moment)s where class_id = %(class)s and struck_at is null

-- show: Keep the hash of a display's secret address; the one before it no longer works.
update class_night set token_hash = %(token_hash)s where id = %(id)s

-- of_token: Which class night does a display's address show?
select hall_id as hall, coach_id as coach, class_id as class from class_of_token(%(token_hash)s)
