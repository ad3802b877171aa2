-- What a coach decides about a trainee beside evidence: goals, waivers, the intake, schools; and a syllabus of the coach's own.

alter table coach add column schools jsonb not null default '{}';
alter table trainee add column schools jsonb not null default '{}';

-- heights are signed: a deficit lies below the floor
alter table evidence drop constraint evidence_value_within_reason;
alter table evidence add constraint evidence_value_within_reason check (value between -1000 and 1000000);

create table trainee_goal (
    coach_id uuid not null,
    trainee_id uuid not null,
    goal text not null,
    rank integer not null,
    since timestamptz not null default now(),
    struck_at timestamptz,
    primary key (coach_id, trainee_id, goal),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);

create table waiver (
    coach_id uuid not null,
    id uuid not null,
    trainee_id uuid not null,
    drill text not null,
    reason text not null constraint waiver_has_a_reason check (reason <> ''),
    at timestamptz not null,
    struck_at timestamptz,
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
create unique index waiver_once on waiver (coach_id, trainee_id, drill) where struck_at is null;

-- each intake is a row of its own and the newest counts, so that nothing said is written over
create table intake (
    coach_id uuid not null,
    id uuid not null,
    trainee_id uuid not null,
    at timestamptz not null,
    profile jsonb not null,
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
create index intake_by_trainee on intake (coach_id, trainee_id, at desc, id desc);

-- the newest row is in use; an empty text stands for the syllabus that ships with the product
create table syllabus_version (
    coach_id uuid not null references coach (id) on delete cascade,
    id uuid not null,
    at timestamptz not null,
    text text not null,
    note text not null default '',
    primary key (coach_id, id)
);
create index syllabus_version_by_coach on syllabus_version (coach_id, at desc, id desc);

-- any of these makes a kept judgement old
create trigger goal_added after insert on trainee_goal
    referencing new table as changed for each statement execute function evidence_changed();
create trigger goal_changed after update on trainee_goal
    referencing new table as changed for each statement execute function evidence_changed();
create trigger waiver_added after insert on waiver
    referencing new table as changed for each statement execute function evidence_changed();
create trigger waiver_changed after update on waiver
    referencing new table as changed for each statement execute function evidence_changed();
create trigger intake_added after insert on intake
    referencing new table as changed for each statement execute function evidence_changed();

alter table trainee_goal enable row level security;
alter table waiver enable row level security;
alter table intake enable row level security;
alter table syllabus_version enable row level security;

create policy own_rows on trainee_goal using (coach_id = (select current_coach()));
create policy own_rows on waiver using (coach_id = (select current_coach()));
create policy own_rows on intake using (coach_id = (select current_coach()));
create policy own_rows on syllabus_version using (coach_id = (select current_coach()));

grant select, insert, update on trainee_goal, waiver, intake, syllabus_version to perch_app;
