-- utc: Write moments as UTC, whatever this database is set to.
set local time zone 'UTC'

-- coach: The settings of the coach this transaction acts as.
select to_jsonb(said) from (select coach.name, hall.name as hall, time_zone, rest_s, schools, float_switch_s, sounds
    from coach join hall on hall.id = current_hall() where coach.id = current_coach()) as said

-- syllabus_versions: Every version of the syllabus, in the order they came.
select to_jsonb(said) from (select id, at, text, note from syllabus_version order by arrived) as said

-- kit: Every piece of kit, struck out too.
select to_jsonb(said) from (select id, kind, thickness_cm, count, note, created_at, struck_at from kit_item order by id) as said

-- test_days: Every test day, struck out too.
select to_jsonb(said) from (select id, at, plan, struck_at from test_day order by at, id) as said

-- trainees: The ids of everybody, put away too, in the order they came; a made-up one to look round with is nobody.
select id from trainee where not sample order by created_at, id

-- trainee: One trainee with everything of theirs.
select jsonb_build_object(
    'id', trainee.id, 'name', trainee.name, 'stepping_side', trainee.stepping_side, 'note', trainee.note, 'schools', trainee.schools,
    'created_at', trainee.created_at, 'struck_at', trainee.struck_at,
    'goals', (select coalesce(jsonb_agg(to_jsonb(t) order by t.rank, t.goal), '[]') from
        (select goal, rank, since, struck_at from trainee_goal where trainee_id = trainee.id) as t),
    'waivers', (select coalesce(jsonb_agg(to_jsonb(t) order by t.at, t.id), '[]') from
        (select id, drill, reason, at, struck_at from waiver where trainee_id = trainee.id) as t),
    'intakes', (select coalesce(jsonb_agg(to_jsonb(t) - 'arrived' order by t.arrived), '[]') from
        (select id, at, profile, arrived from intake where trainee_id = trainee.id) as t),
    'settings', (select coalesce(jsonb_agg(to_jsonb(t) - 'arrived' order by t.arrived), '[]') from
        (select id, drill, settings, at, arrived from dial_setting where trainee_id = trainee.id) as t),
    'plans', (select coalesce(jsonb_agg(to_jsonb(t) - 'arrived' order by t.arrived), '[]') from
        (select id, week, at, wish, planned, note, arrived from plan where trainee_id = trainee.id) as t),
    'runs', (select coalesce(jsonb_agg(to_jsonb(t) order by t.started_at, t.id), '[]') from
        (select id, test, subject, started_at, ended_at, ended_as, rest_s, room, source, pain_joint, pain_level, created_at, dial, sheet,
            confidence, test_day_id from test_run where trainee_id = trainee.id) as t),
    'sessions', (select coalesce(jsonb_agg(to_jsonb(t) order by t.started_at, t.id), '[]') from
        (select id, day, started_at, ended_at, ended_as, source, sheet, note,
            (select coalesce(jsonb_agg(to_jsonb(e) order by e.at, e.id), '[]') from
                (select id, at, what, struck_at from session_event where session_id = floor_session.id) as e) as events
        from floor_session where trainee_id = trainee.id) as t),
    'evidence', (select coalesce(jsonb_agg(to_jsonb(t) order by t.at, t.id), '[]') from
        (select id, test_run_id, session_id, try_number, drill, at, outcome, fell, measure, value, asked, n, unit, mode, window_s, dial,
            form, side, confidence, room, source, early, note, level, replaces, reason, gone, created_at, struck_at
        from evidence where trainee_id = trainee.id) as t),
    'aches', (select coalesce(jsonb_agg(to_jsonb(t) order by t.at, t.id), '[]') from
        (select id, at, joint, level, sharp, event_id, struck_at from ache where trainee_id = trainee.id) as t),
    'worked_cues', (select coalesce(jsonb_agg(to_jsonb(t) order by t.at, t.id), '[]') from
        (select id, at, drill, cue, struck_at from worked_cue where trainee_id = trainee.id) as t),
    'habits', (select coalesce(jsonb_agg(to_jsonb(t) order by t.day, t.habit), '[]') from
        (select day, habit, minutes, at from habit_day where trainee_id = trainee.id) as t),
    'lines_seen', (select coalesce(jsonb_agg(to_jsonb(t) order by t.day, t.drill, t.view), '[]') from
        (select day, drill, view, seen, at from line_seen where trainee_id = trainee.id) as t),
    'course_changes', (select coalesce(jsonb_agg(to_jsonb(t) order by t.at, t.kind, t.what), '[]') from
        (select at, kind, what, was, now from course_change where trainee_id = trainee.id) as t),
    'silenced', (select coalesce(jsonb_agg(to_jsonb(t) order by t.at, t.turn), '[]') from
        (select turn, silenced, at from turn_silenced where trainee_id = trainee.id) as t),
    'reports', (select coalesce(jsonb_agg(to_jsonb(t) - 'arrived' order by t.arrived), '[]') from
        (select id, month, at, made, words, arrived from report where trainee_id = trainee.id) as t),
    'lines', (select coalesce(jsonb_agg(to_jsonb(t) order by t.at, t.id), '[]') from
        (select id, at, day, drill, view, points, width, height, said, off_deg, run_id, note, struck_at from kept_line where trainee_id = trainee.id) as t),
    'contacts', (select coalesce(jsonb_agg(to_jsonb(t)), '[]') from
        (select contact, guardian, consent_day from trainee_contact where trainee_id = trainee.id) as t)
) from trainee where trainee.id = %(trainee)s

