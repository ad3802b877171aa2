-- start: Start a session; the same id again changes nothing.
insert into floor_session (hall_id, id, trainee_id, day, started_at, source, sheet)
values (current_hall(), %(id)s, %(trainee)s, %(day)s, %(started_at)s, %(source)s, %(sheet)s)
on conflict (hall_id, id) do nothing

-- one: One session with all that happened in it, in its order, struck out too.
select id, trainee_id as trainee, day, started_at, ended_at, ended_as, source, sheet, note,
    coalesce((select json_agg(json_build_object('id', id, 'at', at, 'what', what, 'struck_at', struck_at) order by at, id) from session_event as event
        where event.hall_id = floor_session.hall_id and event.session_id = floor_session.id), '[]') as events
from floor_session where id = %(id)s

-- hold_session: Keep everybody else from changing a session until this transaction ends.
select id from floor_session where id = %(id)s for update

-- open_sessions: Every session that was begun and not ended, the newest first.
select id, trainee_id as trainee, day, started_at, ended_at, ended_as, source, sheet, note,
    coalesce((select json_agg(json_build_object('id', id, 'at', at, 'what', what, 'struck_at', struck_at) order by at, id) from session_event as event
        where event.hall_id = floor_session.hall_id and event.session_id = floor_session.id), '[]') as events
from floor_session
where ended_at is null and source = 'live' order by started_at desc, id desc

-- of_days: The sessions of a trainee on these days, oldest first.
select id, trainee_id as trainee, day, started_at, ended_at, ended_as, source, sheet, note,
    coalesce((select json_agg(json_build_object('id', id, 'at', at, 'what', what, 'struck_at', struck_at) order by at, id) from session_event as event
        where event.hall_id = floor_session.hall_id and event.session_id = floor_session.id), '[]') as events
from floor_session
where trainee_id = %(trainee)s and day between %(first)s and %(last)s order by started_at, id

-- end_session: End a session once.
update floor_session set ended_at = %(ended_at)s, ended_as = %(ended_as)s, note = %(note)s where id = %(id)s and ended_at is null

-- add_event: Keep one thing that happened; the same id again changes nothing.
insert into session_event (hall_id, id, session_id, at, what) values (current_hall(), %(id)s, %(session)s, %(at)s, %(what)s)
on conflict (hall_id, id) do nothing

-- event: One thing that happened.
select id, session_id as session, at, what, struck_at from session_event where id = %(id)s

-- strike_event: Take back what happened; taken back before stays as it was.
update session_event set struck_at = coalesce(struck_at, %(moment)s) where id = %(id)s and session_id = %(session)s

-- strike_told: Take back the pain, or the cue that worked, that an event told of.
with pain as (update ache set struck_at = coalesce(struck_at, %(moment)s) where event_id = %(event)s)
update worked_cue set struck_at = coalesce(struck_at, %(moment)s) where id = %(event)s

-- add_ache: Keep pain told of a joint; the same id again changes nothing.
insert into ache (hall_id, id, trainee_id, at, joint, level, sharp, event_id)
values (current_hall(), %(id)s, %(trainee)s, %(at)s, %(joint)s, %(level)s, %(sharp)s, %(event)s)
on conflict (hall_id, id) do nothing

-- add_cue: Keep a cue that worked; the same id again changes nothing.
insert into worked_cue (hall_id, id, trainee_id, at, drill, cue) values (current_hall(), %(id)s, %(trainee)s, %(at)s, %(drill)s, %(cue)s)
on conflict (hall_id, id) do nothing

-- put_evidence: Write what blocks of a session come to by now: sets, k of n, averages; what they came to before is replaced, what is left of nothing struck out.
with gone as (
    update evidence set gone = gone or struck_at is null, struck_at = coalesce(struck_at, %(moment)s)
    where id = any(%(gone)s::uuid[]) and session_id = %(session)s
)
insert into evidence (hall_id, id, trainee_id, session_id, drill, at, measure, value, asked, n, unit, mode, window_s, form, side, confidence, dial, reason, source, note)
select current_hall(), id, trainee_id, %(session)s, drill, at, measure, value, asked, n, unit, mode, window_s, form, side, confidence, dial::jsonb, reason, source, note
from unnest(%(ids)s::uuid[], %(trainees)s::uuid[], %(drills)s::text[], %(moments)s::timestamptz[], %(measures)s::text[],
    %(values)s::double precision[], %(askeds)s::double precision[], %(ns)s::integer[], %(units)s::text[], %(modes)s::text[], %(windows)s::double precision[], %(forms)s::text[],
    %(sides)s::text[], %(confidences)s::integer[], %(dials)s::text[], %(reasons)s::text[], %(sources)s::text[], %(notes)s::text[])
    as came (id, trainee_id, drill, at, measure, value, asked, n, unit, mode, window_s, form, side, confidence, dial, reason, source, note)
on conflict (hall_id, id) do update set value = excluded.value, asked = excluded.asked, n = excluded.n, form = excluded.form, confidence = excluded.confidence, reason = excluded.reason,
    struck_at = case when evidence.gone then null else evidence.struck_at end, gone = false
where evidence.session_id = excluded.session_id

-- sets_of_session: The sets that a session came to, on the coach's own calendar.
select drill, (at at time zone %(time_zone)s)::date as day, measure, value, asked, n, form, side, mode, window_s, confidence, nullif(dial::text, '{}'), reason, source
from evidence where session_id = %(session)s and drill is not null and struck_at is null
