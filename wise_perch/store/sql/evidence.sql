-- start_run: Start a run; the same id again changes nothing.
insert into test_run (hall_id, id, trainee_id, test, subject, started_at, rest_s, room, source, dial, sheet, test_day_id)
values (current_hall(), %(id)s, %(trainee)s, %(test)s, %(subject)s, %(started_at)s, %(rest_s)s, %(room)s, %(source)s, %(dial)s, %(sheet)s, %(test_day)s)
on conflict (hall_id, id) do nothing

-- end_run: End a run that is open.
update test_run
set ended_at = %(ended_at)s, ended_as = %(ended_as)s, pain_joint = %(pain_joint)s, pain_level = %(pain_level)s, confidence = %(confidence)s
where id = %(run)s and ended_at is null

-- run: One run, without its tries.
select id, trainee_id as trainee, test, subject, started_at, ended_at, ended_as, rest_s, room, source, dial, confidence, test_day_id as test_day,
    pain_joint, pain_level
from test_run where id = %(run)s

-- runs: The newest runs of a trainee, without their tries.
select id, trainee_id as trainee, test, subject, started_at, ended_at, ended_as, rest_s, room, source, dial, confidence, test_day_id as test_day,
    pain_joint, pain_level
from test_run where trainee_id = %(trainee)s
order by started_at desc limit %(most)s

-- runs_of_test: The newest runs of one test by a trainee, without their tries.
select id, trainee_id as trainee, test, subject, started_at, ended_at, ended_as, rest_s, room, source, dial, confidence, test_day_id as test_day,
    pain_joint, pain_level
from test_run where trainee_id = %(trainee)s and test = %(test)s and subject = %(subject)s
order by started_at desc limit %(most)s

-- day_runs: Every run of a test day, without its tries.
select id, trainee_id as trainee, test, subject, started_at, ended_at, ended_as, rest_s, room, source, dial, confidence, test_day_id as test_day,
    pain_joint, pain_level
from test_run where test_day_id = %(test_day)s order by started_at

-- sheet: What a run follows.
select sheet from test_run where id = %(run)s

-- last_rest: The rest that was chosen for a test the last time, whoever was tested.
select rest_s from test_run where test = %(test)s and source = 'live' order by started_at desc limit 1

-- tries: Every try of these runs, struck-out ones too.
select test_run_id as run, id, try_number as number, at, outcome, value, coalesce(mode, '') as mode, level, side, fell, form,
    note, early, replaces, struck_at
from evidence where test_run_id = any(%(runs)s) and test_run_id is not null order by try_number, at

-- add_try: Keep a try of an open run; the same id again changes nothing.
insert into evidence (hall_id, id, trainee_id, test_run_id, try_number, at, outcome, fell, measure, value, unit, mode, window_s, level, side, form, room,
    source, early, note)
select current_hall(), %(id)s, trainee_id, id, %(number)s, %(at)s, %(outcome)s, %(fell)s, %(measure)s, %(value)s, %(unit)s, %(mode)s, %(window_s)s,
    %(level)s, %(side)s, %(form)s, room, source, %(early)s, %(note)s
from test_run where id = %(run)s and test = %(test)s and ended_at is null
on conflict (hall_id, id) do nothing

-- correct_try: Keep a try in place of another that was struck out, whether its run is open or closed.
insert into evidence (hall_id, id, trainee_id, test_run_id, try_number, at, outcome, fell, measure, value, unit, mode, window_s, level, side, form, room,
    source, early, note, replaces)
select current_hall(), %(id)s, trainee_id, test_run_id, try_number, at, %(outcome)s, %(fell)s, %(measure)s, %(value)s, %(unit)s, %(mode)s, %(window_s)s,
    %(level)s, %(side)s, %(form)s, room, source, early, %(note)s, id
from evidence where id = %(replaces)s and test_run_id = %(run)s
on conflict (hall_id, id) do nothing

-- strike_try: Strike out a try of a run that counts.
update evidence set struck_at = %(moment)s where id = %(id)s and test_run_id = %(run)s and struck_at is null

-- try_by_id: One try and the run it belongs to.
select test_run_id as run, id, try_number as number, at, outcome, value, coalesce(mode, '') as mode, level, side, fell, form, note, early, replaces,
    struck_at
from evidence where id = %(id)s

-- author: Who recorded a piece of evidence.
select author_id from evidence where id = %(id)s

-- strike: Strike out a piece of evidence; struck out before stays as it was.
update evidence set struck_at = coalesce(struck_at, %(moment)s) where id = %(id)s

-- restore: Bring back a piece of evidence that was struck out.
update evidence set struck_at = null where id = %(id)s

-- set_by_id: One set and whose it is.
select trainee_id as trainee, id, drill, at, measure, value, asked, n, mode, window_s, form, side, confidence, dial, reason, source, note, struck_at
from evidence where id = %(id)s and drill is not null

-- sets: The newest sets of one drill of a trainee, struck-out ones too.
select id, drill, at, measure, value, asked, n, mode, window_s, form, side, confidence, dial, reason, source, note, struck_at
from evidence where trainee_id = %(trainee)s and drill = %(drill)s order by at desc limit %(most)s