-- groups: Every group, struck out too, with who is in it.
select to_jsonb(said) from (select id, name, evenings, created_at, struck_at,
    coalesce((select jsonb_agg(trainee_id order by trainee_id) from group_member
        where group_id = training_group.id and struck_at is null), '[]') as members
    from training_group order by created_at, id) as said

-- add_group: Keep a group that is not here yet; its trainees are here by now.
insert into training_group (hall_id, id, name, evenings, created_at, struck_at)
select current_hall(), id, name, evenings, created_at, struck_at from jsonb_populate_record(null::training_group, %(row)s)
on conflict do nothing

-- add_group_members: Keep who is in a group, of those who are here.
insert into group_member (hall_id, group_id, trainee_id)
select current_hall(), training_group.id, trainee.id
from jsonb_array_elements_text(%(row)s::jsonb -> 'members') as member
join trainee on trainee.id = member::uuid join training_group on training_group.id = (%(row)s::jsonb ->> 'id')::uuid
on conflict do nothing

-- rooms: Every room, struck out too.
select to_jsonb(said) from (select id, name, stations, heights, day_out, created_at, struck_at from room order by created_at, id) as said

-- class_nights: Every class night as it stands, struck out too.
select to_jsonb(said) from (select id, day, coalesce((select evening from class_event
        where class_event.hall_id = class_night.hall_id and class_id = class_night.id and class_event.struck_at is null
        order by arrived desc limit 1), evening) as evening, created_at, struck_at
    from class_night order by created_at, id) as said

-- add_room: Keep a room that is not here yet.
insert into room (hall_id, id, name, stations, heights, day_out, created_at, struck_at)
select current_hall(), id, name, stations, heights, day_out, created_at, struck_at from jsonb_populate_record(null::room, %(row)s)
on conflict do nothing

-- add_class_night: Keep a class night that is not here yet.
insert into class_night (hall_id, id, day, evening, created_at, struck_at)
select current_hall(), id, day, evening, created_at, struck_at from jsonb_populate_record(null::class_night, %(row)s)
on conflict do nothing

-- add_contacts: Keep whom to call.
insert into trainee_contact (hall_id, trainee_id, contact, guardian, consent_day)
select current_hall(), %(trainee)s, contact, guardian, consent_day from jsonb_populate_recordset(null::trainee_contact, %(rows)s)

-- is_new: Has this hall neither trainees nor a syllabus of its own?
select not exists (select from trainee) and not exists (select from syllabus_version) and not exists (select from kit_item)

