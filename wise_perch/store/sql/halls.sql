-- add: Add the hall that the transaction acts in.
insert into hall (id, name, time_zone) values (current_hall(), %(name)s, %(time_zone)s)

-- one: The hall that the transaction acts in.
select id, name, time_zone, float_switch_s from hall where id = current_hall()

-- change: Change what is given, keep what is not.
update hall set name = coalesce(%(name)s, name), time_zone = coalesce(%(time_zone)s, time_zone),
    float_switch_s = coalesce(%(float_switch_s)s, float_switch_s)
where id = current_hall()

-- of_coach: The halls of the coach that the transaction acts as.
select id, name, role from halls_of_coach()

-- so_far: What the hall has of a first evening, and what of it was put off.
select exists (select from kit_item where struck_at is null) as kit,
    (select id from trainee where struck_at is null and not sample order by created_at, id limit 1) as trainee,
    exists (select from intake join trainee on trainee.hall_id = intake.hall_id and trainee.id = intake.trainee_id where not sample) as intake,
    exists (select from test_run join trainee on trainee.hall_id = test_run.hall_id and trainee.id = test_run.trainee_id
        where ended_at is not null and not sample) as tested,
    exists (select from plan join trainee on trainee.hall_id = plan.hall_id and trainee.id = plan.trainee_id where not sample) as planned,
    (select first_evening from hall where id = current_hall()) as put_off

-- put_off: Put a step of the first evening off, or take it up again.
update hall set first_evening = case when %(off)s then array(select distinct unnest(first_evening || %(step)s::text))
    else array_remove(first_evening, %(step)s::text) end
where id = current_hall()

-- people: Who is in this hall or was; who is here first, owners before the others.
select id, name, email, role, since, left_at from people_of_hall()
order by left_at is not null, array_position(array['owner', 'coach', 'assistant'], role), lower(name), id

-- hold: Let one change of the hall's people after the other, until the transaction ends.
select coach_id, role from membership where hall_id = current_hall() and left_at is null order by coach_id for update

-- join: Let somebody in as something, or in again who had left.
insert into membership (hall_id, coach_id, role) values (current_hall(), %(coach)s, %(role)s)
on conflict (hall_id, coach_id) do update set role = excluded.role, since = now(), left_at = null where membership.left_at is not null

-- set_role: Make somebody in the hall something else.
update membership set role = %(role)s where hall_id = current_hall() and coach_id = %(coach)s and left_at is null and role <> %(role)s

-- leave: Take somebody out of the hall.
update membership set left_at = %(moment)s where hall_id = current_hall() and coach_id = %(coach)s and left_at is null

-- elsewhere: Is this coach in another hall too?
select is_elsewhere(%(coach)s)

-- add_link: Keep a link that works once; the same id again changes nothing.
insert into one_time_link (id, kind, hall_id, role, coach_id, name, token_hash, expires_at)
values (%(id)s, %(kind)s, current_hall(), %(role)s, %(coach)s, %(name)s, %(token_hash)s, %(expires_at)s)
on conflict (id) do nothing

-- invitations: The invitations that still work, the newest first.
select link.id, link.role, link.name, coalesce(people.name, '') as by, link.created_at, link.expires_at
from one_time_link as link left join people_of_hall() as people on people.id = link.author_id
where link.kind = 'invitation' and link.used_at is null and link.revoked_at is null and link.expires_at > %(moment)s
order by link.created_at desc, link.id

-- revoke_link: Take an invitation back; taken back before stays as it was.
update one_time_link set revoked_at = coalesce(revoked_at, %(moment)s) where id = %(id)s and kind = 'invitation'

-- end_links_of: What was made for somebody who leaves, or by them, opens nothing any more.
update one_time_link set revoked_at = coalesce(revoked_at, %(moment)s)
where used_at is null and (coach_id = %(coach)s or author_id = %(coach)s)

-- of_token: What a link that works once opens.
select id, kind, hall_id as hall, hall as hall_name, role, coach_id as coach, coalesce(email, '') as email, invited_by
from one_time_link_of_token(%(token_hash)s, %(moment)s)

-- take_link: Use a link up; false where somebody was before.
select take_one_time_link(%(id)s, %(moment)s, %(coach)s)

-- tell: Keep what happened among the hall's people.
insert into hall_event (hall_id, kind, about, what) values (current_hall(), %(kind)s, %(about)s, %(what)s)

-- deeds: What was done in the hall within some days and by whom, the newest first; of everybody or of one member.
select done.at, coalesce(people.name, '') as by, done.kind, done.what, done.n, done.trainee_id as trainee, coalesce(trainee.name, about.name, '') as name
from (
    select at, author_id, kind, what, 0 as n, null::uuid as trainee_id, about
        from hall_event where at >= %(since)s and at < %(before)s
    union all
    select started_at, author_id, 'run', test, 0, trainee_id, null
        from test_run where source in ('live', 'after', 'film') and started_at >= %(since)s and started_at < %(before)s
    union all
    -- what was told on the own page was told by the trainee
    select started_at, case when source <> 'self' then author_id end, 'session', source, 0, trainee_id, null
        from floor_session where source <> 'demo' and started_at >= %(since)s and started_at < %(before)s
    union all
    select max(evidence.at), evidence.author_id, 'sets', '', count(*)::int, evidence.trainee_id, null
        from trainee as whose join evidence on evidence.trainee_id = whose.id and evidence.hall_id = whose.hall_id
        where drill is not null and session_id is null and evidence.struck_at is null and source in ('live', 'after')
            and at >= %(since)s and at < %(before)s
        group by evidence.author_id, evidence.trainee_id, (at at time zone %(time_zone)s)::date
    union all
    select at, author_id, 'plan', to_char(week, 'YYYY-MM-DD'), 0, trainee_id, null from plan where at >= %(since)s and at < %(before)s
    union all
    select at, author_id, 'intake', '', 0, trainee_id, null from intake where at >= %(since)s and at < %(before)s
    union all
    select at, author_id, 'waiver', drill, 0, trainee_id, null from waiver where at >= %(since)s and at < %(before)s
    union all
    select at, author_id, 'report', to_char(month, 'YYYY-MM-DD'), 0, trainee_id, null from report where at >= %(since)s and at < %(before)s
    union all
    select at, author_id, 'line', drill, 0, trainee_id, null from kept_line where at >= %(since)s and at < %(before)s
    union all
    select at, author_id, 'syllabus', note, 0, null, null from syllabus_version where at >= %(since)s and at < %(before)s
    union all
    select created_at, author_id, 'trainee', '', 0, id, null from trainee where created_at >= %(since)s and created_at < %(before)s
    union all
    select at, author_id, 'erased', '', 0, null, null from erasure where at >= %(since)s and at < %(before)s
) as done
left join people_of_hall() as people on people.id = done.author_id
left join people_of_hall() as about on about.id = done.about
left join trainee on trainee.id = done.trainee_id
where %(by)s::uuid is null or done.author_id = %(by)s
order by done.at desc, done.kind, done.trainee_id limit %(most)s
