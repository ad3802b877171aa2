-- A hall holds the data, and coaches are its members. What was one coach's becomes a hall's of the same id, with that coach as its owner, and
-- every row says who wrote it.

create table hall (
    id uuid primary key,
    name text not null,
    -- what a day is, and from when on a float counts touches, is one for everybody in the hall
    time_zone text not null default 'UTC',
    float_switch_s double precision not null default 5 constraint hall_float_switch_within_reason check (float_switch_s between 3 and 5),
    created_at timestamptz not null default now()
);

create table membership (
    hall_id uuid not null references hall (id) on delete cascade,
    coach_id uuid not null references coach (id) on delete cascade,
    role text not null constraint membership_role check (role in ('owner', 'coach', 'assistant')),
    since timestamptz not null default now(),
    left_at timestamptz,
    primary key (hall_id, coach_id)
);
create index membership_by_coach on membership (coach_id) where left_at is null;

insert into hall (id, name, time_zone, float_switch_s, created_at)
select id, left(name, 190) || '''s hall', time_zone, float_switch_s, created_at from coach;
insert into membership (hall_id, coach_id, role, since) select id, id, 'owner', created_at from coach;

create function current_hall() returns uuid
    language sql stable
    return nullif(current_setting('perch.hall_id', true), '')::uuid;

-- whose data it was: the column's name says hall now, its values are the same; the author stands beside it. An author is whoever the transaction
-- acts as, and coaches are never deleted, so that no foreign key has to be asked for every try of a large import
do $$
declare
    one text;
begin
    foreach one in array array['trainee', 'test_run', 'evidence', 'trainee_brief', 'trainee_goal', 'waiver', 'intake', 'syllabus_version',
        'kit_item', 'test_day', 'dial_setting', 'plan', 'floor_session', 'session_event', 'ache', 'share_link', 'worked_cue', 'job', 'erasure',
        'trainee_known', 'habit_day', 'line_seen', 'course_change', 'turn_silenced', 'report', 'kept_line']
    loop
        execute format('alter table %I rename column coach_id to hall_id', one);
        execute format('alter policy own_rows on %I using (hall_id = (select current_hall()))', one);
    end loop;
    foreach one in array array['trainee', 'syllabus_version', 'kit_item', 'test_day', 'job', 'erasure']
    loop
        execute format('alter table %I drop constraint %I', one, one || '_coach_id_fkey');
        execute format('alter table %I add foreign key (hall_id) references hall (id) on delete cascade', one);
    end loop;
    foreach one in array array['trainee', 'test_run', 'evidence', 'trainee_goal', 'waiver', 'intake', 'syllabus_version', 'kit_item', 'test_day',
        'dial_setting', 'plan', 'floor_session', 'session_event', 'ache', 'share_link', 'worked_cue', 'job', 'erasure', 'line_seen',
        'course_change', 'turn_silenced', 'report', 'kept_line']
    loop
        execute format('alter table %I add column author_id uuid', one);
        execute format('alter table %I alter column author_id set default current_coach()', one);
        execute format('alter table %I disable trigger user', one);
        execute format('update %I set author_id = hall_id', one);
        execute format('alter table %I enable trigger user', one);
    end loop;
end
$$;

-- every coach has a Today of their own, by their own schools and rest
truncate trainee_brief;
alter table trainee_brief add column coach_id uuid not null references coach (id) on delete cascade;
alter table trainee_brief drop constraint trainee_brief_pkey;
alter table trainee_brief add primary key (hall_id, coach_id, trainee_id);

-- what the triggers say, by the column's new name
create or replace function evidence_changed() returns trigger language plpgsql as $$
begin
    update trainee
    set evidence_version = evidence_version + 1
    from (select distinct hall_id, trainee_id from changed) as touched
    where trainee.hall_id = touched.hall_id and trainee.id = touched.trainee_id;
    return null;
end
$$;
create or replace function pieces_changed() returns trigger language plpgsql as $$
begin
    update trainee
    set evidence_version = evidence_version + 1,
        changed = case
            when touched.drills is null or trainee.changed @> touched.drills then trainee.changed
            else array(select distinct unnest(trainee.changed || touched.drills))
        end
    from (
        select hall_id, trainee_id, array_agg(distinct coalesce(drill, '')) filter (where drill is not null
            or exists (select from test_run where test_run.hall_id = changed.hall_id and test_run.id = changed.test_run_id
                and test_run.ended_at is not null)) as drills
        from changed group by hall_id, trainee_id
    ) as touched
    where trainee.hall_id = touched.hall_id and trainee.id = touched.trainee_id;
    return null;
end
$$;
create or replace function runs_changed() returns trigger language plpgsql as $$
begin
    update trainee
    set evidence_version = evidence_version + 1,
        changed = case when '' = any(trainee.changed) then trainee.changed else trainee.changed || ''::text end
    from (select distinct hall_id, trainee_id from changed where ended_at is not null) as touched
    where trainee.hall_id = touched.hall_id and trainee.id = touched.trainee_id;
    return null;
end
$$;
create or replace function goal_course_changed() returns trigger language plpgsql as $$
declare
    kind text;
    moment timestamptz := now();
begin
    if tg_op = 'INSERT' then
        kind := 'goal-chosen';
        moment := new.since;
    elsif old.struck_at is null and new.struck_at is not null then
        kind := 'goal-dropped';
        moment := new.struck_at;
    elsif old.struck_at is not null and new.struck_at is null then
        kind := 'goal-chosen';
    elsif new.rank = 1 and old.rank <> 1 then
        kind := 'goal-first';
    else
        return null;
    end if;
    insert into course_change (hall_id, trainee_id, at, kind, what) values (new.hall_id, new.trainee_id, moment, kind, new.goal)
    on conflict do nothing;
    return null;
end
$$;
create or replace function school_course_changed() returns trigger language plpgsql as $$
begin
    insert into course_change (hall_id, trainee_id, at, kind, what, was, now)
    select new.hall_id, new.id, now(), 'school', question, coalesce(old.schools ->> question, ''), coalesce(new.schools ->> question, '')
    from (select jsonb_object_keys(old.schools || new.schools) as question) as asked
    where old.schools ->> question is distinct from new.schools ->> question
    on conflict do nothing;
    return null;
end
$$;

-- the days of all evidence and what a float counts as are the hall's; a coach's schools are in the name of the Today they made
drop trigger coach_changed on coach;
drop function coach_changed();
create function hall_changed() returns trigger language plpgsql as $$
begin
    update trainee set evidence_version = evidence_version + 1 where trainee.hall_id = new.id;
    return null;
end
$$;
create trigger hall_changed after update on hall for each row
    when (old.time_zone is distinct from new.time_zone or old.float_switch_s is distinct from new.float_switch_s)
    execute function hall_changed();

-- a coach's school is a change of course for whom they teach: everybody in the halls that they own or coach in
create or replace function coach_school_course_changed() returns trigger
    language plpgsql security definer set search_path = public, pg_temp
    as $$
begin
    insert into course_change (hall_id, trainee_id, at, kind, what, was, now)
    select trainee.hall_id, trainee.id, now(), 'school', question, coalesce(old.schools ->> question, ''), coalesce(new.schools ->> question, '')
    from trainee
    join membership on membership.hall_id = trainee.hall_id and membership.coach_id = new.id and membership.left_at is null
        and membership.role <> 'assistant',
        (select jsonb_object_keys(old.schools || new.schools) as question) as asked
    where trainee.struck_at is null and not trainee.schools ? question
        and old.schools ->> question is distinct from new.schools ->> question
    on conflict do nothing;
    return null;
end
$$;
alter table coach drop column time_zone, drop column float_switch_s;

-- how a coach hears, feels and reads it
alter table coach add column volume integer not null default 70 constraint coach_volume_within_reason check (volume between 0 and 100);
alter table coach add column vibration boolean not null default true;
alter table coach add column voice boolean not null default false;
alter table coach add column units text not null default 'cm' constraint coach_units check (units in ('cm', 'in'));
alter table coach add column dates text not null default 'day-month'
    constraint coach_dates check (dates in ('day-month', 'month-day', 'year-month-day'));
alter table coach add column decimal text not null default 'point' constraint coach_decimal check (decimal in ('point', 'comma'));

-- a sign-in and a script's token are for one hall; null: a person in several has not chosen yet
alter table sign_in_session add column hall_id uuid references hall (id) on delete cascade;
update sign_in_session set hall_id = coach_id;
alter table api_token add column hall_id uuid references hall (id) on delete cascade;
update api_token set hall_id = coach_id;
alter table api_token alter column hall_id set not null;

-- a link that works once: an invitation into a hall, a sign-in on another device, or a new password; the token is shown once and never kept
create table one_time_link (
    id uuid primary key,
    kind text not null constraint one_time_link_kind check (kind in ('invitation', 'device', 'reset')),
    hall_id uuid not null references hall (id) on delete cascade,
    -- whom an invitation makes of whoever takes it; whose sign-in or password it is
    role text constraint one_time_link_role check (role in ('owner', 'coach', 'assistant')),
    coach_id uuid references coach (id) on delete cascade,
    name text not null default '',
    token_hash bytea not null unique,
    author_id uuid default current_coach(),
    created_at timestamptz not null default now(),
    expires_at timestamptz not null,
    used_at timestamptz,
    used_by uuid,
    revoked_at timestamptz,
    constraint one_time_link_for_somebody check ((kind = 'invitation') = (role is not null) and (kind = 'invitation') = (coach_id is null))
);
create index one_time_link_by_hall on one_time_link (hall_id, created_at desc);

-- what happened among the hall's people
create table hall_event (
    hall_id uuid not null references hall (id) on delete cascade,
    id uuid not null default gen_random_uuid(),
    at timestamptz not null default now(),
    author_id uuid default current_coach(),
    kind text not null constraint hall_event_kind check (kind in
        ('invited', 'joined', 'role', 'left', 'taken-out', 'handed-over', 'reset', 'named')),
    about uuid,
    what text not null default '',
    primary key (hall_id, id)
);
create index hall_event_by_time on hall_event (hall_id, at desc);

alter table hall enable row level security;
alter table membership enable row level security;
alter table one_time_link enable row level security;
alter table hall_event enable row level security;
create policy own_hall on hall using (id = (select current_hall()));
create policy own_rows on membership using (hall_id = (select current_hall()));
create policy own_rows on one_time_link using (hall_id = (select current_hall()));
create policy own_rows on hall_event using (hall_id = (select current_hall()));
grant select, insert, update on hall, membership, one_time_link to perch_app;
grant select, insert on hall_event to perch_app;

-- Before it is known who acts, and for whom: the ways past row-level security, each as narrow as its question.
drop function coach_of_session(bytea, timestamptz);
create function member_of_session(the_token_hash bytea, the_moment timestamptz) returns table (coach_id uuid, hall_id uuid, role text)
    language plpgsql security definer set search_path = public, pg_temp
    as $$
#variable_conflict use_column
declare
    last_seen timestamptz;
begin
    select s.coach_id, m.hall_id, m.role, s.seen_at into coach_id, hall_id, role, last_seen
    from sign_in_session as s
    left join membership as m on m.hall_id = s.hall_id and m.coach_id = s.coach_id and m.left_at is null
    where s.token_hash = the_token_hash and s.revoked_at is null and s.expires_at > the_moment;
    if not found then
        return;
    end if;
    -- when somebody was last here is kept to the hour: a write with every question would be for nothing
    if last_seen is null or last_seen < the_moment - interval '1 hour' then
        update sign_in_session set seen_at = the_moment where token_hash = the_token_hash;
    end if;
    return next;
end
$$;
drop function coach_of_api_token(bytea, timestamptz);
create function member_of_api_token(the_token_hash bytea, the_moment timestamptz) returns table (coach_id uuid, hall_id uuid, role text)
    language sql security definer set search_path = public, pg_temp
    as $$
        update api_token set used_at = the_moment from membership as m
        where token_hash = the_token_hash and revoked_at is null
            and m.hall_id = api_token.hall_id and m.coach_id = api_token.coach_id and m.left_at is null
        returning api_token.coach_id, api_token.hall_id, m.role
    $$;

-- the halls of the coach that a transaction acts as
create function halls_of_coach() returns table (id uuid, name text, role text)
    language sql stable security definer set search_path = public, pg_temp
    as $$
        select hall.id, hall.name, membership.role from membership join hall on hall.id = membership.hall_id
        where membership.coach_id = current_coach() and membership.left_at is null order by lower(hall.name), hall.id
    $$;

-- the names of everybody who is or was in the hall that a transaction acts in; nobody else's, and no password's hash
create function people_of_hall() returns table (id uuid, name text, email text, role text, since timestamptz, left_at timestamptz)
    language sql stable security definer set search_path = public, pg_temp
    as $$
        select coach.id, coach.name, coach.email, membership.role, membership.since, membership.left_at
        from membership join coach on coach.id = membership.coach_id where membership.hall_id = current_hall()
    $$;

-- an owner gives nobody a new password who works in another hall too
create function is_elsewhere(the_coach uuid) returns boolean
    language sql stable security definer set search_path = public, pg_temp
    as $$
        select exists (select from membership where coach_id = the_coach and hall_id <> current_hall() and left_at is null)
    $$;

-- whoever holds a one-time link is nobody yet; taking it locks it, so that it works once
create function one_time_link_of_token(the_token_hash bytea, the_moment timestamptz)
    returns table (id uuid, kind text, hall_id uuid, hall text, role text, coach_id uuid, email text, invited_by text)
    language sql stable security definer set search_path = public, pg_temp
    as $$
        select link.id, link.kind, link.hall_id, hall.name, link.role, link.coach_id, coach.email, coalesce(author.name, '')
        from one_time_link as link join hall on hall.id = link.hall_id left join coach on coach.id = link.coach_id
        left join coach as author on author.id = link.author_id
        where link.token_hash = the_token_hash and link.used_at is null and link.revoked_at is null and link.expires_at > the_moment
            -- who has left meanwhile comes in by no link that was made before
            and (link.coach_id is null or exists (select from membership as m
                where m.hall_id = link.hall_id and m.coach_id = link.coach_id and m.left_at is null))
    $$;
create function take_one_time_link(the_id uuid, the_moment timestamptz, the_coach uuid) returns boolean
    language sql security definer set search_path = public, pg_temp
    as $$
        with taken as (
            update one_time_link set used_at = the_moment, used_by = the_coach
            where id = the_id and used_at is null and revoked_at is null and expires_at > the_moment returning 1
        )
        select exists (select from taken)
    $$;
drop function link_of_token(bytea);
create function link_of_token(the_token_hash bytea) returns table (hall_id uuid, coach_id uuid, trainee_id uuid, kind text)
    language sql stable security definer set search_path = public, pg_temp
    as $$ select hall_id, author_id, trainee_id, kind from share_link where token_hash = the_token_hash and revoked_at is null $$;

drop function open_jobs();
create function open_jobs() returns table (hall_id uuid, coach_id uuid, id uuid)
    language sql stable security definer set search_path = public, pg_temp
    as $$ select hall_id, author_id, id from job where state in ('waiting', 'running') order by at, id $$;

create or replace function erase_trainee(the_trainee uuid) returns jsonb
    language plpgsql security definer set search_path = public, pg_temp
    as $$
declare
    hall uuid := current_hall();
    counted jsonb;
begin
    -- the one real deletion is an owner's, whatever the application thinks
    perform 1 from membership where hall_id = hall and coach_id = current_coach() and role = 'owner' and left_at is null;
    if not found then
        raise insufficient_privilege using message = 'only an owner of the hall erases';
    end if;
    perform 1 from trainee where hall_id = hall and id = the_trainee for update;
    if not found then
        return null;
    end if;
    select jsonb_build_object(
        'evidence', (select count(*) from evidence where hall_id = hall and trainee_id = the_trainee),
        'test_runs', (select count(*) from test_run where hall_id = hall and trainee_id = the_trainee),
        'sessions', (select count(*) from floor_session where hall_id = hall and trainee_id = the_trainee),
        'plans', (select count(*) from plan where hall_id = hall and trainee_id = the_trainee),
        'intakes', (select count(*) from intake where hall_id = hall and trainee_id = the_trainee),
        'pains', (select count(*) from ache where hall_id = hall and trainee_id = the_trainee),
        'secret_addresses', (select count(*) from share_link where hall_id = hall and trainee_id = the_trainee)
    ) into counted;
    update test_day set plan = coalesce(
            (select jsonb_agg(turn) from jsonb_array_elements(plan) as turn where turn ->> 'trainee' <> the_trainee::text), '[]')
        where hall_id = hall and plan::text like '%' || the_trainee::text || '%';
    delete from job where hall_id = hall and (trainee_id = the_trainee or what::text like '%' || the_trainee::text || '%');
    delete from trainee where hall_id = hall and id = the_trainee;
    return counted;
end
$$;

revoke execute on function member_of_session(bytea, timestamptz), member_of_api_token(bytea, timestamptz), halls_of_coach(), people_of_hall(), is_elsewhere(uuid),
    one_time_link_of_token(bytea, timestamptz), take_one_time_link(uuid, timestamptz, uuid),
    link_of_token(bytea), open_jobs() from public;
grant execute on function member_of_session(bytea, timestamptz), member_of_api_token(bytea, timestamptz), halls_of_coach(), people_of_hall(), is_elsewhere(uuid),
    one_time_link_of_token(bytea, timestamptz), take_one_time_link(uuid, timestamptz, uuid),
    link_of_token(bytea), open_jobs() to perch_app;

-- What changed is told to whoever listens: which hall, what, whose, and by which page, which knows it already. Told once a transaction, when it
-- is kept.
create function by_page() returns text
    language sql stable
    return coalesce(nullif(current_setting('perch.page', true), ''), 'elsewhere');

create function tell_of_trainee() returns trigger language plpgsql as $$
begin
    perform pg_notify('perch', new.hall_id || ' trainee ' || new.id || ' ' || by_page());
    return null;
end
$$;
create trigger trainee_told after update on trainee for each row
    when (old.evidence_version is distinct from new.evidence_version or old.name is distinct from new.name
        or old.struck_at is distinct from new.struck_at or old.note is distinct from new.note or old.schools is distinct from new.schools)
    execute function tell_of_trainee();
create trigger trainee_added_told after insert on trainee for each row execute function tell_of_trainee();
create function tell_of_trainees() returns trigger language plpgsql as $$
begin
    perform pg_notify('perch', hall_id || ' trainee ' || trainee_id || ' ' || by_page()) from (select distinct hall_id, trainee_id from changed) as touched;
    return null;
end
$$;
create trigger plan_told after insert on plan referencing new table as changed for each statement execute function tell_of_trainees();
create trigger report_told after insert on report referencing new table as changed for each statement execute function tell_of_trainees();
create trigger session_told after insert on floor_session
    referencing new table as changed for each statement execute function tell_of_trainees();
create trigger session_ended_told after update on floor_session
    referencing new table as changed for each statement execute function tell_of_trainees();
create function tell_of_sessions() returns trigger language plpgsql as $$
begin
    perform pg_notify('perch', hall_id || ' session ' || session_id || ' ' || by_page()) from (select distinct hall_id, session_id from changed) as touched;
    return null;
end
$$;
create trigger event_told after insert on session_event
    referencing new table as changed for each statement execute function tell_of_sessions();
create trigger event_struck_told after update on session_event
    referencing new table as changed for each statement execute function tell_of_sessions();
create function tell_of_hall() returns trigger language plpgsql as $$
begin
    perform pg_notify('perch', new.hall_id || ' hall ' || tg_table_name || ' ' || by_page());
    return null;
end
$$;
create trigger kit_told after insert or update on kit_item for each row execute function tell_of_hall();
create trigger syllabus_told after insert on syllabus_version for each row execute function tell_of_hall();
create trigger test_day_told after insert or update on test_day for each row execute function tell_of_hall();
create trigger membership_told after insert or update on membership for each row execute function tell_of_hall();
