"""The body as a planar chain of segments: its own size against wall, box, floor and pads.

x runs along the floor, z upward, the wrist is the origin; lengths in m, masses in kg, angles in radians
unless a name ends in `_cm` or `_deg`. It is a sketch of a body, not a measurement.
"""
