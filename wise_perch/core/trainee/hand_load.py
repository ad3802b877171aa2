"""What was carried on the hands: each set and each try by the trainee's own size, day by day."""

from collections import defaultdict
from collections.abc import Iterator, Mapping
from datetime import date

from wise_perch.core.body.loads import HandLoad, hand_load, share_of
from wise_perch.core.body.segments import Body
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Evidence, Form, Measure
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.stored import EndedRun


class LoadReckoner:
    """Works hand-loads out for one body; a drill at one setting comes again and again, and its share is
    worked out once.
    """

    def __init__(self, syllabus: Syllabus, body: Body | None) -> None:
        """Reckon by the `syllabus`'s mechanics, for `body` or, while it is not known, by what is fixed."""
        self._syllabus, self._body = syllabus, body
        self._shares: dict[tuple[str, tuple[tuple[str, float], ...]], tuple[float, str] | None] = {}

    def load(
        self,
        drill: Drill,
        *,
        measure: Measure,
        value: float,
        n: int | None,
        window_s: float | None,
        dial: Mapping[str, float],
    ) -> HandLoad | None:
        """The hand-load of one piece of work; None where no share is known or nothing is carried. Single
        tries count their usual time.
        """
        key = (drill.drill, tuple(sorted(dial.items())))
        if key not in self._shares:
            self._shares[key] = share_of(self._syllabus.mechanics, drill, self._body, dial)
        if measure is Measure.RATE:
            measure, value = Measure.HOLD, (n or 0) * self._syllabus.sessions.single_s.value
        return hand_load(
            self._syllabus.mechanics, self._shares[key], measure=measure, value=value, window_s=window_s
        )


def work_of(case: JudgedCase, *, since: date) -> Iterator[tuple[Drill, Evidence]]:
    """Everything that was worked from a day on, each set and each try with its drill. Raises ValueError for
    days before those that are at hand.
    """
    if since < case.history.since:
        raise ValueError("The work of days before those at hand is not known here.")
    for piece in case.sets:
        drill = case.syllabus.drills.get(piece.drill)
        if piece.day >= since and drill is not None:
            yield drill, piece
    for run in case.runs:
        if run.day >= since:
            yield from _tries_as_work(run, case.syllabus)


def loads_by_day(case: JudgedCase, *, since: date) -> dict[date, float]:
    """Body-weight seconds carried on each day from `since` on, by recorded sets and by the tries of tests."""
    reckoner, found = LoadReckoner(case.syllabus, case.body), defaultdict[date, float](float)
    for drill, piece in work_of(case, since=since):
        found[piece.day] += _seconds_held(reckoner, drill, piece)
    return {day: seconds for day, seconds in sorted(found.items()) if seconds}


def _seconds_held(reckoner: LoadReckoner, drill: Drill, piece: Evidence) -> float:
    load = reckoner.load(
        drill, measure=piece.measure, value=piece.value, n=piece.n, window_s=piece.window_s, dial=piece.dial
    )
    return load.seconds if load else 0.0


def _tries_as_work(run: EndedRun, syllabus: Syllabus) -> Iterator[tuple[Drill, Evidence]]:
    """Each try of a run that has a figure, as work on the drill it loads, at the setting it was made at."""
    test = syllabus.tests.get(run.test)
    drill = syllabus.drills.get(run.subject or syllabus.mechanics.test_drills.get(run.test, ""))
    if test is None or drill is None:
        return
    for tried in run.tries:
        if tried.value is None:
            continue
        mode = test.mode(tried.mode)
        level = {drill.dial.name: tried.level} if tried.level is not None and drill.dial else {}
        form = tried.form or Form.CLEAN
        yield (
            drill,
            Evidence(
                drill=drill.drill,
                day=run.day,
                measure=mode.measure,
                value=tried.value,
                window_s=mode.window_s.value if mode.window_s else None,
                form=form,
                dial={**level, **run.dial},
            ),
        )
