-- house: The coach the transaction acts as, the hall it acts in, the text of the syllabus in use (empty for ours), and the kit.
select coach.id, coach.name, email, rest_s, schools, sounds, volume, vibration, voice, units, dates, decimal, told,
    json_build_object('id', hall.id, 'name', hall.name, 'time_zone', time_zone, 'float_switch_s', float_switch_s) as hall,
    coalesce((select text from syllabus_version where syllabus_version.hall_id = hall.id order by arrived desc limit 1), '')
        as text,
    coalesce((select json_agg(json_build_object('kind', kind, 'thickness_cm', thickness_cm, 'count', count)
        order by kind, thickness_cm desc, kit_item.id) from kit_item where kit_item.hall_id = hall.id and kit_item.struck_at is null), '[]') as kit
from coach join hall on hall.id = current_hall() where coach.id = current_coach()

-- arrangements: What is known of these trainees beside evidence: who they are, schools, goals in their order, waivers that stand, the
-- newest intake, the settings last chosen for each drill, the newest word on each joint, from sessions and from tests stopped for pain, and
-- of each drill the cue that worked last.
select trainee.id, trainee.name, trainee.stepping_side, trainee.note, trainee.schools,
    coalesce((select json_agg(goal order by rank, goal) from trainee_goal as chosen
        where chosen.hall_id = trainee.hall_id and chosen.trainee_id = trainee.id and chosen.struck_at is null), '[]') as goals,
    coalesce((select json_agg(json_build_object('id', id, 'drill', drill, 'reason', reason, 'day', (at at time zone %(time_zone)s)::date))
        from waiver where waiver.hall_id = trainee.hall_id and waiver.trainee_id = trainee.id and waiver.struck_at is null), '[]') as waivers,
    (select profile from intake where intake.hall_id = trainee.hall_id and intake.trainee_id = trainee.id
        order by arrived desc limit 1) as profile,
    coalesce((select json_object_agg(newest.drill, json_build_object('settings', newest.settings, 'day', newest.day)) from (
        select distinct on (drill) drill, settings, (at at time zone %(time_zone)s)::date as day from dial_setting
        where dial_setting.hall_id = trainee.hall_id and dial_setting.trainee_id = trainee.id
        order by drill, arrived desc) as newest), '{}') as chosen,
    coalesce((select json_agg(json_build_object('joint', joint, 'level', level, 'sharp', sharp, 'day', day)) from (
        select distinct on (joint) joint, level, sharp, (at at time zone %(time_zone)s)::date as day from (
            select joint, level, sharp, at from ache
            where ache.hall_id = trainee.hall_id and ache.trainee_id = trainee.id and struck_at is null
            union all
            select pain_joint, pain_level, false, ended_at from test_run
            where test_run.hall_id = trainee.hall_id and test_run.trainee_id = trainee.id and pain_level is not null
        ) as told order by joint, at desc, level desc) as newest), '[]') as aches,
    coalesce((select json_object_agg(best.drill, best.off_deg) from (
        select drill, min(off_deg) as off_deg from kept_line
        where kept_line.hall_id = trainee.hall_id and kept_line.trainee_id = trainee.id and kept_line.struck_at is null and off_deg is not null
        group by drill) as best), '{}') as lines,
    coalesce((select json_object_agg(newest.drill, newest.cue) from (
        select distinct on (drill) drill, cue from worked_cue
        where worked_cue.hall_id = trainee.hall_id and worked_cue.trainee_id = trainee.id and worked_cue.struck_at is null
        order by drill, at desc, id desc) as newest), '{}') as cues
from trainee where trainee.id = any(%(trainees)s) and trainee.struck_at is null

-- sets: Every set of these trainees that counts, on the coach's own calendar.
select trainee_id as trainee, drill, (at at time zone %(time_zone)s)::date as day, measure, value, asked, n, form, side, mode, window_s,
    confidence, nullif(dial::text, '{}'), reason, source
from evidence
where trainee_id = any(%(trainees)s) and drill is not null and struck_at is null

-- sets_of_days: Those from one day on, or from before another.
select trainee_id as trainee, drill, (at at time zone %(time_zone)s)::date as day, measure, value, asked, n, form, side, mode, window_s,
    confidence, nullif(dial::text, '{}'), reason, source
from evidence
where trainee_id = any(%(trainees)s) and drill is not null and struck_at is null
    and at >= coalesce(%(since)s::date::timestamp at time zone %(time_zone)s, '-infinity')
    and at < coalesce(%(before)s::date::timestamp at time zone %(time_zone)s, 'infinity')

-- sets_of_drills: Those of some drills, from one day on, or from before another.
select trainee_id as trainee, drill, (at at time zone %(time_zone)s)::date as day, measure, value, asked, n, form, side, mode, window_s,
    confidence, nullif(dial::text, '{}'), reason, source
from evidence
where trainee_id = any(%(trainees)s) and drill is not null and struck_at is null
    and drill = any(%(drills)s)
    and at >= coalesce(%(since)s::date::timestamp at time zone %(time_zone)s, '-infinity')
    and at < coalesce(%(before)s::date::timestamp at time zone %(time_zone)s, 'infinity')

-- ended_tries: Every try that counts in the ended runs of these trainees, with its run's day on the coach's own calendar.
select run.trainee_id as trainee, run.id as run, run.test, run.subject, run.dial, run.confidence,
    (run.started_at at time zone %(time_zone)s)::date as day, made.try_number as number, made.outcome, made.value, coalesce(made.mode, '') as mode,
    made.level, made.side, made.fell, made.form
from test_run as run join evidence as made on made.hall_id = run.hall_id and made.test_run_id = run.id
where run.trainee_id = any(%(trainees)s) and run.ended_at is not null and made.struck_at is null
    and run.started_at >= coalesce(%(since)s::date::timestamp at time zone %(time_zone)s, '-infinity')
order by run.started_at, run.id, made.try_number

-- open_runs: The newest open run of each of these trainees, with how many tries it has.
select distinct on (run.trainee_id) run.trainee_id as trainee, run.id as run, run.test, (run.started_at at time zone %(time_zone)s)::date as day,
    (select count(*) from evidence where evidence.hall_id = run.hall_id and test_run_id = run.id and struck_at is null) as tries
from test_run as run
where run.trainee_id = any(%(trainees)s) and run.ended_at is null
order by run.trainee_id, run.started_at desc

-- days_done: The days from one on, in order, on which anything was recorded of these trainees.
select trainee_id as trainee, array_agg(distinct (at at time zone %(time_zone)s)::date order by (at at time zone %(time_zone)s)::date) as days
from evidence
where trainee_id = any(%(trainees)s) and struck_at is null and at >= %(since)s::date::timestamp at time zone %(time_zone)s
group by trainee_id
