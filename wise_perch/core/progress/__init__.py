"""A session as it runs, what it comes to as evidence, and its story."""
