"""A goal's road: what fell when, what remains in its order, and the chance of each."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from wise_perch.core.progress.forecast import Chance, find_forecast, said_chances
from wise_perch.core.progress.series import gate_series
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_day, within
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.course_brief import first_pass
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.marks import TraineeMarks


@dataclass(frozen=True, slots=True, kw_only=True)
class Fallen:
    """A gate that fell: the first day of passing, and the day it was proven where it is."""

    drill: str
    title: str
    day: date
    proven_on: date | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Ahead:
    """A step that remains: what is missing, whether it is open, and the chances of its gate within so many
    weeks; `because` where nothing is known.
    """

    drill: str
    title: str
    open: bool
    sentence: str
    chances: dict[int, Chance]
    because: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Road:
    """The way to one goal. `fallen` in the order of days, `ahead` in an order it can be done."""

    goal: str
    title: str
    reached: bool
    fallen: tuple[Fallen, ...]
    ahead: tuple[Ahead, ...]
    sentence: str


def find_road(goal: GoalStanding, case: JudgedCase) -> Road:
    """Find the road to a goal as it stands."""
    syllabus, marks = case.syllabus, case.wall.marks
    ahead = {s.drill for s in goal.path}
    names = [d for d in syllabus.leads_to[goal.goal] if d not in ahead]
    fallen = sorted(
        (
            Fallen(
                drill=name,
                title=syllabus.drills[name].title,
                day=day,
                proven_on=_proven_on(name, marks, syllabus),
            )
            for name in names
            if (day := first_pass(name, marks, syllabus)) is not None
        ),
        key=lambda f: (f.day, f.title),
    )
    case.history.fetch(ahead)
    steps = tuple(_step_ahead(s.drill, s.sentence, s.kind != "closed", case) for s in goal.path)
    return Road(
        goal=goal.goal,
        title=goal.title,
        reached=goal.reached,
        fallen=tuple(fallen),
        ahead=steps,
        sentence=_say_road(goal, fallen, case.on),
    )


def _proven_on(drill: str, marks: TraineeMarks, syllabus: Syllabus) -> date | None:
    own = marks.get(drill, {})
    days = [m.proven_on if (m := own.get(r.key)) else None for r in syllabus.gate_readings[drill]]
    known = [d for d in days if d is not None]
    return max(known) if known and len(known) == len(days) else None


def _step_ahead(drill: str, sentence: str, open: bool, case: JudgedCase) -> Ahead:
    d = case.syllabus.drills[drill]
    series = gate_series(d, case.history.of(drill), stature_cm=case.stature_cm)
    found = find_forecast(series, on=case.on)
    return Ahead(
        drill=drill,
        title=d.title,
        open=open,
        sentence=sentence,
        chances=said_chances(found.chances),
        because=found.because,
    )


def _say_road(goal: GoalStanding, fallen: Sequence[Fallen], on: date) -> str:
    if goal.reached:
        return goal.reached_sentence
    done, left = len(fallen), len(goal.path)
    steps = f"{left} step{'s' if left != 1 else ''} ahead"
    if not done:
        return f"None passed yet, {steps}."
    newest = fallen[-1]
    last = f"{within(newest.title)} on {say_day(newest.day, on)}"
    return f"{done} passed, {steps}. The last was {last}."
