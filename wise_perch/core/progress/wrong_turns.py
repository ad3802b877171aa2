"""Wrong turns, told early: beside what is told of plans, tests and gates a load beyond the ramp, and a
programme changed before it could work. Each once, with its reason.
"""

from collections.abc import Collection, Iterator, Sequence
from datetime import date, timedelta

from wise_perch.core.progress.events import CHANGES, Event
from wise_perch.core.progress.load import LoadWeek
from wise_perch.core.trade.words import capitalise, say_day
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.early import WrongTurn, early_turns, not_done


def find_wrong_turns(
    case: JudgedCase,
    *,
    planned: Sequence[date] = (),
    done: Collection[date] = (),
    events: Sequence[Event] = (),
    weeks: Sequence[LoadWeek] = (),
    silenced: Collection[str] = (),
) -> tuple[WrongTurn, ...]:
    """What is told early of a case, without what was silenced. `planned`: the days of plans; `done`: the days
    on which anything was recorded; `weeks`: the load, the present week last.
    """
    found = [
        *not_done(case.syllabus.sessions.wrong_turns, planned, done, on=case.on),
        *early_turns(case),
        *_beyond(weeks, case),
        *_programme(events, case),
    ]
    return tuple(t for t in found if t.turn not in silenced)


def _beyond(weeks: Sequence[LoadWeek], case: JudgedCase) -> Iterator[WrongTurn]:
    """This week's load, or the last one's, beyond the ramp."""
    for w in weeks[-2:]:
        if w.beyond and w.most_s is not None:
            when = "this week" if w.running else f"in the week of {say_day(w.week, case.on)}"
            yield WrongTurn(
                turn=f"load {w.week.isoformat()}",
                kind="load",
                sentence=(
                    f"{w.load_s:.0f} s of body weight on the hands {when}. The ramp was {w.most_s:.0f} s."
                ),
                because=(
                    "Wrists and elbows follow more slowly than strength. A lighter week now costs less than a"
                    " break."
                ),
            )


def _programme(events: Sequence[Event], case: JudgedCase) -> Iterator[WrongTurn]:
    """A goal, school or syllabus that has just changed."""
    weeks = case.syllabus.sessions.wrong_turns.programme_weeks
    first = case.on - timedelta(weeks=int(weeks.value))
    changes = [e for e in events if e.kind in CHANGES and first < e.day <= case.on]
    if changes:
        last = changes[-1]
        yield WrongTurn(
            turn=f"programme {last.day.isoformat()}",
            kind="programme",
            sentence=f"{capitalise(last.words)}, on {say_day(last.day, case.on)}.",
            because=f"Give it {weeks.value:.0f} weeks: changing now is the common loss.",
        )
