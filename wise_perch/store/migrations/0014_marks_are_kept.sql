-- What is known of a trainee whatever the day is kept apart from what Today says of one day, and made again only for the drills whose evidence
-- changed. Pages read it in place of a history.

-- the drills whose evidence changed since it was kept; '' stands for ended runs, '*' for everything
alter table trainee add column changed text[] not null default '{*}';

-- `basis` names the syllabus, the stature and the calendar it was made by; the texts are JSON that nobody searches
create table trainee_known (
    coach_id uuid not null,
    trainee_id uuid not null,
    basis text not null,
    known text not null,
    primary key (coach_id, trainee_id),
    foreign key (coach_id, trainee_id) references trainee (coach_id, id) on delete cascade
);
alter table trainee_known enable row level security;
create policy own_rows on trainee_known using (coach_id = (select current_coach()));
grant select, insert, update on trainee_known to perch_app;

-- Today's judgement alone, as text that is passed on as it stands
truncate trainee_brief;
alter table trainee_brief drop column marks, drop column tests, alter column today type json using today::json;

-- evidence names the drills it changes; a try counts once its run is over
create function pieces_changed() returns trigger language plpgsql as $$
begin
    update trainee
    set evidence_version = evidence_version + 1,
        changed = case
            when touched.drills is null or trainee.changed @> touched.drills then trainee.changed
            else array(select distinct unnest(trainee.changed || touched.drills))
        end
    from (
        select coach_id, trainee_id, array_agg(distinct coalesce(drill, '')) filter (where drill is not null
            or exists (select from test_run where test_run.coach_id = changed.coach_id and test_run.id = changed.test_run_id
                and test_run.ended_at is not null)) as drills
        from changed group by coach_id, trainee_id
    ) as touched
    where trainee.coach_id = touched.coach_id and trainee.id = touched.trainee_id;
    return null;
end
$$;
drop trigger evidence_added on evidence;
drop trigger evidence_struck on evidence;
create trigger evidence_added after insert on evidence
    referencing new table as changed for each statement execute function pieces_changed();
create trigger evidence_struck after update on evidence
    referencing new table as changed for each statement execute function pieces_changed();

create function runs_changed() returns trigger language plpgsql as $$
begin
    update trainee
    set evidence_version = evidence_version + 1,
        changed = case when '' = any(trainee.changed) then trainee.changed else trainee.changed || ''::text end
    from (select distinct coach_id, trainee_id from changed where ended_at is not null) as touched
    where trainee.coach_id = touched.coach_id and trainee.id = touched.trainee_id;
    return null;
end
$$;
drop trigger test_run_added on test_run;
drop trigger test_run_ended on test_run;
create trigger test_run_added after insert on test_run
    referencing new table as changed for each statement execute function evidence_changed();
create trigger test_run_ended after update on test_run
    referencing new table as changed for each statement execute function runs_changed();

-- one drill's history is asked for by itself
create index evidence_by_drill on evidence (trainee_id, coach_id, drill, at desc) where drill is not null;

-- the rest that was chosen last is asked for among live runs alone
create index test_run_live_by_test on test_run (coach_id, test, started_at desc) where source = 'live';

-- who is planned for which days is asked of everybody at once, and needs no plan read
create function days_of_plan(planned jsonb) returns date[] language sql immutable
    as $$ select coalesce(array_agg((day ->> 'day')::date order by day ->> 'day'), '{}') from jsonb_array_elements(planned -> 'days') as day $$;
alter table plan add column days date[] not null generated always as (days_of_plan(planned)) stored;
create index plan_by_week on plan (coach_id, week, trainee_id, arrived desc);
create index floor_session_open on floor_session (coach_id) where ended_at is null;
