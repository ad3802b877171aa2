-- The long view: when goals and schools of a trainee changed, what a coach has silenced, and the words of reports.

-- what a trainee trains for or by what school, and when that changed; written by the database itself, so that no way of changing it is forgotten
create table course_change (
    coach_id uuid not null,
    trainee_id uuid not null,
    at timestamptz not null,
    kind text not null constraint course_change_kind check (kind in ('goal-chosen', 'goal-dropped', 'goal-first', 'school')),
    what text not null,
    was text not null default '',
    now text not null default '',
    primary key (coach_id, trainee_id, at, kind, what),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
alter table course_change enable row level security;
create policy own_rows on course_change using (coach_id = (select current_coach()));
grant select, insert on course_change to perch_app;

insert into course_change (coach_id, trainee_id, at, kind, what)
select coach_id, trainee_id, since, 'goal-chosen', goal from trainee_goal
union all
select coach_id, trainee_id, struck_at, 'goal-dropped', goal from trainee_goal where struck_at is not null;

create function goal_course_changed() returns trigger language plpgsql as $$
declare
    kind text;
    moment timestamptz := now();
begin
    if tg_op = 'INSERT' then
        kind := 'goal-chosen';
        moment := new.since;
    elsif old.struck_at is null and new.struck_at is not null then
        kind := 'goal-dropped';
        moment := new.struck_at;
    elsif old.struck_at is not null and new.struck_at is null then
        kind := 'goal-chosen';
    elsif new.rank = 1 and old.rank <> 1 then
        kind := 'goal-first';
    else
        return null;
    end if;
    insert into course_change (coach_id, trainee_id, at, kind, what) values (new.coach_id, new.trainee_id, moment, kind, new.goal)
    on conflict do nothing;
    return null;
end
$$;
create trigger goal_course_changed after insert or update on trainee_goal for each row execute function goal_course_changed();

-- a question of which another school holds from now on; a coach's own change is one of every trainee who has no school of their own in it
create function school_course_changed() returns trigger language plpgsql as $$
begin
    insert into course_change (coach_id, trainee_id, at, kind, what, was, now)
    select new.coach_id, new.id, now(), 'school', question, coalesce(old.schools ->> question, ''), coalesce(new.schools ->> question, '')
    from (select jsonb_object_keys(old.schools || new.schools) as question) as asked
    where old.schools ->> question is distinct from new.schools ->> question
    on conflict do nothing;
    return null;
end
$$;
create trigger school_course_changed after update of schools on trainee
    for each row when (old.schools is distinct from new.schools) execute function school_course_changed();

create function coach_school_course_changed() returns trigger language plpgsql as $$
begin
    insert into course_change (coach_id, trainee_id, at, kind, what, was, now)
    select new.id, trainee.id, now(), 'school', question, coalesce(old.schools ->> question, ''), coalesce(new.schools ->> question, '')
    from trainee, (select jsonb_object_keys(old.schools || new.schools) as question) as asked
    where trainee.coach_id = new.id and trainee.struck_at is null and not trainee.schools ? question
        and old.schools ->> question is distinct from new.schools ->> question
    on conflict do nothing;
    return null;
end
$$;
create trigger coach_school_course_changed after update of schools on coach
    for each row when (old.schools is distinct from new.schools) execute function coach_school_course_changed();

-- what was told early and the coach has heard; heard again, the newest word stands
create table turn_silenced (
    coach_id uuid not null,
    trainee_id uuid not null,
    turn text not null,
    silenced boolean not null,
    at timestamptz not null,
    primary key (coach_id, trainee_id, turn),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
alter table turn_silenced enable row level security;
create policy own_rows on turn_silenced using (coach_id = (select current_coach()));
grant select, insert, update on turn_silenced to perch_app;

-- each report is a row of its own and the newest counts, so that nothing a coach wrote is written over: `made` as it was written from the data, `words`
-- what a coach changed of it
create table report (
    coach_id uuid not null,
    id uuid not null,
    trainee_id uuid not null,
    month date not null constraint report_month check (extract(day from month) = 1),
    at timestamptz not null,
    arrived bigint not null default nextval('arrival'),
    made jsonb not null,
    words jsonb not null default '{}',
    primary key (coach_id, id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
create index report_by_month on report (coach_id, month, trainee_id, arrived desc);
alter table report enable row level security;
create policy own_rows on report using (coach_id = (select current_coach()));
grant select, insert on report to perch_app;

alter table job drop constraint job_kind;
alter table job add constraint job_kind check (kind in ('plan-weeks', 'rehearsal', 'reports'));

-- what is kept says who told of a piece of evidence, and Today says where somebody is: all of it is made again when it is next read
truncate trainee_known;
truncate trainee_brief;
