-- every: Every group with who is in it, by name.
select id, name, evenings, coalesce((select json_agg(trainee_id order by trainee_id) from group_member
    join trainee on trainee.hall_id = group_member.hall_id and trainee.id = group_member.trainee_id and trainee.struck_at is null
    where group_member.hall_id = training_group.hall_id and group_id = training_group.id and group_member.struck_at is null), '[]') as members
from training_group where struck_at is null order by lower(name)

-- add: Add a group; the same id again changes nothing.
insert into training_group (hall_id, id, name, evenings) values (current_hall(), %(id)s, %(name)s, %(evenings)s)
on conflict (hall_id, id) do nothing

-- hold: Keep everybody else from changing a group until this transaction ends.
select id from training_group where id = %(id)s and struck_at is null for update

-- change: Change a group's name and evenings.
update training_group set name = %(name)s, evenings = %(evenings)s where id = %(id)s and struck_at is null

-- put_members: Have these trainees in a group, and nobody else.
with others as (
    update group_member set struck_at = now() where group_id = %(id)s and struck_at is null and trainee_id <> all(%(members)s)
)
insert into group_member (hall_id, group_id, trainee_id)
select current_hall(), %(id)s, trainee.id from trainee where trainee.id = any(%(members)s) and trainee.struck_at is null
on conflict (hall_id, group_id, trainee_id) do update set struck_at = null

-- strike: Strike a group out; struck out before stays as it was.
update training_group set struck_at = coalesce(struck_at, %(moment)s) where id = %(id)s

-- restore: Bring a group back that was struck out.
update training_group set struck_at = null where id = %(id)s

-- contact: Whom to call, and a guardian's consent.
select contact, guardian, consent_day from trainee_contact where trainee_id = %(trainee)s

-- put_contact: Keep whom to call, and a guardian's consent.
insert into trainee_contact (hall_id, trainee_id, contact, guardian, consent_day)
values (current_hall(), %(trainee)s, %(contact)s, %(guardian)s, %(consent_day)s)
on conflict (hall_id, trainee_id) do update
set contact = excluded.contact, guardian = excluded.guardian, consent_day = excluded.consent_day, author_id = current_coach()

-- mark_sample: Mark a trainee as made up, to look round with.
update trainee set sample = true where id = %(trainee)s

-- sample: The sample trainee, if there is one.
select id from trainee where sample and struck_at is null limit 1

-- take_sample_away: Take the sample trainee away for good.
select take_sample_away()
