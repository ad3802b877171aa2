"""A room for class nights: its stations by kind, the heights of its boxes, and whether it is a room for a
day out.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from uuid import UUID


@dataclass(frozen=True, slots=True, kw_only=True)
class TrainingRoom:
    """A room as it is kept. `stations`: how many of each kind; `heights`: of a kind in words, as "45 and 60
    cm".
    """

    id: UUID
    name: str
    stations: Mapping[str, int]
    heights: Mapping[str, str]
    day_out: bool
