-- any: Is there a coach at all?
select any_coach_yet()

-- one_first_coach: Let one request at a time add the first coach.
select pg_advisory_xact_lock(7305114220022)

-- add: Add a coach; the transaction must already act as this coach.
insert into coach (id, email, name, password_hash, time_zone)
values (%(id)s, lower(%(email)s), %(name)s, %(password_hash)s, %(time_zone)s)

-- me: The coach the transaction acts as.
select id, name, email, time_zone, rest_s, schools, float_switch_s, sounds from coach where id = current_coach()

-- change_settings: Change what is given, keep what is not.
update coach
set rest_s = coalesce(%(rest_s)s, rest_s), time_zone = coalesce(%(time_zone)s, time_zone), schools = coalesce(%(schools)s, schools),
    float_switch_s = coalesce(%(float_switch_s)s, float_switch_s), sounds = coalesce(%(sounds)s, sounds)
where id = current_coach()

-- for_sign_in: The coach with this email and the hash to check the password against.
select id, password_hash from coach_for_sign_in(%(email)s)

-- keep_hash: Keep a password hash made again with present settings.
update coach set password_hash = %(password_hash)s where id = current_coach()

-- open_session: Open a session for the coach the transaction acts as.
insert into sign_in_session (token_hash, coach_id, expires_at)
values (%(token_hash)s, current_coach(), %(expires_at)s)

-- of_session: Whose session is this, if it is still good?
select coach_of_session(%(token_hash)s, %(moment)s)

-- revoke_session: End one session.
update sign_in_session set revoked_at = %(moment)s where token_hash = %(token_hash)s and revoked_at is null

-- revoke_all: End every session of the coach the transaction acts as.
update sign_in_session set revoked_at = %(moment)s where coach_id = current_coach() and revoked_at is null

-- failures: How often was any of these tried in vain since a moment? The most of them.
select coalesce(max(times), 0) from (
    select count(*) as times from sign_in_failure
    where tried = any(%(tried)s) and at > %(since)s
    group by tried
) as counted

-- add_failure: Note a failed sign-in under each of its names.
insert into sign_in_failure (tried, at) select unnest(%(tried)s::bytea[]), %(moment)s

-- forget_failures: A right password clears what was tried, and old failures go.
delete from sign_in_failure where tried = %(tried)s or at < %(before)s

-- remove: Remove a coach with everything of theirs; only the database's owner may.
delete from coach where email = %(email)s
