-- A line judged by eye is seen from the side and from the front: which of the two a coach looked from, on a day, for a drill. Unticked again, `seen` is false; the newest word stands.

create table line_seen (
    coach_id uuid not null,
    trainee_id uuid not null,
    day date not null,
    drill text not null,
    view text not null constraint line_seen_view check (view in ('side', 'front')),
    seen boolean not null,
    at timestamptz not null,
    primary key (coach_id, trainee_id, day, drill, view),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
alter table line_seen enable row level security;
create policy own_rows on line_seen using (coach_id = (select current_coach()));
grant select, insert, update on line_seen to perch_app;
