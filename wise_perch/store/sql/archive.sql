-- utc: Write moments as UTC, whatever this database is set to.
set local time zone 'UTC'

-- coach: The settings of the coach this transaction acts as.
select to_jsonb(said) from (select name, time_zone, rest_s, schools, float_switch_s, sounds from coach where id = current_coach()) as said

-- syllabus_versions: Every version of the syllabus, in the order they came.
select to_jsonb(said) from (select id, at, text, note from syllabus_version order by arrived) as said

-- kit: Every piece of kit, struck out too.
select to_jsonb(said) from (select id, kind, thickness_cm, count, note, created_at, struck_at from kit_item order by id) as said

-- test_days: Every test day, struck out too.
select to_jsonb(said) from (select id, at, plan, struck_at from test_day order by at, id) as said

-- trainees: The ids of everybody, put away too, in the order they came.
select id from trainee order by created_at, id

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
        (select id, at, day, drill, view, points, width, height, said, off_deg, run_id, note, struck_at from kept_line where trainee_id = trainee.id) as t)
) from trainee where trainee.id = %(trainee)s

-- is_new: Has this coach neither trainees nor a syllabus of their own?
select not exists (select from trainee) and not exists (select from syllabus_version) and not exists (select from kit_item)

-- set_coach: Take the settings of an archive over.
update coach set name = said.name, time_zone = said.time_zone, rest_s = said.rest_s, schools = said.schools,
    float_switch_s = said.float_switch_s, sounds = said.sounds
from jsonb_populate_record(null::coach, %(row)s) as said where coach.id = current_coach()

-- add_syllabus_version: Keep a version of the syllabus.
insert into syllabus_version (coach_id, id, at, text, note)
select current_coach(), id, at, text, note from jsonb_populate_record(null::syllabus_version, %(row)s)

-- add_kit: Keep a piece of kit that is not here yet.
insert into kit_item (coach_id, id, kind, thickness_cm, count, note, created_at, struck_at)
select current_coach(), id, kind, thickness_cm, count, note, created_at, struck_at from jsonb_populate_record(null::kit_item, %(row)s)
on conflict (coach_id, id) do nothing

-- add_test_day: Keep a test day that is not here yet.
insert into test_day (coach_id, id, at, plan, struck_at)
select current_coach(), id, at, plan, struck_at from jsonb_populate_record(null::test_day, %(row)s)
on conflict (coach_id, id) do nothing

-- who_is_here: The name under which a trainee of this id is here, put away or not.
select name from trainee where id = %(id)s

-- add_trainee: Keep a trainee.
insert into trainee (coach_id, id, name, stepping_side, note, schools, created_at, struck_at)
select current_coach(), id, name, stepping_side, note, schools, created_at, struck_at from jsonb_populate_record(null::trainee, %(row)s)

-- add_goals: Keep the goals of a trainee.
insert into trainee_goal (coach_id, trainee_id, goal, rank, since, struck_at)
select current_coach(), %(trainee)s, goal, rank, since, struck_at from jsonb_populate_recordset(null::trainee_goal, %(rows)s)

-- add_waivers: Keep the waivers of a trainee.
insert into waiver (coach_id, trainee_id, id, drill, reason, at, struck_at)
select current_coach(), %(trainee)s, id, drill, reason, at, struck_at from jsonb_populate_recordset(null::waiver, %(rows)s)

-- add_intakes: Keep the intakes of a trainee, in the order they came.
insert into intake (coach_id, trainee_id, id, at, profile)
select current_coach(), %(trainee)s, (row ->> 'id')::uuid, (row ->> 'at')::timestamptz, row -> 'profile'
from jsonb_array_elements(%(rows)s) with ordinality as listed (row, place) order by place

-- add_settings: Keep the settings of a trainee, in the order they came.
insert into dial_setting (coach_id, trainee_id, id, drill, settings, at)
select current_coach(), %(trainee)s, (row ->> 'id')::uuid, row ->> 'drill', row -> 'settings', (row ->> 'at')::timestamptz
from jsonb_array_elements(%(rows)s) with ordinality as listed (row, place) order by place

-- add_plans: Keep the plans of a trainee, in the order they came.
insert into plan (coach_id, trainee_id, id, week, at, wish, planned, note)
select current_coach(), %(trainee)s, (row ->> 'id')::uuid, (row ->> 'week')::date, (row ->> 'at')::timestamptz, row -> 'wish',
    row -> 'planned', row ->> 'note'
