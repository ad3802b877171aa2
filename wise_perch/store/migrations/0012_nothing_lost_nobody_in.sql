-- What a service needs that a hall can trust: arrival beside told times, sessions and tokens that can be ended one by one, a throttle
-- that counts before it hashes, and the one real deletion.

-- The newest is what came last, whatever a device's clock said; what is there already keeps the order of its told times.
create sequence arrival;
alter table plan add column arrived bigint;
alter table intake add column arrived bigint;
alter table dial_setting add column arrived bigint;
alter table syllabus_version add column arrived bigint;
alter table intake disable trigger user;
update plan set arrived = counted.n from (select coach_id, id, row_number() over (order by at, id) as n from plan) as counted
where counted.coach_id = plan.coach_id and counted.id = plan.id;
update intake set arrived = counted.n from (select coach_id, id, row_number() over (order by at, id) as n from intake) as counted
where counted.coach_id = intake.coach_id and counted.id = intake.id;
update dial_setting set arrived = counted.n from (select coach_id, id, row_number() over (order by at, id) as n from dial_setting) as counted
where counted.coach_id = dial_setting.coach_id and counted.id = dial_setting.id;
update syllabus_version set arrived = counted.n from (select coach_id, id, row_number() over (order by at, id) as n from syllabus_version) as counted
where counted.coach_id = syllabus_version.coach_id and counted.id = syllabus_version.id;
alter table intake enable trigger user;
do $$ begin
    perform setval('arrival', 1 + greatest((select count(*) from plan), (select count(*) from intake),
        (select count(*) from dial_setting), (select count(*) from syllabus_version)));
end $$;
alter table plan alter column arrived set default nextval('arrival'), alter column arrived set not null;
alter table intake alter column arrived set default nextval('arrival'), alter column arrived set not null;
alter table dial_setting alter column arrived set default nextval('arrival'), alter column arrived set not null;
alter table syllabus_version alter column arrived set default nextval('arrival'), alter column arrived set not null;
grant usage on sequence arrival to perch_app;
drop index plan_by_trainee, intake_by_trainee, dial_setting_by_trainee, syllabus_version_by_coach;
create index plan_by_trainee on plan (coach_id, trainee_id, week desc, arrived desc);
create index intake_by_trainee on intake (coach_id, trainee_id, arrived desc);
create index dial_setting_by_trainee on dial_setting (coach_id, trainee_id, drill, arrived desc);
create index syllabus_version_by_coach on syllabus_version (coach_id, arrived desc);

-- what a coach chooses changes what is known of everybody: the days of all evidence, what a float counts as, how a line is taught
create function coach_changed() returns trigger language plpgsql as $$
begin
    update trainee set evidence_version = evidence_version + 1 where trainee.coach_id = new.id;
    return null;
end
$$;
create trigger coach_changed after update on coach for each row
    when (old.time_zone is distinct from new.time_zone or old.float_switch_s is distinct from new.float_switch_s
        or old.schools is distinct from new.schools)
    execute function coach_changed();

-- a sign-in can be named and ended without its token
alter table sign_in_session add column id uuid not null default gen_random_uuid();
alter table sign_in_session add column device text not null default '';
alter table sign_in_session add column seen_at timestamptz;
create unique index sign_in_session_by_id on sign_in_session (coach_id, id);

create or replace function coach_of_session(the_token_hash bytea, the_moment timestamptz) returns uuid
    language plpgsql security definer set search_path = public, pg_temp
    as $$
declare
    found_coach uuid;
    last_seen timestamptz;
begin
    select coach_id, seen_at into found_coach, last_seen from sign_in_session
    where token_hash = the_token_hash and revoked_at is null and expires_at > the_moment;
    -- when somebody was last here is kept to the hour: a write with every question would be for nothing
    if found_coach is not null and (last_seen is null or last_seen < the_moment - interval '1 hour') then
        update sign_in_session set seen_at = the_moment where token_hash = the_token_hash;
    end if;
    return found_coach;
end
$$;

-- over another's cookie a new sign-in ends the old one, whoever it belongs to: holding the token is enough to end it
create function end_session(the_token_hash bytea, the_moment timestamptz) returns void
    language sql security definer set search_path = public, pg_temp
    as $$ update sign_in_session set revoked_at = the_moment where token_hash = the_token_hash and revoked_at is null $$;

