"""Where a dial has its limit, day by day."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from itertools import groupby

from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import REMEMBERED, Evidence, Form, Teller
from wise_perch.core.trade.gates import FALLING
from wise_perch.core.trainee.marks import compares_with, is_enough


@dataclass(frozen=True, slots=True, kw_only=True)
class Limit:
    """The hardest setting of a dial that was passed on a day, in the dial's unit."""

    day: date
    setting: float
    by: Teller


def find_limits(drill: Drill, pieces: Iterable[Evidence]) -> tuple[Limit, ...]:
    """The hardest setting of each day that was passed: clean, and enough for the gate or done as asked, or
    remembered as the limit of a test. Oldest first.
    """
    dial, gate = drill.dial, drill.gate
    if dial is None:
        return ()
    sign = -1 if dial.harder in FALLING else 1

    def passed(p: Evidence) -> bool:
        enough = compares_with(p, gate) and is_enough(p.value, p.n, gate)
        return p.form is Form.CLEAN and (p.mode == REMEMBERED or p.as_asked or enough)

    mine = [p for p in pieces if p.drill == drill.drill and dial.name in p.dial and passed(p)]
    found = []
    for day, same in groupby(sorted(mine, key=lambda p: p.day), key=lambda p: p.day):
        best = max(same, key=lambda p: sign * p.dial[dial.name])
        found.append(Limit(day=day, setting=best.dial[dial.name], by=best.by))
    return tuple(found)


def came_harder(drill: Drill, pieces: Iterable[Evidence], *, since: date) -> tuple[Limit, Limit] | None:
    """The hardest limit up to a day and the hardest one after it, where that is harder by a step or more."""
    dial, limits = drill.dial, find_limits(drill, pieces)
    if dial is None:
        return None
    sign = -1 if dial.harder in FALLING else 1
    before = max((x for x in limits if x.day <= since), key=lambda x: sign * x.setting, default=None)
    after = max((x for x in limits if x.day > since), key=lambda x: sign * x.setting, default=None)
    step = dial.step.value if dial.step else LEAST_STEP
    if before and after and sign * (after.setting - before.setting) >= step:
        return before, after
    return None


LEAST_STEP = 1.0
"""Where a dial has no step of its own, so much of its unit is one. Ours."""
