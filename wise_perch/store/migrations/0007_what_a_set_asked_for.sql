-- What a set asked for: done as asked it is a lower bound, an open one (null) measures the best.
-- A refusal of more than is plausible stands in the core; here only what no set ever asks for.

alter table evidence add column asked double precision constraint evidence_asked_within_reason check (asked between 0 and 1000000);

-- what was judged by the rules before is judged again
truncate trainee_brief;
