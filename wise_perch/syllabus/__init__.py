"""The trade as data."""
