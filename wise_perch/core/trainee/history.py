"""What a trainee did, drill by drill: what is recent at hand, what is older fetched where it is asked for."""

from collections import defaultdict
from collections.abc import Callable, Collection, Iterable, Sequence
from datetime import date, timedelta
from operator import attrgetter

from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.syllabus import Syllabus

Older = Callable[[Collection[str] | None], Iterable[Evidence]]
"""Gives all evidence of these drills, or of every drill, from before what is at hand."""
BY_DAY = attrgetter("day")
ONE_BY_ONE = 2
"""So many times drills are fetched by themselves; then all that is left is, at once."""


def recent_since(syllabus: Syllabus, *, on: date) -> date:
    """The first day of what most rooms ask for: what tells something of a dose, is not stale, failed of late
    or counts as load of the weeks before a week.
    """
    sessions = syllabus.sessions
    days = max(
        sessions.recent_days.value,
        syllabus.rules.stale_after_days.value,
        sessions.failed.days.value,
        7 * (sessions.ramp_weeks.value + 1),
    )
    return on - timedelta(days=int(days) + 1)


def _nothing(_: Collection[str] | None) -> Iterable[Evidence]:
    return ()


class History:
    """All evidence of a trainee up to a day. `at_hand` is all of it from `since` on; `older` fetches what was
    before.
    """

    def __init__(
        self, at_hand: Iterable[Evidence], *, since: date = date.min, older: Older = _nothing
    ) -> None:
        """Sort what is at hand; nothing is fetched yet."""
        self.since = since
        self.at_hand = sorted(at_hand, key=BY_DAY)
        self._older = older
        self._recent: dict[str, list[Evidence]] = defaultdict(list)
        for piece in self.at_hand:
            self._recent[piece.drill].append(piece)
        self._whole: dict[str, Sequence[Evidence]] = {}
        self._every = since == date.min
        self._times = 0

    def fetch(self, drills: Collection[str]) -> None:
        """Have the whole history of these drills at hand, asking once for all that is not."""
        missing = [d for d in dict.fromkeys(drills) if d not in self._whole]
        if self._every or not missing:
            return
        self._times += 1
        if self._times > ONE_BY_ONE:
            self.every()
            return
        self._keep(missing, self._older(missing))

    def _keep(self, drills: Iterable[str], older: Iterable[Evidence]) -> None:
        found: dict[str, list[Evidence]] = {d: [] for d in drills}
        for piece in older:
            found[piece.drill].append(piece)
        for drill, pieces in found.items():
            self._whole[drill] = [*sorted(pieces, key=BY_DAY), *self._recent.get(drill, ())]

    def of(self, drill: str) -> Sequence[Evidence]:
        """Everything that was ever done of a drill, oldest first."""
        if not self._every:
            self.fetch((drill,))
        return self._whole[drill] if drill in self._whole else self._recent.get(drill, ())

    def of_since(self, drill: str, day: date) -> Sequence[Evidence]:
        """What was done of a drill from a day on, oldest first."""
        pieces = self._recent.get(drill, ()) if day >= self.since else self.of(drill)
        return [p for p in pieces if p.day >= day]

    def all_since(self, day: date) -> Sequence[Evidence]:
        """What was done of anything from a day on, oldest first."""
        pieces = self.at_hand if day >= self.since else self.every()
        return [p for p in pieces if p.day >= day]

    def every(self) -> Sequence[Evidence]:
        """Everything that was ever done."""
        if not self._every:
            older: dict[str, list[Evidence]] = defaultdict(list)
            for piece in self._older(None):
                older[piece.drill].append(piece)
            drills = {*older, *self._recent, *self._whole}
            self._keep(drills, [p for pieces in older.values() for p in pieces])
            self._every = True
        if self._whole:
            return [p for pieces in self._whole.values() for p in pieces]
        return self.at_hand
