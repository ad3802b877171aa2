"""What is known of a trainee whatever the day: marks of every drill, what tests said, and what the past asks.

Made once from everything, and made again only for the drills that changed.
"""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache
from hashlib import sha256

from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import (
    Case,
    JudgedCase,
    Past,
    evidence_of_ended_run,
    judge_marks,
    newest_runs,
    recall_past,
)
from wise_perch.core.trainee.history import History, Older
from wise_perch.core.trainee.marks import Marks, mark_evidence
from wise_perch.core.trainee.stored import EndedRun


@dataclass(frozen=True, slots=True, kw_only=True)
class Known:
    """`told`: what every ended run says about drills. `newest`: the newest ended run of each test."""

    marks: Mapping[str, Mapping[str, Marks]]
    told: tuple[Evidence, ...]
    newest: tuple[EndedRun, ...]
    past: Past

    @property
    def last_day(self) -> date:
        """The newest day that anything of it speaks of."""
        days = [m.last_day for of_drill in self.marks.values() for m in of_drill.values() if m.last_day]
        return max([*days, *(r.day for r in self.newest), *(p.day for p in self.told)], default=date.min)


def basis_of(syllabus: Syllabus, *, stature_cm: float | None) -> str:
    """A name for all that what is known is made by: where it is another, everything is made again."""
    return f"{_basis(syllabus)} {stature_cm}"


@lru_cache(maxsize=64)
def _basis(syllabus: Syllabus) -> str:
    """What a syllabus says of it. A syllabus is known by its identity and never changes."""
    drills = [
        (d.drill, d.title, d.gate, d.dial, syllabus.readings[d.drill]) for d in syllabus.drills.values()
    ]
    growth = syllabus.sessions.growth.not_once_days
    said = repr((drills, syllabus.rules, dict(syllabus.tests), growth))
    return sha256(said.encode()).hexdigest()[:16]


def tell_runs(runs: Iterable[EndedRun], syllabus: Syllabus) -> tuple[Evidence, ...]:
    """What ended runs say about drills."""
    return tuple(piece for run in runs for piece in evidence_of_ended_run(run, syllabus))


def know(
    *,
    sets: Iterable[Evidence],
    runs: Sequence[EndedRun],
    syllabus: Syllabus,
    stature_cm: float | None,
) -> Known:
    """Know a trainee from everything that was ever recorded."""
    told = tell_runs(runs, syllabus)
    pieces = [*sets, *told]
    newest = newest_runs(runs, syllabus)
    return Known(
        marks=mark_evidence(pieces, syllabus, stature_cm=stature_cm),
        told=told,
        newest=tuple(newest.values()),
        past=recall_past(newest, pieces, syllabus),
    )


def drills_to_read(
    known: Known, *, changed: Collection[str], runs: Sequence[EndedRun] | None, syllabus: Syllabus
) -> frozenset[str]:
    """The drills whose sets are needed to know a trainee again after sets of `changed` drills came or went;
    `runs`: all ended runs, where those changed.
    """
    of_tests = {p.drill for p in known.told}
    if runs is not None:
        return frozenset({*changed, *of_tests, *(p.drill for p in tell_runs(runs, syllabus))})
    return frozenset({*changed, *of_tests} if of_tests & set(changed) else changed)


def know_again(
    known: Known,
    *,
    drills: Collection[str],
    sets: Iterable[Evidence],
    runs: Sequence[EndedRun] | None,
    syllabus: Syllabus,
    stature_cm: float | None,
) -> Known:
    """Know a trainee again by all `sets` of these `drills` (see drills_to_read); what is known of the others
    stays.
    """
    told = known.told if runs is None else tell_runs(runs, syllabus)
    newest = {r.test: r for r in known.newest} if runs is None else newest_runs(runs, syllabus)
    pieces = [*sets, *(p for p in told if p.drill in drills)]
    marks = {name: of_drill for name, of_drill in known.marks.items() if name not in drills}
    fresh = recall_past(newest, pieces, syllabus)
    not_once = {name: day for name, day in known.past.not_once.items() if name not in drills}
    past, landings_drill = known.past, syllabus.free_tries.landings_drill
    if runs is not None or {p.drill for p in told} & set(drills):
        past = replace(fresh, landings=past.landings)
    landings = fresh.landings if landings_drill in drills else past.landings
    return Known(
        marks={**marks, **mark_evidence(pieces, syllabus, stature_cm=stature_cm)},
        told=told,
        newest=tuple(newest.values()),
        past=replace(past, landings=landings, not_once={**not_once, **fresh.not_once}),
    )


def judge_known(case: Case, known: Known, *, since: date, older: Older) -> JudgedCase:
    """Judge a case of which only the sets and runs from the day `since` on are at hand, by what is known;
    `older` fetches sets from before.
    """

    def fetch(drills: Collection[str] | None) -> Iterable[Evidence]:
        yield from older(drills)
        yield from (p for p in known.told if p.day < since and (drills is None or p.drill in drills))

    at_hand = [*case.sets, *(p for p in known.told if p.day >= since)]
    return judge_marks(case, known.marks, known.past, History(at_hand, since=since, older=fetch))
