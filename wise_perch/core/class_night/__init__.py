"""Class night: many trainees, few stations, one pair of eyes."""