-- set_coach: Take the settings of an archive over.
with house as (
    update hall set name = coalesce(nullif(%(row)s::jsonb ->> 'hall', ''), hall.name), time_zone = said.time_zone, float_switch_s = said.float_switch_s
    from jsonb_populate_record(null::hall, %(row)s) as said where hall.id = current_hall()
)
update coach set name = said.name, rest_s = said.rest_s, schools = said.schools, sounds = said.sounds
from jsonb_populate_record(null::coach, %(row)s) as said where coach.id = current_coach()

-- add_syllabus_version: Keep a version of the syllabus.
insert into syllabus_version (hall_id, id, at, text, note)
select current_hall(), id, at, text, note from jsonb_populate_record(null::syllabus_version, %(row)s)

-- add_kit: Keep a piece of kit that is not here yet.
insert into kit_item (hall_id, id, kind, thickness_cm, count, note, created_at, struck_at)
select current_hall(), id, kind, thickness_cm, count, note, created_at, struck_at from jsonb_populate_record(null::kit_item, %(row)s)
on conflict (hall_id, id) do nothing

-- add_test_day: Keep a test day that is not here yet.
insert into test_day (hall_id, id, at, plan, struck_at)
select current_hall(), id, at, plan, struck_at from jsonb_populate_record(null::test_day, %(row)s)
on conflict (hall_id, id) do nothing

-- who_is_here: The name under which a trainee of this id is here, put away or not.
select name from trainee where id = %(id)s

-- add_trainee: Keep a trainee.
insert into trainee (hall_id, id, name, stepping_side, note, schools, created_at, struck_at)
select current_hall(), id, name, stepping_side, note, schools, created_at, struck_at from jsonb_populate_record(null::trainee, %(row)s)

-- add_goals: Keep the goals of a trainee.
insert into trainee_goal (hall_id, trainee_id, goal, rank, since, struck_at)
select current_hall(), %(trainee)s, goal, rank, since, struck_at from jsonb_populate_recordset(null::trainee_goal, %(rows)s)

-- add_waivers: Keep the waivers of a trainee.
insert into waiver (hall_id, trainee_id, id, drill, reason, at, struck_at)
select current_hall(), %(trainee)s, id, drill, reason, at, struck_at from jsonb_populate_recordset(null::waiver, %(rows)s)

-- add_intakes: Keep the intakes of a trainee, in the order they came.
insert into intake (hall_id, trainee_id, id, at, profile)
select current_hall(), %(trainee)s, (row ->> 'id')::uuid, (row ->> 'at')::timestamptz, row -> 'profile'
from jsonb_array_elements(%(rows)s) with ordinality as listed (row, place) order by place

-- add_settings: Keep the settings of a trainee, in the order they came.
insert into dial_setting (hall_id, trainee_id, id, drill, settings, at)
select current_hall(), %(trainee)s, (row ->> 'id')::uuid, row ->> 'drill', row -> 'settings', (row ->> 'at')::timestamptz
from jsonb_array_elements(%(rows)s) with ordinality as listed (row, place) order by place

-- add_plans: Keep the plans of a trainee, in the order they came.
insert into plan (hall_id, trainee_id, id, week, at, wish, planned, note)
select current_hall(), %(trainee)s, (row ->> 'id')::uuid, (row ->> 'week')::date, (row ->> 'at')::timestamptz, row -> 'wish',
    row -> 'planned', row ->> 'note'
from jsonb_array_elements(%(rows)s) with ordinality as listed (row, place) order by place

-- add_runs: Keep the test runs of a trainee.
insert into test_run (hall_id, trainee_id, id, test, subject, started_at, ended_at, ended_as, rest_s, room, source, pain_joint, pain_level,
    created_at, dial, sheet, confidence, test_day_id)
select current_hall(), %(trainee)s, id, test, subject, started_at, ended_at, ended_as, rest_s, room, source, pain_joint, pain_level,
    created_at, dial, sheet, confidence, test_day_id
