-- old: The trainees whose kept brief is missing or no longer true, and what of it can still be used.
select trainee.id as trainee, trainee.name, trainee.evidence_version,
    case when brief.evidence_version = trainee.evidence_version and brief.syllabus = %(syllabus)s then brief.marks end as marks,
    case when brief.evidence_version = trainee.evidence_version and brief.syllabus = %(syllabus)s then brief.tests end as tests
from trainee left join trainee_brief as brief on brief.coach_id = trainee.coach_id and brief.trainee_id = trainee.id
where trainee.struck_at is null
    and (brief.trainee_id is null or brief.evidence_version <> trainee.evidence_version or brief.syllabus <> %(syllabus)s
        or brief.day <> %(day)s or brief.rest_s <> %(rest_s)s)

-- keep: Keep a brief, unless a newer one is there.
insert into trainee_brief (coach_id, trainee_id, evidence_version, syllabus, day, rest_s, urgency, marks, tests, today)
values (current_coach(), %(trainee)s, %(evidence_version)s, %(syllabus)s, %(day)s, %(rest_s)s, %(urgency)s, %(marks)s, %(tests)s, %(today)s)
on conflict (coach_id, trainee_id) do update
set evidence_version = excluded.evidence_version, syllabus = excluded.syllabus, day = excluded.day, rest_s = excluded.rest_s,
    urgency = excluded.urgency, marks = excluded.marks, tests = excluded.tests, today = excluded.today
where trainee_brief.evidence_version <= excluded.evidence_version

-- keep_day: Keep only the judgement of another day; what it was made from stays as it is.
update trainee_brief set day = %(day)s, rest_s = %(rest_s)s, urgency = %(urgency)s, today = %(today)s
where trainee_id = %(trainee)s and evidence_version = %(evidence_version)s and syllabus = %(syllabus)s

-- today: Every trainee's brief as one JSON text, the most pressing first.
select coalesce(json_agg(json_build_object('id', trainee.id, 'name', trainee.name, 'brief', brief.today)
        order by brief.urgency, lower(trainee.name))::text, '[]')
from trainee join trainee_brief as brief on brief.coach_id = trainee.coach_id and brief.trainee_id = trainee.id
where trainee.struck_at is null
