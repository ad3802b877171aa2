"""The plan on trial: simulated trainees who do what it says, week after week, beside coaches without it."""
