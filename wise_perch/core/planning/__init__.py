"""What to do and how much: doses, a session and a week that fit the time, and a session as it runs."""
