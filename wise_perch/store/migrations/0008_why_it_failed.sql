-- Why a set failed, as the coach saw it, and the cue that worked.

alter table evidence add column reason text constraint evidence_reason check (reason in ('strength', 'range', 'balance', 'fear'));

create table worked_cue (
    coach_id uuid not null,
    id uuid not null,
    trainee_id uuid not null,
    at timestamptz not null,
    drill text not null,
    cue text not null,
    struck_at timestamptz,
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
create index worked_cue_by_trainee on worked_cue (coach_id, trainee_id, drill, at desc);
alter table worked_cue enable row level security;
create policy own_rows on worked_cue using (coach_id = (select current_coach()));
grant select, insert, update on worked_cue to perch_app;

-- what was judged by the rules before is judged again
truncate trainee_brief;
