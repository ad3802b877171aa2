"""The coach's rules and arithmetic: pure functions and values. It reads no file, no clock and no database."""
