-- every: The coach's kit, thickest first.
select id, kind, thickness_cm, count, note from kit_item where struck_at is null order by kind, thickness_cm desc, id

-- add: Add pieces; the same id again changes nothing.
insert into kit_item (hall_id, id, kind, thickness_cm, count, note)
values (current_hall(), %(id)s, %(kind)s, %(thickness_cm)s, %(count)s, %(note)s)
on conflict (hall_id, id) do nothing

-- change: Change what is written about pieces.
update kit_item set kind = %(kind)s, thickness_cm = %(thickness_cm)s, count = %(count)s, note = %(note)s where id = %(id)s and struck_at is null

-- strike: Strike pieces out; struck out before stays as it was.
update kit_item set struck_at = coalesce(struck_at, %(moment)s) where id = %(id)s

-- restore: Bring pieces back that were struck out.
update kit_item set struck_at = null where id = %(id)s
