"""What is told early of a plan kept and not done, a test overdue, a gate about to go stale. Each once, with
its reason.
"""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from wise_perch.core.trade.session_rules import WrongTurns
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.to_decide import find_due_tests
from wise_perch.core.trainee.wall import State

TurnKind = Literal["not done", "overdue", "goes stale", "load", "programme"]
WEEK_DAYS = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class WrongTurn:
    """One thing told early. `turn` names it for good, so that what is silenced stays so: the same thing at
    another time is another turn. `drill` or `test`: where to go with it.
    """

    turn: str
    kind: TurnKind
    sentence: str
    because: str
    drill: str = ""
    test: str = ""


def kept_since(rules: WrongTurns, *, on: date) -> date:
    """The first day whose plans are looked at for what was not done."""
    return on - timedelta(weeks=int(rules.kept_weeks.value))


def not_done(
    rules: WrongTurns, planned: Sequence[date], done: Collection[date], *, on: date
) -> Iterator[WrongTurn]:
    """A plan that is kept and not done, over the last weeks."""
    first = kept_since(rules, on=on)
    days = [d for d in planned if first <= d < on]
    came = sum(d in done for d in days)
    if len(days) < rules.least_days.value or came >= rules.done_share.value * len(days):
        return
    yield WrongTurn(
        turn=f"not done {on:%Y-%m}",
        kind="not done",
        sentence=(
            f"{came or 'None'} of {len(days)} planned days done in the last"
            f" {rules.kept_weeks.value:.0f} weeks."
        ),
        because="A plan that is not done moves nothing. Fewer or shorter days may fit better.",
    )


def early_turns(case: JudgedCase) -> Iterator[WrongTurn]:
    """What is told early of tests and gates, which needs no history."""
    yield from _overdue(case)
    yield from _going_stale(case)


def _overdue(case: JudgedCase) -> Iterator[WrongTurn]:
    """Tests that are due and have been so for a while."""
    sessions = case.syllabus.sessions
    for matter in find_due_tests(case):
        test = case.syllabus.tests.get(matter.test or "")
        last = (case.past.last or {}).get(matter.test or "")
        if test is None or last is None:
            continue
        after = test.due_after_days or sessions.retest_after_days
        due = last.day + timedelta(days=int(after.value))
        late = (case.on - due).days
        if late >= sessions.wrong_turns.overdue_days.value:
            yield WrongTurn(
                turn=f"overdue {test.test} {last.day.isoformat()}",
                kind="overdue",
                sentence=(
                    f"{test.title} is {late // WEEK_DAYS} weeks overdue, last on"
                    f" {say_day(last.day, case.on)}."
                ),
                because="Doses lean on what it measured then.",
                test=test.test,
            )


def _going_stale(case: JudgedCase) -> Iterator[WrongTurn]:
    """What steps on the way stand on, passed and soon out of date."""
    within = case.syllabus.sessions.wrong_turns.stale_ahead_days.value
    ahead = {s.drill for g in case.goals if not g.reached for s in g.path}
    carried: dict[str, int] = {}
    for name in ahead:
        for need in case.wall.needs_of(name):
            for w in need.any_of:
                carried[w] = carried.get(w, 0) + 1
    for name, many in sorted(carried.items(), key=lambda pair: (-pair[1], pair[0])):
        d = case.drills.get(name)
        if d is None or d.state not in (State.MET, State.PROVEN) or d.stale_on is None or d.last_pass is None:
            continue
        left = (d.stale_on - case.on).days
        if 0 <= left <= within:
            steps = f"{many} step{'s' if many > 1 else ''} ahead {'stand' if many > 1 else 'stands'} on it."
            yield WrongTurn(
                turn=f"goes stale {name} {d.stale_on.isoformat()}",
                kind="goes stale",
                sentence=(
                    f"{d.title} goes out of date on {say_day(d.stale_on, case.on)}, last shown on"
                    f" {say_day(d.last_pass, case.on)}."
                ),
                because=f"{steps} One clean set keeps it.",
                drill=name,
            )
