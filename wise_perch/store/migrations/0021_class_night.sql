-- Class night: rooms with their stations, evenings with many, and what happens in them.

create table room (
    hall_id uuid not null references hall (id) on delete cascade,
    id uuid not null,
    name text not null,
    -- stations by kind with their count, heights in words, what of the kit is there
    stations jsonb not null,
    heights jsonb not null default '{}',
    day_out boolean not null default false,
    author_id uuid default current_coach(),
    created_at timestamptz not null default now(),
    struck_at timestamptz,
    primary key (hall_id, id)
);
create unique index room_name_taken on room (hall_id, lower(name)) where struck_at is null;

create table class_night (
    hall_id uuid not null references hall (id) on delete cascade,
    id uuid not null,
    day date not null,
    -- as it was laid out before anything happened
    evening jsonb not null,
    -- each one's sheet of a session by trainee, so that the Floor runs what the class was laid out by
    sheets jsonb not null default '{}',
    -- the hash of the display's secret address
    token_hash bytea unique,
    author_id uuid default current_coach(),
    created_at timestamptz not null default now(),
    struck_at timestamptz,
    primary key (hall_id, id)
);
create index class_night_by_day on class_night (hall_id, day desc);

create table class_event (
    hall_id uuid not null,
    id uuid not null,
    class_id uuid not null,
    arrived bigint generated always as identity,
    at timestamptz not null,
    what jsonb not null,
    -- the evening after it, and what of it changed, in words
    evening jsonb not null,
    changed jsonb not null default '[]',
    author_id uuid default current_coach(),
    struck_at timestamptz,
    primary key (hall_id, id),
    foreign key (hall_id, class_id) references class_night (hall_id, id) on delete cascade
);
create index class_event_of_class on class_event (hall_id, class_id, arrived desc);

alter table room enable row level security;
alter table class_night enable row level security;
alter table class_event enable row level security;
create policy own_rows on room using (hall_id = (select current_hall()));
create policy own_rows on class_night using (hall_id = (select current_hall()));
create policy own_rows on class_event using (hall_id = (select current_hall()));
grant select, insert, update on room, class_night, class_event to perch_app;
create trigger room_told after insert or update on room for each row execute function tell_of_hall();
create trigger class_night_told after insert or update on class_night for each row execute function tell_of_hall();
create trigger class_event_told after insert or update on class_event for each row execute function tell_of_hall();

-- whoever has the secret address of a display sees that evening, and nothing else
create function class_of_token(hash bytea) returns table (hall_id uuid, coach_id uuid, class_id uuid)
    language sql stable security definer set search_path = public, pg_temp
    as $$ select hall_id, author_id, id from class_night where token_hash = hash and struck_at is null $$;
revoke execute on function class_of_token(bytea) from public;
grant execute on function class_of_token(bytea) to perch_app;

alter table job drop constraint job_kind;
alter table job add constraint job_kind check (kind in ('plan-weeks', 'rehearsal', 'reports', 'class-night'));

-- who is erased leaves the evenings they were in: their place stays, without a name and without what hurt
create function forget_in_class_nights() returns trigger
    language plpgsql security definer set search_path = public, pg_temp
    as $$
declare
    nobody constant text := '00000000-0000-0000-0000-000000000000';
    was constant jsonb := jsonb_build_array(jsonb_build_object('trainee', old.id));
begin
    update class_night set sheets = sheets - old.id::text, evening = without_trainee(evening, old.id)
    where hall_id = old.hall_id and (evening -> 'people' @> was or sheets ? old.id::text);
    update class_event set evening = without_trainee(evening, old.id), changed = '[]'
    where hall_id = old.hall_id and evening -> 'people' @> was;
    update class_event set what = (what - 'joint' - 'level') || jsonb_build_object('trainee', nobody)
    where hall_id = old.hall_id and what ->> 'trainee' = old.id::text;
    update class_event set what = what || jsonb_build_object('other', nobody)
    where hall_id = old.hall_id and what ->> 'other' = old.id::text;
    return old;
end
$$;
create function without_trainee(evening jsonb, who uuid) returns jsonb language sql immutable as $$
    select jsonb_set(evening, '{people}', coalesce((
        select jsonb_agg(case when person ->> 'trainee' = who::text then person
            || '{"name": "Somebody who was erased", "trainee": "00000000-0000-0000-0000-000000000000", "gone": []}'
            else person end order by n)
        from jsonb_array_elements(evening -> 'people') with ordinality as everybody (person, n)), '[]'))
$$;
create trigger trainee_leaves_class_nights after delete on trainee for each row execute function forget_in_class_nights();