-- a browser that signed in here before, by the hash of a cookie of its own: guesses from elsewhere never lock its owner out
create table known_device (
    coach_id uuid not null references coach (id) on delete cascade,
    token_hash bytea not null,
    created_at timestamptz not null default now(),
    struck_at timestamptz,
    primary key (coach_id, token_hash)
);
alter table known_device enable row level security;
create policy own_rows on known_device using (coach_id = (select current_coach()));
grant select, insert, update on known_device to perch_app;
create function knows_device(the_email text, the_token_hash bytea) returns boolean
    language sql stable security definer set search_path = public, pg_temp
    as $$
        select exists (select from known_device join coach on coach.id = known_device.coach_id
            where coach.email = lower(the_email) and known_device.token_hash = the_token_hash and known_device.struck_at is null)
    $$;

-- scripts sign in with a token of their own
create table api_token (
    coach_id uuid not null references coach (id) on delete cascade,
    id uuid not null,
    name text not null,
    token_hash bytea not null unique,
    created_at timestamptz not null default now(),
    used_at timestamptz,
    revoked_at timestamptz,
    primary key (coach_id, id)
);
alter table api_token enable row level security;
create policy own_rows on api_token using (coach_id = (select current_coach()));
grant select, insert, update on api_token to perch_app;
create function coach_of_api_token(the_token_hash bytea, the_moment timestamptz) returns uuid
    language sql security definer set search_path = public, pg_temp
    as $$ update api_token set used_at = the_moment where token_hash = the_token_hash and revoked_at is null returning coach_id $$;

-- one row for what is tried, so that guesses made side by side are counted one after the other
drop table sign_in_failure;
create table sign_in_try (
    tried bytea primary key,
    since timestamptz not null,
    times integer not null
);
grant select, insert, update, delete on sign_in_try to perch_app;

-- the one real deletion, and its receipt, which names nobody
create table erasure (
    coach_id uuid not null references coach (id) on delete cascade,
    id uuid not null,
    trainee_id uuid not null,
    at timestamptz not null default now(),
    counted jsonb not null,
    primary key (coach_id, id)
);
alter table erasure enable row level security;
create policy own_rows on erasure using (coach_id = (select current_coach()));
grant select, insert on erasure to perch_app;
create function erase_trainee(the_trainee uuid) returns jsonb
    language plpgsql security definer set search_path = public, pg_temp
    as $$
declare
    who uuid := current_coach();
    counted jsonb;
begin
    perform 1 from trainee where coach_id = who and id = the_trainee for update;
    if not found then
        return null;
    end if;
    select jsonb_build_object(
        'evidence', (select count(*) from evidence where coach_id = who and trainee_id = the_trainee),
        'test_runs', (select count(*) from test_run where coach_id = who and trainee_id = the_trainee),
        'sessions', (select count(*) from floor_session where coach_id = who and trainee_id = the_trainee),
        'plans', (select count(*) from plan where coach_id = who and trainee_id = the_trainee),
        'intakes', (select count(*) from intake where coach_id = who and trainee_id = the_trainee),
        'pains', (select count(*) from ache where coach_id = who and trainee_id = the_trainee),
        'secret_addresses', (select count(*) from share_link where coach_id = who and trainee_id = the_trainee)
    ) into counted;
    update test_day set plan = coalesce(
            (select jsonb_agg(turn) from jsonb_array_elements(plan) as turn where turn ->> 'trainee' <> the_trainee::text), '[]')
        where coach_id = who and plan::text like '%' || the_trainee::text || '%';
    delete from job where coach_id = who and (trainee_id = the_trainee or what::text like '%' || the_trainee::text || '%');
    delete from trainee where coach_id = who and id = the_trainee;
    return counted;
end
$$;
-- whoever is signed in acts through these; nobody else on this server
revoke execute on function erase_trainee(uuid), end_session(bytea, timestamptz), knows_device(text, bytea),
    coach_of_api_token(bytea, timestamptz) from public;
grant execute on function erase_trainee(uuid), end_session(bytea, timestamptz), knows_device(text, bytea),
    coach_of_api_token(bytea, timestamptz) to perch_app;

-- a process looks what the database has seen before it works on it
grant select on _yoyo_migration to perch_app;
truncate trainee_brief;
