"""What an evening with many goes by, as data."""

from dataclasses import dataclass

from wise_perch.core.trade.decision import Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class StationSort:
    """A kind of station (`high`: with heights of its own): what of the kit it has, which kinds will do as
    well, and how many a hall usually has.
    """

    kind: str
    title: str
    needs: tuple[str, ...]
    also: tuple[str, ...]
    usual: int
    high: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class HandsRules:
    """For how long from the beginning of a block a coach is wanted, min: something spotted, something new,
    an exit that is not proven, a float that is not met.
    """

    spotted_min: Figure
    new_min: Figure
    exit_min: Figure
    wall_to_free_min: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class ClassRules:
    """How an evening with many is laid out."""

    stations: tuple[StationSort, ...]
    hands: HandsRules
    wall_to_free: tuple[str, ...]
    change_over_min: Figure
    longer_min: Figure
    over_min: Figure
    forgotten_nights: Figure
    usual_min: Figure
    caution: str

    def sort(self, kind: str) -> StationSort | None:
        """A kind of station by its name."""
        return next((s for s in self.stations if s.kind == kind), None)