-- every_try: Every try of an ended run that counts, of all trainees or one, in the order they were made: what an export writes.
select trainee.name as trainee, run.test, run.subject as drill, run.dial, run.confidence, run.started_at, made.try_number as number, made.outcome,
    made.value, coalesce(made.mode, '') as mode, made.level, made.side, made.fell, made.form, made.note
from test_run as run
join trainee on trainee.hall_id = run.hall_id and trainee.id = run.trainee_id
join evidence as made on made.hall_id = run.hall_id and made.test_run_id = run.id
where made.struck_at is null and trainee.struck_at is null and run.ended_at is not null and (%(trainee)s::uuid is null or trainee.id = %(trainee)s)
    and (%(test)s::text is null or run.test = %(test)s)
order by lower(trainee.name), run.started_at, run.id, made.try_number

-- runs_at: The runs of these trainees that started at these moments.
select run.id, run.trainee_id as trainee, run.test, run.subject, run.started_at, run.ended_at is not null as ended
from test_run as run
join unnest(%(trainees)s::uuid[], %(tests)s::text[], %(subjects)s::text[], %(moments)s::timestamptz[])
    as wanted (trainee_id, test, subject, started_at)
    on run.trainee_id = wanted.trainee_id and run.started_at = wanted.started_at and run.test = wanted.test and run.subject = wanted.subject

-- import_runs: Keep ended runs that came in a file, all in one statement.
insert into test_run (hall_id, id, trainee_id, test, subject, started_at, ended_at, ended_as, rest_s, source, dial, confidence)
select current_hall(), id, trainee_id, test, subject, started_at, started_at, 'finished', rest_s, 'import', dial::jsonb, confidence
from unnest(%(ids)s::uuid[], %(trainees)s::uuid[], %(tests)s::text[], %(subjects)s::text[], %(moments)s::timestamptz[], %(rests)s::integer[],
    %(dials)s::text[], %(confidences)s::integer[])
    as came (id, trainee_id, test, subject, started_at, rest_s, dial, confidence)

-- import_tries: Keep tries that came in a file, all in one statement.
insert into evidence (hall_id, id, trainee_id, test_run_id, try_number, at, outcome, fell, measure, value, unit, mode, window_s, level, side, form,
    source, note)
select current_hall(), came.id, trainee_id, run_id, number, at, outcome, fell, measure, value, unit, mode, window_s, level, side, form, 'import', note
from unnest(%(ids)s::uuid[], %(trainees)s::uuid[], %(runs)s::uuid[], %(numbers)s::integer[], %(moments)s::timestamptz[], %(outcomes)s::text[],
    %(fells)s::text[], %(measures)s::text[], %(values)s::double precision[], %(units)s::text[], %(modes)s::text[], %(windows)s::double precision[],
    %(levels)s::double precision[], %(sides)s::text[], %(forms)s::text[], %(notes)s::text[])
    as came (id, trainee_id, run_id, number, at, outcome, fell, measure, value, unit, mode, window_s, level, side, form, note)

-- every_set: Every set that counts, of all trainees or one, on the coach's own calendar: what an export writes.
select trainee.name as trainee, (at at time zone %(time_zone)s)::date as day, drill, measure, value, asked, n, mode, window_s, dial, form,
    side, confidence, reason, source, evidence.note
from evidence join trainee on trainee.hall_id = evidence.hall_id and trainee.id = evidence.trainee_id
where drill is not null and evidence.struck_at is null and trainee.struck_at is null
    and (%(trainee)s::uuid is null or trainee.id = %(trainee)s)
order by lower(trainee.name), at, drill, evidence.id

-- told_of_tests: What files of evidence said of tests, of these trainees, and still counts.
select trainee_id as trainee, id, drill, (at at time zone %(time_zone)s)::date as day, measure, value, asked, n, form, side, mode, window_s,
    confidence, nullif(dial::text, '{}'), reason, source
from evidence
where trainee_id = any(%(trainees)s) and drill is not null and source = 'test' and struck_at is null

-- drop: Take out pieces that something else says by now.
update evidence set struck_at = %(moment)s, gone = true where id = any(%(ids)s) and struck_at is null

-- keep_sets: Keep recorded sets, all in one statement; the same id again changes nothing.
insert into evidence (hall_id, id, trainee_id, drill, at, measure, value, asked, n, unit, mode, window_s, form, side, confidence, dial, reason, source, note)
select current_hall(), id, trainee_id, drill, at, measure, value, asked, n, unit, mode, window_s, form, side, confidence, dial::jsonb, reason, source, note
from unnest(%(ids)s::uuid[], %(trainees)s::uuid[], %(drills)s::text[], %(moments)s::timestamptz[], %(measures)s::text[],
    %(values)s::double precision[], %(askeds)s::double precision[], %(ns)s::integer[], %(units)s::text[], %(modes)s::text[], %(windows)s::double precision[], %(forms)s::text[],
    %(sides)s::text[], %(confidences)s::integer[], %(dials)s::text[], %(reasons)s::text[], %(sources)s::text[], %(notes)s::text[])
    as came (id, trainee_id, drill, at, measure, value, asked, n, unit, mode, window_s, form, side, confidence, dial, reason, source, note)
on conflict (hall_id, id) do nothing

-- hold_imports: Let one import of this coach after the other, until the transaction ends.
select pg_advisory_xact_lock(hashtextextended('import ' || current_hall()::text, 0))
