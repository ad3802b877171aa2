"""A week of sessions: the question, what it could be made of, the solver, the plan."""
