"""Wise Perch: measuring, arithmetic and record keeping for hand-balancing coaches."""

__version__ = "0.18.0"
