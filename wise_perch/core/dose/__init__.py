"""A dose, and the one rule of where a dial stands."""
