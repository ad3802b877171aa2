"""Benches: each figure beside a bare reference measured in the same run."""
