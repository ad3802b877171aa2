-- Small range work that is done by the day: minutes of a habit on a day, as a trainee told them on the own page. Told again, the newest word stands.

create table habit_day (
    coach_id uuid not null,
    trainee_id uuid not null,
    day date not null,
    habit text not null,
    minutes real not null constraint habit_minutes check (minutes between 0 and 240),
    at timestamptz not null,
    primary key (coach_id, trainee_id, day, habit),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
alter table habit_day enable row level security;
create policy own_rows on habit_day using (coach_id = (select current_coach()));
grant select, insert, update on habit_day to perch_app;
