-- Groups with their evenings, whom to call, a guardian's consent, a sample trainee, and one calendar for the whole hall.

create table training_group (
    hall_id uuid not null references hall (id) on delete cascade,
    id uuid not null,
    name text not null,
    -- the evenings it trains on: weekday (0 is Monday), time of day, minutes
    evenings jsonb not null default '[]',
    author_id uuid default current_coach(),
    created_at timestamptz not null default now(),
    struck_at timestamptz,
    primary key (hall_id, id)
);
create unique index training_group_name_taken on training_group (hall_id, lower(name)) where struck_at is null;

create table group_member (
    hall_id uuid not null,
    group_id uuid not null,
    trainee_id uuid not null,
    since timestamptz not null default now(),
    struck_at timestamptz,
    primary key (hall_id, group_id, trainee_id),
    foreign key (hall_id, group_id) references training_group (hall_id, id) on delete cascade,
    foreign key (hall_id, trainee_id) references trainee (hall_id, id) on delete cascade
);
alter table training_group enable row level security;
alter table group_member enable row level security;
create policy own_rows on training_group using (hall_id = (select current_hall()));
create policy own_rows on group_member using (hall_id = (select current_hall()));
grant select, insert, update on training_group, group_member to perch_app;
create trigger group_told after insert or update on training_group for each row execute function tell_of_hall();

-- whom to call, and for a minor who agreed and when; read by coaches alone, and never part of a judgement
create table trainee_contact (
    hall_id uuid not null,
    trainee_id uuid not null,
    contact text not null default '',
    guardian text not null default '',
    consent_day date,
    author_id uuid default current_coach(),
    primary key (hall_id, trainee_id),
    foreign key (hall_id, trainee_id) references trainee (hall_id, id) on delete cascade
);
alter table trainee_contact enable row level security;
create policy own_rows on trainee_contact using (hall_id = (select current_hall()));
grant select, insert, update on trainee_contact to perch_app;

-- a made-up trainee to look round with, who is taken away for good without a receipt: nobody was erased
alter table trainee add column sample boolean not null default false;
create function take_sample_away() returns integer
    language plpgsql security definer set search_path = public, pg_temp
    as $$
declare
    gone integer;
begin
    delete from job where hall_id = current_hall() and trainee_id in (select id from trainee where hall_id = current_hall() and sample);
    delete from trainee where hall_id = current_hall() and sample;
    get diagnostics gone = row_count;
    return gone;
end
$$;
revoke execute on function take_sample_away() from public;
grant execute on function take_sample_away() to perch_app;

-- a secret address may be for the whole hall's calendar, of no trainee alone
alter table share_link alter column trainee_id drop not null;
alter table share_link drop constraint share_link_kind;
alter table share_link add constraint share_link_kind check (kind in ('calendar', 'page', 'hall'));
alter table share_link add constraint share_link_of_somebody check ((kind = 'hall') = (trainee_id is null));

-- what of the first evening a hall has behind it or left out, and which screens somebody was told about
alter table hall add column first_evening text[] not null default '{}';
alter table coach add column told text[] not null default '{}';
-- who was here before knows the rooms
update coach set told = '{*}';
update hall set first_evening = '{*}';
