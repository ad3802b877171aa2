-- The dial settings a coach chose for a trainee, and what each piece of work put on the hands.

-- The trainee stands first: what asks for a piece by its coach and id (as every foreign key to evidence does) can then only take the
-- primary key, and not, on a young table without statistics, walk through all that a coach has.
drop index evidence_by_trainee;
create index evidence_by_trainee on evidence (trainee_id, coach_id, at desc);

-- each choice is a row of its own and the newest counts
create table dial_setting (
    coach_id uuid not null,
    id uuid not null,
    trainee_id uuid not null,
    drill text not null,
    settings jsonb not null,
    at timestamptz not null,
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
create index dial_setting_by_trainee on dial_setting (coach_id, trainee_id, drill, at desc, id desc);

-- worked out, not entered: `made_from` names the measures, syllabus and setting it came from, and another one makes it anew
create table hand_load (
    coach_id uuid not null,
    evidence_id uuid not null,
    trainee_id uuid not null,
    share double precision constraint hand_load_share_within_reason check (share between 0 and 10),
    seconds double precision constraint hand_load_seconds_within_reason check (seconds >= 0),
    because text not null default '',
    made_from text not null,
    primary key (coach_id, evidence_id),
    foreign key (coach_id, evidence_id) references evidence (coach_id, id) on delete cascade,
    constraint hand_load_has_both check ((share is null) = (seconds is null))
);
create index hand_load_by_trainee on hand_load (coach_id, trainee_id);

alter table dial_setting enable row level security;
alter table hand_load enable row level security;
create policy own_rows on dial_setting using (coach_id = (select current_coach()));
create policy own_rows on hand_load using (coach_id = (select current_coach()));
grant select, insert, update on dial_setting, hand_load to perch_app;
