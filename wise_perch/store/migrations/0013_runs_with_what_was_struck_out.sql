-- A run is read with what was struck out of it; the index that keeps a try's number once leaves that out, so that reading one trainee's
-- runs looked through the evidence of everybody.
create index evidence_by_run on evidence (coach_id, test_run_id) where test_run_id is not null;
-- the rest that was chosen last for a test is asked whenever one is made ready
create index test_run_by_test on test_run (coach_id, test, started_at desc);
