-- Lines judged from a picture or a film: the joints, from where they were seen, and what was said. No picture is ever sent here. Struck out, a row stays.

create table kept_line (
    coach_id uuid not null,
    trainee_id uuid not null,
    id uuid not null,
    at timestamptz not null,
    day date not null,
    drill text not null,
    view text not null constraint kept_line_view check (view in ('side', 'front')),
    points jsonb not null,
    width double precision not null constraint kept_line_width check (width > 0),
    height double precision not null constraint kept_line_height check (height > 0),
    said jsonb not null,
    -- no angle is told to be farther from what the drill is meant to have, degrees; null where the picture does not tell
    off_deg double precision constraint kept_line_off check (off_deg >= 0),
    run_id uuid,
    note text not null default '',
    struck_at timestamptz,
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade,
    foreign key (coach_id, run_id) references test_run (coach_id, id) on delete cascade
);
create index kept_line_by_trainee on kept_line (coach_id, trainee_id, at desc);
alter table kept_line enable row level security;
create policy own_rows on kept_line using (coach_id = (select current_coach()));
grant select, insert, update on kept_line to perch_app;

-- a gate may ask for a line: what is kept of Today is old once one is kept or struck out
create trigger kept_line_added after insert on kept_line
    referencing new table as changed for each statement execute function evidence_changed();
create trigger kept_line_struck after update on kept_line
    referencing new table as changed for each statement execute function evidence_changed();
