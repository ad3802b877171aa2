-- any: Is there a coach at all?
select any_coach_yet()

-- one_first_coach: Let one request at a time add the first coach.
select pg_advisory_xact_lock(7305114220022)

-- add: Add a coach; the transaction must already act as this coach.
insert into coach (id, email, name, password_hash) values (%(id)s, lower(%(email)s), %(name)s, %(password_hash)s)

-- hold: Keep others from letting this coach into a hall, or giving them a password, until the transaction ends.
select id from coach where id = current_coach() for update

-- me: The coach the transaction acts as.
select id, name, email, rest_s, schools, sounds, volume, vibration, voice, units, dates, decimal, told from coach where id = current_coach()

-- change_settings: Change what is given, keep what is not.
update coach
set rest_s = coalesce(%(rest_s)s, rest_s), schools = coalesce(%(schools)s, schools), sounds = coalesce(%(sounds)s, sounds),
    volume = coalesce(%(volume)s, volume), vibration = coalesce(%(vibration)s, vibration), voice = coalesce(%(voice)s, voice),
    units = coalesce(%(units)s, units), dates = coalesce(%(dates)s, dates), decimal = coalesce(%(decimal)s, decimal)
where id = current_coach()

-- tell_screen: Remember that this coach was told what a screen is for.
update coach set told = array(select distinct unnest(told || %(screen)s::text)) where id = current_coach()

-- for_sign_in: The coach with this email and the hash to check the password against.
select id, password_hash from coach_for_sign_in(%(email)s)

-- change_password: Keep another password's hash, if the one it was checked against is still the present one.
update coach set password_hash = %(password_hash)s where id = current_coach() and password_hash = %(present)s

-- keep_hash: Keep a password hash made again with present settings.
update coach set password_hash = %(password_hash)s where id = current_coach()

-- open_session: Open a session for the coach the transaction acts as.
insert into sign_in_session (token_hash, coach_id, expires_at, device, seen_at, hall_id)
values (%(token_hash)s, current_coach(), %(expires_at)s, %(device)s, now(), %(hall)s)

-- choose_hall: Let a session work in another hall of its coach.
update sign_in_session set hall_id = %(hall)s
where token_hash = %(token_hash)s and revoked_at is null and exists (select from halls_of_coach() as own where own.id = %(hall)s)

-- of_session: Whose session is this, if it is still good?
select coach_id as coach, hall_id as hall, role from member_of_session(%(token_hash)s, %(moment)s)

-- of_token: Whose token for scripts is this, if it was not taken back?
select coach_id as coach, hall_id as hall, role from member_of_api_token(%(token_hash)s, %(moment)s)

-- end_session: End the session of this token, whoever it belongs to.
select end_session(%(token_hash)s, %(moment)s)

-- revoke_others: End every session of the coach the transaction acts as but one.
update sign_in_session set revoked_at = %(moment)s
where coach_id = current_coach() and revoked_at is null and token_hash <> %(but)s

-- sessions: The sessions of this coach that are good, the one seen last first.
select id, created_at as opened_at, seen_at, device, token_hash = %(here)s as here from sign_in_session
where revoked_at is null and expires_at > %(moment)s order by seen_at desc nulls last, id

-- end_one: End one session by its id; ended before stays as it was.
update sign_in_session set revoked_at = coalesce(revoked_at, %(moment)s) where id = %(id)s

-- know_device: Remember that this coach signed in on this browser.
insert into known_device (coach_id, token_hash) values (current_coach(), %(token_hash)s)
on conflict (coach_id, token_hash) do update set struck_at = null

-- forget_devices: Forget every browser this coach signed in on but one.
update known_device set struck_at = %(moment)s where struck_at is null and token_hash <> %(but)s

-- knows_device: Did the coach of this email sign in on this browser?
select knows_device(%(email)s, %(token_hash)s)

-- add_token: Keep the hash of a token for scripts; the same id again changes nothing.
insert into api_token (coach_id, hall_id, id, name, token_hash) values (current_coach(), current_hall(), %(id)s, %(name)s, %(token_hash)s)
on conflict (coach_id, id) do nothing

-- tokens: The tokens for scripts in this hall that were not taken back.
select id, name, created_at as made_at, used_at from api_token where revoked_at is null and hall_id = current_hall() order by created_at desc, id

-- revoke_token: Take a token back; taken back before stays as it was.
update api_token set revoked_at = coalesce(revoked_at, %(moment)s) where id = %(id)s

-- change_email: Give the coach the transaction acts as another email.
update coach set email = lower(%(email)s) where id = current_coach()

-- own_hash: The hash to check this coach's password against.
select password_hash from coach where id = current_coach()

-- count_try: Count one more try under each of these names, those of an older window forgotten, and say how many each has now.
insert into sign_in_try (tried, since, times) select name, %(moment)s, 1 from unnest(%(tried)s::bytea[]) as name order by name
on conflict (tried) do update set
    times = case when sign_in_try.since < %(before)s then 1 else sign_in_try.times + 1 end,
    since = case when sign_in_try.since < %(before)s then excluded.since else sign_in_try.since end
returning tried, times

-- uncount_try: A right password was no guess.
update sign_in_try set times = greatest(times - 1, 0) where tried = any(%(tried)s)

-- forget_tries: A right password clears what was tried under this name, and old tries go.
delete from sign_in_try where tried = %(tried)s or since < %(before)s

-- reset_password: Give the coach of this email another password; only the database's owner may, from outside.
update coach set password_hash = %(password_hash)s where email = lower(%(email)s) returning id

-- reset_sessions: End every session and forget every browser of a coach; only the owner may, from outside.
with ended as (update sign_in_session set revoked_at = now() where coach_id = %(coach)s and revoked_at is null)
update known_device set struck_at = now() where coach_id = %(coach)s and struck_at is null

-- remove_halls: Remove the halls that one of these owns; only the database's owner may.
delete from hall where id in (
    select hall_id from membership join coach on coach.id = membership.coach_id where role = 'owner' and email = any(%(emails)s))

-- remove: Remove coaches; only the database's owner may.
delete from coach where email = any(%(emails)s)
