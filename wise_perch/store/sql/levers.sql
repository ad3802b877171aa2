-- keep_setting: Keep the dial settings chosen for a drill; the same id again changes nothing.
insert into dial_setting (coach_id, id, trainee_id, drill, settings, at)
values (current_coach(), %(id)s, %(trainee)s, %(drill)s, %(settings)s, %(at)s)
on conflict (coach_id, id) do nothing

-- setting: One choice of settings.
select trainee_id as trainee, drill, settings from dial_setting where id = %(id)s

-- settings: The newest choice of every drill of a trainee.
select distinct on (drill) drill, settings, at from dial_setting
where trainee_id = %(trainee)s order by drill, at desc, id desc

-- unloaded: Work of a trainee (or of one run, or one piece) whose hand-load was never worked out, or from something else than now, oldest first.
select evidence.id, coalesce(evidence.drill, nullif(test_run.subject, ''), '') as drill, coalesce(test_run.test, '') as test,
    evidence.measure, evidence.value, evidence.window_s, evidence.level,
    case when evidence.test_run_id is null then evidence.dial else test_run.dial end as dial
from evidence
left join test_run on test_run.coach_id = evidence.coach_id and test_run.id = evidence.test_run_id
left join hand_load on hand_load.coach_id = evidence.coach_id and hand_load.evidence_id = evidence.id
where evidence.trainee_id = %(trainee)s and (%(run)s::uuid is null or evidence.test_run_id = %(run)s)
    and (%(piece)s::uuid is null or evidence.id = %(piece)s) and evidence.struck_at is null and evidence.value is not null
    and hand_load.made_from is distinct from %(made_from)s
order by evidence.at

-- keep_loads: Keep what pieces of work put on the hands, all in one statement; what was worked out before is replaced.
insert into hand_load (coach_id, evidence_id, trainee_id, share, seconds, because, made_from)
select current_coach(), id, %(trainee)s, share, seconds, because, %(made_from)s
from unnest(%(ids)s::uuid[], %(shares)s::double precision[], %(seconds)s::double precision[], %(becauses)s::text[])
    as came (id, share, seconds, because)
on conflict (coach_id, evidence_id) do update
set share = excluded.share, seconds = excluded.seconds, because = excluded.because, made_from = excluded.made_from

-- loads: The hand-load of these pieces of work, where it is known.
select evidence_id as id, share, seconds, because from hand_load where evidence_id = any(%(ids)s) and seconds is not null