from jsonb_array_elements(%(rows)s) with ordinality as listed (row, place) order by place

-- add_runs: Keep the test runs of a trainee.
insert into test_run (coach_id, trainee_id, id, test, subject, started_at, ended_at, ended_as, rest_s, room, source, pain_joint, pain_level,
    created_at, dial, sheet, confidence, test_day_id)
select current_coach(), %(trainee)s, id, test, subject, started_at, ended_at, ended_as, rest_s, room, source, pain_joint, pain_level,
    created_at, dial, sheet, confidence, test_day_id
from jsonb_populate_recordset(null::test_run, %(rows)s)

-- add_sessions: Keep the sessions of a trainee.
insert into floor_session (coach_id, trainee_id, id, day, started_at, ended_at, ended_as, source, sheet, note)
select current_coach(), %(trainee)s, id, day, started_at, ended_at, ended_as, source, sheet, note
from jsonb_populate_recordset(null::floor_session, %(rows)s)

-- add_events: Keep what happened in a trainee's sessions.
insert into session_event (coach_id, id, session_id, at, what, struck_at)
select current_coach(), (event ->> 'id')::uuid, (session ->> 'id')::uuid, (event ->> 'at')::timestamptz, event -> 'what',
    (event ->> 'struck_at')::timestamptz
from jsonb_array_elements(%(rows)s) as session, jsonb_array_elements(session -> 'events') as event

-- add_evidence: Keep the evidence of a trainee.
insert into evidence (coach_id, trainee_id, id, test_run_id, session_id, try_number, drill, at, outcome, fell, measure, value, asked, n, unit,
    mode, window_s, dial, form, side, confidence, room, source, early, note, level, replaces, reason, gone, created_at, struck_at)
select current_coach(), %(trainee)s, id, test_run_id, session_id, try_number, drill, at, outcome, fell, measure, value, asked, n, unit,
    mode, window_s, dial, form, side, confidence, room, source, early, note, level, replaces, reason, gone, created_at, struck_at
from jsonb_populate_recordset(null::evidence, %(rows)s)

-- add_aches: Keep what hurt.
insert into ache (coach_id, trainee_id, id, at, joint, level, sharp, event_id, struck_at)
select current_coach(), %(trainee)s, id, at, joint, level, sharp, event_id, struck_at from jsonb_populate_recordset(null::ache, %(rows)s)

-- add_habits: Keep habits.
insert into habit_day (coach_id, trainee_id, day, habit, minutes, at)
select current_coach(), %(trainee)s, day, habit, minutes, at from jsonb_populate_recordset(null::habit_day, %(rows)s)

-- add_lines_seen: Keep from where lines were seen.
insert into line_seen (coach_id, trainee_id, day, drill, view, seen, at)
select current_coach(), %(trainee)s, day, drill, view, seen, at from jsonb_populate_recordset(null::line_seen, %(rows)s)

-- add_course_changes: Keep when goals and schools changed; those that came with the goals themselves are there already.
insert into course_change (coach_id, trainee_id, at, kind, what, was, now)
select current_coach(), %(trainee)s, at, kind, what, was, now from jsonb_populate_recordset(null::course_change, %(rows)s)
on conflict do nothing

-- add_silenced: Keep what was silenced.
insert into turn_silenced (coach_id, trainee_id, turn, silenced, at)
select current_coach(), %(trainee)s, turn, silenced, at from jsonb_populate_recordset(null::turn_silenced, %(rows)s)

-- add_reports: Keep the words of reports, in the order they came.
insert into report (coach_id, trainee_id, id, month, at, made, words)
select current_coach(), %(trainee)s, (row ->> 'id')::uuid, (row ->> 'month')::date, (row ->> 'at')::timestamptz, row -> 'made', row -> 'words'
from jsonb_array_elements(%(rows)s) with ordinality as came (row, n) order by n

-- add_lines: Keep judged lines.
insert into kept_line (coach_id, trainee_id, id, at, day, drill, view, points, width, height, said, off_deg, run_id, note, struck_at)
select current_coach(), %(trainee)s, id, at, day, drill, view, points, width, height, said, off_deg, run_id, note, struck_at
from jsonb_populate_recordset(null::kept_line, %(rows)s)

-- add_worked_cues: Keep the cues that worked.
insert into worked_cue (coach_id, trainee_id, id, at, drill, cue, struck_at)
select current_coach(), %(trainee)s, id, at, drill, cue, struck_at from jsonb_populate_recordset(null::worked_cue, %(rows)s)
