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
