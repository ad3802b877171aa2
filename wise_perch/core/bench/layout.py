"""Laying a test out as the sheet of one run: tries in a row, and ladders through the settings that can be
made.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from wise_perch.core.bench.run_sheet import ENOUGH, Sheet, Step, Way, level_name
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Side
from wise_perch.core.trade.protocol import Ladder, Mode, Rung, Test, exact_rungs


def lay_out(
    test: Test,
    *,
    subject: Drill | None = None,
    rungs: Mapping[str, Sequence[Rung]] | None = None,
    starts: Mapping[str, float] | None = None,
    early_below: float | None = None,
    first_side: Side = Side.RIGHT,
) -> Sheet:
    """Lay a test out as the sheet of one run.

    Args: `subject` the drill it is run for, where the test has several; `rungs` the settings that can be
    made, by mode, from easy to hard (every notch where a mode is left out); `starts` the setting a mode
    begins at, by mode; `early_below` the coach's own figure for going over to counting; `first_side` where
    both sides are tested.
    """
    both = test.sides or bool(subject and subject.gate.each_side)
    sides: tuple[Side | None, ...] = (
        (first_side, Side.LEFT if first_side == Side.RIGHT else Side.RIGHT) if both else (None,)
    )
    laid = _Laid()
    climbs: dict[str, _Climb] = {}
    # the last mode first, so that a ladder knows where it leads
    for mode in reversed(test.modes):
        if mode.ladder:
            made = tuple((rungs or {}).get(mode.mode) or exact_rungs(mode.ladder))
            laid.stacks |= {level_name(r.level): r.stack for r in made if r.stack}
            climb = _Climb(mode, mode.ladder, made, climbs.get(mode.then), laid)
            climbs[mode.mode] = climb
            laid.enter[mode.mode] = climb.begin((starts or {}).get(mode.mode, mode.ladder.start.value))
        else:
            laid.steps |= dict(
                _plain_steps(mode, sides, early_below, enough=int(test.usual_tries.value) * len(sides))
            )
            laid.enter[mode.mode] = f"{mode.mode} 1"
    tries = {m.mode: int(m.tries.value) * len(sides) for m in test.modes}
    return Sheet(
        first=laid.enter[test.modes[0].mode],
        steps=laid.steps,
        enter=laid.enter,
        ends=laid.ends,
        tries=tries,
        stacks=laid.stacks,
    )


@dataclass(slots=True)
class _Laid:
    """What is laid out so far."""

    steps: dict[str, Step] = field(default_factory=dict)
    enter: dict[str, str] = field(default_factory=dict)
    ends: dict[str, str] = field(default_factory=lambda: {ENOUGH: "All tries are made."})
    stacks: dict[str, str] = field(default_factory=dict)


def _plain_steps(
    mode: Mode, sides: Sequence[Side | None], early_below: float | None, *, enough: int
) -> Iterator[tuple[str, Step]]:
    """Tries one like the other; an early end of one may lead to another mode while there are tries left
    here.
    """
    count = int(mode.tries.value) * len(sides)
    change = f"{mode.change.to} 1" if mode.change else ""
    for n in range(1, count + 1):
        ways = [Way(to=f"{mode.mode} {n + 1}" if n < count else ENOUGH)]
        if mode.early and n < count:
            below = mode.early.below.value if early_below is None else early_below
            ways.insert(0, Way(to=f"{mode.early.to} 1", below=below))
        yield (
            f"{mode.mode} {n}",
            Step(
                mode=mode.mode,
                ways=tuple(ways),
                side=sides[(n - 1) % len(sides)],
                change=change,
                whole=n > enough,
            ),
        )


@dataclass(frozen=True, slots=True)
class _Climb:
    """All places of one ladder: the hardest rung passed and the easiest one missed say what to try next."""

    mode: Mode
    ladder: Ladder
    rungs: tuple[Rung, ...]
    then: "_Climb | None"
    laid: _Laid

    def begin(self, level: float) -> str:
        """Lay out every place that can follow from beginning at the rung nearest to `level` (in doubt the
        easier one).
        """
        start = min(range(len(self.rungs)), key=lambda n: (round(abs(self.rungs[n].level - level), 6), n))
        name = f"{self.mode.mode} from {level_name(self.rungs[start].level)}"
        if name not in self.laid.steps:
            todo: list[tuple[int, int]] = []
            levels = list(dict.fromkeys([start, max(0, start - 1)]))
            self._lay(name, -1, len(self.rungs), levels, todo)
            while todo:
                passed, missed = todo.pop()
                if self._name(passed, missed) not in self.laid.steps:
                    self._lay(self._name(passed, missed), passed, missed, self._choices(passed, missed), todo)
        return name

    def _name(self, passed: int, missed: int) -> str:
        low = level_name(self.rungs[passed].level) if passed >= 0 else "none"
        high = level_name(self.rungs[missed].level) if missed < len(self.rungs) else "none"
        return f"{self.mode.mode} passed {low} missed {high}"

    def _lay(
        self, name: str, passed: int, missed: int, levels: Sequence[int], todo: list[tuple[int, int]]
    ) -> None:
        ways = []
        for n in levels:
            for mark in self.mode.marks:
                p, m = (max(passed, n), missed) if mark.passed else (passed, min(missed, n))
                ways.append(Way(outcome=mark.outcome, level=self.rungs[n].level, to=self._to(p, m, todo)))
        self.laid.steps[name] = Step(
            mode=self.mode.mode,
            ways=tuple(ways),
            levels=tuple(self.rungs[n].level for n in levels),
            say=self._say(passed, missed),
            change=self._over(passed, missed) if self.then else "",
            whole=missed < len(self.rungs),
        )

    def _to(self, passed: int, missed: int, todo: list[tuple[int, int]]) -> str:
        if missed == 0 or missed - passed <= 1 or not self._choices(passed, missed):
            return self._over(passed, missed)
        todo.append((passed, missed))
        return self._name(passed, missed)

    def _over(self, passed: int, missed: int) -> str:
        """Where a ladder ends: at the next one, which begins where this one got to, or with a reason."""
        if self.then:
            return self.then.begin(self.rungs[max(passed, 0)].level)
        words = self._words
        if passed < 0:
            why = f"Missed at {words(missed)}, and nothing easier is left to try."
        elif missed >= len(self.rungs) and passed < len(self.rungs) - 1:
            why = (
                f"Passed at {words(passed)}. The next that can be made, {words(passed + 1)}, is more than a"
                f" step of {self.ladder.step.value:g} cm away."
            )
        elif missed >= len(self.rungs):
            why = f"Passed at {words(passed)}, the hardest there is here."
        else:
            why = f"Passed at {words(passed)}, missed at {words(missed)}, and nothing can be made in between."
        key = f"{self._name(passed, missed)} end"
        self.laid.ends[key] = why
        return key

    def _choices(self, passed: int, missed: int) -> list[int]:
        """What is proposed, and beside it an easier notch: going easier is always allowed."""
        last = len(self.rungs) - 1
        if passed < 0:
            # a miss before anything was passed goes back a whole step
            return [
                max(
                    n
                    for n in range(missed)
                    if n == 0 or self._apart(n, missed) >= self.ladder.step.value - 1e-9
                )
            ]
        if missed <= last:
            return [(passed + missed) // 2]
        within = [
            n for n in range(passed + 1, last + 1) if self._apart(passed, n) <= self.ladder.step.value + 1e-9
        ]
        if not within and not self.ladder.strict:
            within = [passed + 1]
        return list(dict.fromkeys([within[-1], within[0]])) if within else []

    def _apart(self, a: int, b: int) -> float:
        return abs(self.rungs[a].level - self.rungs[b].level)

    def _words(self, n: int) -> str:
        return f"{self.rungs[n].level:g} {self.ladder.unit}"

    def _say(self, passed: int, missed: int) -> str:
        last = len(self.rungs) - 1
        if passed < 0 and missed > last:
            return ""
        if passed < 0:
            return f"Missed at {self._words(missed)}: easier first."
        if missed <= last:
            return (
                f"Passed at {self._words(passed)}, missed at {self._words(missed)}: one in between, or end"
                " here."
            )
        return f"Passed at {self._words(passed)}."
