-- aches: Every word on a joint, from sessions and from tests stopped for pain, by the coach's own day.
select joint, level, (at at time zone %(time_zone)s)::date as day, sharp from (
    select joint, level, sharp, at from ache where trainee_id = %(trainee)s and struck_at is null
    union all
    select pain_joint, pain_level, false, ended_at from test_run where trainee_id = %(trainee)s and pain_level is not null
) as told order by at

-- intakes: Every intake as it was written, in the order they came.
select (at at time zone %(time_zone)s)::date as day, profile from intake where trainee_id = %(trainee)s order by arrived

-- changes: Changes of goals and schools, and new syllabi since the trainee came, oldest first.
select (at at time zone %(time_zone)s)::date as day, kind, what, was, now from (
    select at, kind, what, was, now from course_change where trainee_id = %(trainee)s
    union all
    select at, 'syllabus', note, '', '' from syllabus_version where at >= (select created_at from trainee where id = %(trainee)s)
) as changed order by at, kind, what

-- silenced: What has been silenced, of everybody or of one.
select trainee_id as trainee, turn from turn_silenced
where silenced and (%(trainee)s::uuid is null or trainee_id = %(trainee)s)

-- silence: Silence a turn, or hear of it again; the newest word stands.
insert into turn_silenced (hall_id, trainee_id, turn, silenced, at)
values (current_hall(), %(trainee)s, %(turn)s, %(silenced)s, %(at)s)
on conflict (hall_id, trainee_id, turn) do update set silenced = excluded.silenced, at = excluded.at
where turn_silenced.at <= excluded.at

-- kept_days: Of everybody, or of one, the days planned from one to another, by the newest plan of each week, and the days on which anything was recorded.
select trainee.id as trainee,
    coalesce((select array_agg(day order by day) from (
        select distinct on (week) days from plan where plan.hall_id = trainee.hall_id and plan.trainee_id = trainee.id
            and week between %(first)s::date - 6 and %(last)s::date order by week, arrived desc) as newest, unnest(newest.days) as day
        where day between %(first)s and %(last)s), '{}') as planned,
    coalesce((select array_agg(distinct (at at time zone %(time_zone)s)::date) from evidence
        where evidence.hall_id = trainee.hall_id and evidence.trainee_id = trainee.id and evidence.struck_at is null
            and at >= %(first)s::date::timestamp at time zone %(time_zone)s
            and at < (%(last)s::date + 1)::timestamp at time zone %(time_zone)s), '{}') as done
from trainee where trainee.struck_at is null and (%(trainee)s::uuid is null or trainee.id = %(trainee)s)

-- add_report: Keep a wording of a report; the same id again changes nothing.
insert into report (hall_id, id, trainee_id, month, at, made, words)
values (current_hall(), %(id)s, %(trainee)s, %(month)s, %(at)s, %(made)s, %(words)s)
on conflict (hall_id, id) do nothing

-- report: One wording of a report.
select id, trainee_id as trainee, month, at, made, words from report where id = %(id)s

-- newest_report: The newest wording of a trainee's report of a month.
select id, trainee_id as trainee, month, at, made, words from report
where trainee_id = %(trainee)s and month = %(month)s order by arrived desc limit 1

-- reports_of: The newest wording of everybody's report of a month, by name.
select report.id, report.trainee_id as trainee, report.month, report.at, report.made, report.words
from (select distinct on (trainee_id) * from report where month = %(month)s order by trainee_id, arrived desc) as report
join trainee on trainee.hall_id = report.hall_id and trainee.id = report.trainee_id
where trainee.struck_at is null order by lower(trainee.name)
