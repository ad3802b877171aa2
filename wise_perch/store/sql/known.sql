-- kept: What is known of these trainees, and what changed since.
select trainee.id as trainee, trainee.evidence_version as version, trainee.changed, known.basis, known.known
from trainee left join trainee_known as known on known.hall_id = trainee.hall_id and known.trainee_id = trainee.id
where trainee.id = any(%(trainees)s) and trainee.struck_at is null

-- keep: Keep what is known of trainees of whom nothing changed meanwhile and whom nobody else is writing, so that nobody waits for it.
with same as (
    select trainee.id, made.basis, made.known
    from trainee join unnest(%(trainees)s::uuid[], %(versions)s::bigint[], %(bases)s::text[], %(knowns)s::text[])
        as made (id, version, basis, known) on made.id = trainee.id and made.version = trainee.evidence_version
    for update of trainee skip locked
), told as (
    update trainee set changed = '{}' from same where trainee.id = same.id and trainee.changed <> '{}'
)
insert into trainee_known (hall_id, trainee_id, basis, known)
select current_hall(), id, basis, known from same
on conflict (hall_id, trainee_id) do update set basis = excluded.basis, known = excluded.known
