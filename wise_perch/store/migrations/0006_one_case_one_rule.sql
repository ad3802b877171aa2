-- Doses and dials under the names they have now; hand-load is worked out from what was done whenever it is asked for.

update plan set planned = replace(replace(planned::text, '"dosed":', '"dose":'), '"dialled":', '"dial":')::jsonb;
update floor_session set sheet = replace(replace(sheet::text, '"dosed":', '"dose":'), '"dialled":', '"dial":')::jsonb;

-- what was judged by the rules before is judged again
truncate trainee_brief;

drop table hand_load;
