"""A set that a trainee tells of a day that nobody saw."""

from wise_perch.core.dose.dose import DayDose, asked_of
from wise_perch.core.floor.walk import FloorEvent
from wise_perch.core.trade.evidence import Form
from wise_perch.core.week.week_plan import Block


def worked_dose(block: Block) -> DayDose | None:
    """The dose of a block that a trainee can tell of; None where nothing is counted in it."""
    return block.dose if block.kind == "work" else None


def told_set(block: Block, dose: DayDose, *, slot: int, number: int, value: float) -> FloorEvent:
    """A told set as it stands among what happened: against what was asked of it, and with its form not seen.

    `slot`: the block's place in the session; `number`: of the set in it, from 0.
    """
    return FloorEvent(
        kind="set",
        slot=slot,
        key=block.key,
        value=value,
        asked=asked_of(dose, done=number),
        form=Form.LOOSE,
        setting=dose.dial.setting if dose.dial else None,
    )
