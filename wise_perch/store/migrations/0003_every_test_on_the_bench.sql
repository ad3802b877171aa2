-- Every benchmark test, not the free tries alone: tries of any kind, the sheet a run follows, corrections, kit, test days.

-- what a try may say is the test's own data, checked before it comes here
alter table evidence drop constraint evidence_outcome;
alter table evidence add constraint evidence_outcome check (outcome ~ '^[a-z][a-z-]{0,39}$');
alter table evidence drop constraint evidence_seconds_only_when_held;
-- the dial setting a try was made at, and the try it stands in for
alter table evidence add column level double precision constraint evidence_level_within_reason check (level between -1000 and 1000);
alter table evidence add column replaces uuid;

-- the drill a test was run for, the setting it was all made at, and the sheet that says what comes after each try
alter table test_run add column subject text not null default '';
alter table test_run add column dial jsonb not null default '{}';
alter table test_run add column sheet jsonb;
alter table test_run add column confidence integer constraint test_run_confidence check (confidence between 1 and 5);
alter table test_run add column test_day_id uuid;
alter table test_run drop constraint test_run_once;
alter table test_run add constraint test_run_once unique (coach_id, trainee_id, test, subject, started_at);
create index test_run_by_trainee on test_run (coach_id, trainee_id, started_at desc);

alter table coach add column float_switch_s double precision not null default 5
    constraint coach_float_switch_within_reason check (float_switch_s between 3 and 5);
alter table coach add column sounds boolean not null default true;

create table kit_item (
    coach_id uuid not null references coach (id) on delete cascade,
    id uuid not null,
    kind text not null constraint kit_item_kind check (kind in ('pad', 'plate', 'block', 'box')),
    thickness_cm double precision not null constraint kit_item_thickness_within_reason check (thickness_cm between 0.1 and 150),
    count integer not null constraint kit_item_count_within_reason check (count between 1 and 99),
    note text not null default '',
    created_at timestamptz not null default now(),
    struck_at timestamptz,
    primary key (coach_id, id)
);

-- which tests for whom, in one go; `plan` is the list of turns in their order
create table test_day (
    coach_id uuid not null references coach (id) on delete cascade,
    id uuid not null,
    at timestamptz not null,
    plan jsonb not null,
    struck_at timestamptz,
    primary key (coach_id, id)
);
create index test_day_by_coach on test_day (coach_id, at desc);

alter table kit_item enable row level security;
alter table test_day enable row level security;
create policy own_rows on kit_item using (coach_id = (select current_coach()));
create policy own_rows on test_day using (coach_id = (select current_coach()));
grant select, insert, update on kit_item, test_day to perch_app;
