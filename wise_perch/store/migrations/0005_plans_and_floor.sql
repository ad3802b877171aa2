-- Planned weeks, sessions as they ran, and secret addresses for a calendar or a trainee's own page.

-- each kept plan is a version of its own and the newest of a week counts; nothing is written over
create table plan (
    coach_id uuid not null,
    id uuid not null,
    trainee_id uuid not null,
    week date not null constraint plan_week_is_a_monday check (extract(isodow from week) = 1),
    at timestamptz not null,
    wish jsonb not null,
    planned jsonb not null,
    note text not null default '',
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
create index plan_by_trainee on plan (coach_id, trainee_id, week desc, at desc, id desc);

create table floor_session (
    coach_id uuid not null,
    id uuid not null,
    trainee_id uuid not null,
    day date not null,
    started_at timestamptz not null,
    ended_at timestamptz,
    ended_as text constraint floor_session_ended_as check (ended_as in ('finished', 'stopped', 'pain')),
    source text not null,
    sheet jsonb not null,
    note text not null default '',
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade,
    constraint floor_session_end_has_both check ((ended_at is null) = (ended_as is null))
);
create index floor_session_by_trainee on floor_session (coach_id, trainee_id, started_at desc);

-- what happened in a session, one row each; what is taken back is struck out
create table session_event (
    coach_id uuid not null,
    id uuid not null,
    session_id uuid not null,
    at timestamptz not null,
    what jsonb not null,
    struck_at timestamptz,
    primary key (coach_id, id),
    foreign key (coach_id, session_id) references floor_session (coach_id, id) on delete cascade
);
create index session_event_by_session on session_event (coach_id, session_id, at, id);

-- pain told at the start of a session or in it, so that the next plan asks before loading that joint
create table ache (
    coach_id uuid not null,
    id uuid not null,
    trainee_id uuid not null,
    at timestamptz not null,
    joint text not null,
    level integer not null constraint ache_level check (level between 0 and 10),
    sharp boolean not null default false,
    event_id uuid,
    struck_at timestamptz,
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
create index ache_by_trainee on ache (coach_id, trainee_id, at desc);

-- the token itself is shown once and never kept
create table share_link (
    coach_id uuid not null,
    id uuid not null,
    trainee_id uuid not null,
    kind text not null constraint share_link_kind check (kind in ('calendar', 'page')),
    token_hash bytea not null unique,
    created_at timestamptz not null default now(),
    revoked_at timestamptz,
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);

alter table evidence add column session_id uuid;
alter table evidence add foreign key (coach_id, session_id) references floor_session (coach_id, id) on delete cascade;
create index evidence_by_session on evidence (coach_id, session_id) where session_id is not null;

-- a told ache makes a kept judgement old
create trigger ache_added after insert on ache
    referencing new table as changed for each statement execute function evidence_changed();
create trigger ache_changed after update on ache
    referencing new table as changed for each statement execute function evidence_changed();

alter table plan enable row level security;
alter table floor_session enable row level security;
alter table session_event enable row level security;
alter table ache enable row level security;
alter table share_link enable row level security;
create policy own_rows on plan using (coach_id = (select current_coach()));
create policy own_rows on floor_session using (coach_id = (select current_coach()));
create policy own_rows on session_event using (coach_id = (select current_coach()));
create policy own_rows on ache using (coach_id = (select current_coach()));
create policy own_rows on share_link using (coach_id = (select current_coach()));
grant select, insert, update on plan, floor_session, session_event, ache, share_link to perch_app;

-- whoever holds a secret address is nobody yet: this is the one question it may ask
create function link_of_token(the_token_hash bytea) returns table (coach_id uuid, trainee_id uuid, kind text)
    language sql stable security definer set search_path = public, pg_temp
    as $$ select coach_id, trainee_id, kind from share_link where token_hash = the_token_hash and revoked_at is null $$;