from jsonb_populate_recordset(null::test_run, %(rows)s)

-- add_sessions: Keep the sessions of a trainee.
insert into floor_session (hall_id, trainee_id, id, day, started_at, ended_at, ended_as, source, sheet, note)
select current_hall(), %(trainee)s, id, day, started_at, ended_at, ended_as, source, sheet, note
from jsonb_populate_recordset(null::floor_session, %(rows)s)

-- add_events: Keep what happened in a trainee's sessions.
insert into session_event (hall_id, id, session_id, at, what, struck_at)
select current_hall(), (event ->> 'id')::uuid, (session ->> 'id')::uuid, (event ->> 'at')::timestamptz, event -> 'what',
    (event ->> 'struck_at')::timestamptz
from jsonb_array_elements(%(rows)s) as session, jsonb_array_elements(session -> 'events') as event

-- add_evidence: Keep the evidence of a trainee.
insert into evidence (hall_id, trainee_id, id, test_run_id, session_id, try_number, drill, at, outcome, fell, measure, value, asked, n, unit,
    mode, window_s, dial, form, side, confidence, room, source, early, note, level, replaces, reason, gone, created_at, struck_at)
select current_hall(), %(trainee)s, id, test_run_id, session_id, try_number, drill, at, outcome, fell, measure, value, asked, n, unit,
    mode, window_s, dial, form, side, confidence, room, source, early, note, level, replaces, reason, gone, created_at, struck_at
from jsonb_populate_recordset(null::evidence, %(rows)s)

-- add_aches: Keep what hurt.
insert into ache (hall_id, trainee_id, id, at, joint, level, sharp, event_id, struck_at)
select current_hall(), %(trainee)s, id, at, joint, level, sharp, event_id, struck_at from jsonb_populate_recordset(null::ache, %(rows)s)

-- add_habits: Keep habits.
insert into habit_day (hall_id, trainee_id, day, habit, minutes, at)
select current_hall(), %(trainee)s, day, habit, minutes, at from jsonb_populate_recordset(null::habit_day, %(rows)s)

-- add_lines_seen: Keep from where lines were seen.
insert into line_seen (hall_id, trainee_id, day, drill, view, seen, at)
select current_hall(), %(trainee)s, day, drill, view, seen, at from jsonb_populate_recordset(null::line_seen, %(rows)s)

-- add_course_changes: Keep when goals and schools changed; those that came with the goals themselves are there already.
insert into course_change (hall_id, trainee_id, at, kind, what, was, now)
select current_hall(), %(trainee)s, at, kind, what, was, now from jsonb_populate_recordset(null::course_change, %(rows)s)
on conflict do nothing

-- add_silenced: Keep what was silenced.
insert into turn_silenced (hall_id, trainee_id, turn, silenced, at)
select current_hall(), %(trainee)s, turn, silenced, at from jsonb_populate_recordset(null::turn_silenced, %(rows)s)

-- add_reports: Keep the words of reports, in the order they came.
insert into report (hall_id, trainee_id, id, month, at, made, words)
select current_hall(), %(trainee)s, (row ->> 'id')::uuid, (row ->> 'month')::date, (row ->> 'at')::timestamptz, row -> 'made', row -> 'words'
from jsonb_array_elements(%(rows)s) with ordinality as came (row, n) order by n

-- add_lines: Keep judged lines.
insert into kept_line (hall_id, trainee_id, id, at, day, drill, view, points, width, height, said, off_deg, run_id, note, struck_at)
select current_hall(), %(trainee)s, id, at, day, drill, view, points, width, height, said, off_deg, run_id, note, struck_at
from jsonb_populate_recordset(null::kept_line, %(rows)s)

-- add_worked_cues: Keep the cues that worked.
insert into worked_cue (hall_id, trainee_id, id, at, drill, cue, struck_at)
select current_hall(), %(trainee)s, id, at, drill, cue, struck_at from jsonb_populate_recordset(null::worked_cue, %(rows)s)
