-- old: The trainees whose kept brief is missing or no longer true, by name.
select trainee.id as trainee, trainee.evidence_version
from trainee left join trainee_brief as brief on brief.hall_id = trainee.hall_id and brief.coach_id = current_coach()
    and brief.trainee_id = trainee.id
where trainee.struck_at is null
    and (brief.trainee_id is null or brief.evidence_version <> trainee.evidence_version or brief.syllabus <> %(syllabus)s
        or brief.day <> %(day)s or brief.rest_s <> %(rest_s)s)
order by lower(trainee.name) limit %(most)s

-- wait_most: Wait for a lock at most so long, until the transaction ends.
select set_config('lock_timeout', %(ms)s, true)

-- hold: Let one maker of briefs work for this coach after the other, until the transaction ends.
select pg_advisory_xact_lock(hashtextextended('today ' || current_hall()::text || current_coach()::text, 0))

-- keep: Keep a brief, unless a newer one is there.
insert into trainee_brief (hall_id, coach_id, trainee_id, evidence_version, syllabus, day, rest_s, urgency, today)
values (current_hall(), current_coach(), %(trainee)s, %(evidence_version)s, %(syllabus)s, %(day)s, %(rest_s)s, %(urgency)s, %(today)s)
on conflict (hall_id, coach_id, trainee_id) do update
set evidence_version = excluded.evidence_version, syllabus = excluded.syllabus, day = excluded.day, rest_s = excluded.rest_s,
    urgency = excluded.urgency, today = excluded.today
where trainee_brief.evidence_version <= excluded.evidence_version

-- today: Every trainee with what is true of them as one JSON text, the most pressing first; of whom nothing is ready stand last. The judgements are
-- JSON already and are put together as they are: the database's own way of nesting JSON takes twice as long.
select '[' || coalesce(string_agg('{"id":"' || trainee.id || '","name":' || to_json(trainee.name) || ',"brief":'
        || coalesce(brief.today::text, 'null') || '}', ',' order by brief.urgency nulls last, lower(trainee.name)), '') || ']'
from trainee left join trainee_brief as brief on brief.hall_id = trainee.hall_id and brief.coach_id = current_coach()
    and brief.trainee_id = trainee.id and brief.evidence_version = trainee.evidence_version and brief.syllabus = %(syllabus)s and brief.day = %(day)s
    and brief.rest_s = %(rest_s)s
where trainee.struck_at is null
