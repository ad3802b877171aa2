-- Who coaches, who is coached, and what was done.
--
-- Every table of a coach's data carries coach_id, and row-level security compares it with the setting
-- perch.coach_id of the running transaction. The application connects as perch_app, which owns nothing,
-- bypasses nothing and may not delete: what is taken back is struck out.

create function current_coach() returns uuid
    language sql stable
    return nullif(current_setting('perch.coach_id', true), '')::uuid;

create table coach (
    id uuid primary key,
    email text not null constraint coach_email_taken unique constraint coach_email_lower check (email = lower(email)),
    name text not null,
    password_hash text not null,
    time_zone text not null default 'UTC',
    rest_s integer not null default 45 constraint coach_rest_within_reason check (rest_s between 20 and 60),
    created_at timestamptz not null default now()
);

-- a session is known by the hash of its token: a copy of this table signs nobody in
create table sign_in_session (
    token_hash bytea primary key,
    coach_id uuid not null references coach (id) on delete cascade,
    created_at timestamptz not null default now(),
    expires_at timestamptz not null,
    revoked_at timestamptz
);
create index sign_in_session_by_coach on sign_in_session (coach_id);

-- failures by what was tried (a hash of the email, or of the sender's address); no coach's data
create table sign_in_failure (
    tried bytea not null,
    at timestamptz not null default now()
);
create index sign_in_failure_by_tried on sign_in_failure (tried, at);

create table trainee (
    coach_id uuid not null references coach (id) on delete cascade,
    id uuid not null,
    name text not null,
    stepping_side text constraint trainee_stepping_side check (stepping_side in ('left', 'right')),
    note text not null default '',
    -- counts every change to this trainee's evidence, so that a kept judgement knows whether it is still true
    evidence_version bigint not null default 0,
    created_at timestamptz not null default now(),
    struck_at timestamptz,
    primary key (coach_id, id)
);
create unique index trainee_name_taken on trainee (coach_id, lower(name)) where struck_at is null;

create table test_run (
    coach_id uuid not null,
    id uuid not null,
    trainee_id uuid not null,
    test text not null,
    started_at timestamptz not null,
    ended_at timestamptz,
    ended_as text constraint test_run_ended_as check (ended_as in ('finished', 'stopped', 'pain')),
    rest_s integer not null,
    room text not null default '',
    source text not null,
    pain_joint text,
    pain_level integer constraint test_run_pain_level check (pain_level between 0 and 10),
    created_at timestamptz not null default now(),
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade,
    constraint test_run_once unique (coach_id, trainee_id, test, started_at),
    constraint test_run_end_has_both check ((ended_at is null) = (ended_as is null)),
    constraint test_run_pain_has_both check ((pain_joint is null) = (pain_level is null))
);

-- one row a try or a set; a try belongs to a test run and has a number, a set belongs to a drill
create table evidence (
    coach_id uuid not null,
    id uuid not null,
    trainee_id uuid not null,
    test_run_id uuid,
    try_number integer,
    drill text,
    at timestamptz not null,
    outcome text constraint evidence_outcome check (outcome in ('held', 'overshot', 'undershot')),
    fell text constraint evidence_fell check (fell in ('over', 'under', 'down')),
    measure text not null,
    value double precision constraint evidence_value_within_reason check (value between 0 and 1000000),
    n integer,
    unit text not null,
    mode text,
    window_s double precision,
    dial jsonb not null default '{}',
    form text constraint evidence_form check (form in ('clean', 'loose', 'lost')),
    side text constraint evidence_side check (side in ('left', 'right')),
    confidence integer constraint evidence_confidence check (confidence between 1 and 5),
    room text not null default '',
    source text not null,
    early boolean not null default false,
    note text not null default '',
    created_at timestamptz not null default now(),
    struck_at timestamptz,
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade,
    foreign key (coach_id, test_run_id) references test_run (coach_id, id) on delete cascade,
    constraint evidence_is_try_or_set check (
        (test_run_id is not null and try_number is not null and outcome is not null and drill is null)
        or (test_run_id is null and try_number is null and outcome is null and drill is not null and value is not null and form is not null)
    ),
    constraint evidence_seconds_only_when_held check (test_run_id is null or (value is not null) = (outcome = 'held')),
    constraint evidence_k_of_n check (n is null or (n >= 1 and value <= n))
);
create unique index evidence_try_once on evidence (coach_id, test_run_id, try_number) where struck_at is null and test_run_id is not null;
create index evidence_by_trainee on evidence (coach_id, trainee_id, at desc);

-- What Today shows about a trainee, kept ready: `marks` never depends on the day, `today` is the judgement of `day`.
-- A row is true only while its evidence_version, day, syllabus and rest are the present ones.
create table trainee_brief (
    coach_id uuid not null,
    trainee_id uuid not null,
    evidence_version bigint not null,
    syllabus text not null,
    day date not null,
    rest_s integer not null,
    urgency integer not null,
    marks jsonb not null,
    tests jsonb not null,
    today jsonb not null,
    primary key (coach_id, trainee_id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);

-- any change to evidence or runs makes the kept judgement old; once a statement, so that a large import stays cheap
create function evidence_changed() returns trigger language plpgsql as $$
begin
    update trainee
    set evidence_version = evidence_version + 1
    from (select distinct coach_id, trainee_id from changed) as touched
    where trainee.coach_id = touched.coach_id and trainee.id = touched.trainee_id;
    return null;
end
$$;

create trigger evidence_added after insert on evidence
    referencing new table as changed for each statement execute function evidence_changed();

create trigger evidence_struck after update on evidence
    referencing new table as changed for each statement execute function evidence_changed();

create trigger test_run_added after insert on test_run
    referencing new table as changed for each statement execute function evidence_changed();

create trigger test_run_ended after update on test_run
    referencing new table as changed for each statement execute function evidence_changed();

alter table coach enable row level security;
alter table sign_in_session enable row level security;
alter table trainee enable row level security;
alter table test_run enable row level security;
alter table evidence enable row level security;
alter table trainee_brief enable row level security;

create policy own_row on coach using (id = (select current_coach()));
create policy own_rows on sign_in_session using (coach_id = (select current_coach()));
create policy own_rows on trainee using (coach_id = (select current_coach()));
create policy own_rows on test_run using (coach_id = (select current_coach()));
create policy own_rows on evidence using (coach_id = (select current_coach()));
create policy own_rows on trainee_brief using (coach_id = (select current_coach()));

-- Before sign-in nobody is the current coach. These are the only ways past row-level security, each as narrow as its question.
create function coach_for_sign_in(the_email text) returns table (id uuid, password_hash text)
    language sql stable security definer set search_path = public, pg_temp
    as $$ select coach.id, coach.password_hash from coach where coach.email = lower(the_email) $$;

create function coach_of_session(the_token_hash bytea, the_moment timestamptz) returns uuid
    language sql stable security definer set search_path = public, pg_temp
    as $$
        select coach_id from sign_in_session
        where token_hash = the_token_hash and revoked_at is null and expires_at > the_moment
    $$;

create function any_coach_yet() returns boolean
    language sql stable security definer set search_path = public, pg_temp
    as $$ select exists (select from coach) $$;

grant select, insert, update on coach, sign_in_session, trainee, test_run, evidence, trainee_brief to perch_app;
grant select, insert, delete on sign_in_failure to perch_app;
