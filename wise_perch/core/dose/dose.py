"""A dose worked out for one trainee on one day, and what all doses have in common."""

from dataclasses import dataclass, replace
from typing import Literal

from wise_perch.core.dose.setting import DialSetting
from wise_perch.core.trade.content import DoseRule, Drill
from wise_perch.core.trade.evidence import Evidence, Measure
from wise_perch.core.trade.gates import Range, say_amount
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.marks import at_setting
from wise_perch.core.trainee.wall import State

Way = Literal[
    "hold",
    "reps",
    "lowering",
    "singles",
    "links",
    "minute",
    "staircase",
    "rounds",
    "touches",
    "stretch",
    "distance",
]
"""How a dose is worked on the floor. Its measure says what is written down."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Then:
    """What follows each set at once, as the wall hold of a strength round: `each` in the unit of its
    measure.
    """

    drill: str
    title: str
    each: float
    measure: Measure
    words: str = ""

    def __post_init__(self) -> None:
        """Say it: "30 s back-to-wall hold"."""
        object.__setattr__(self, "words", f"{say_amount(self.each, self.measure)} {self.title.lower()}")


@dataclass(frozen=True, slots=True, kw_only=True)
class DayDose:
    """A drill's dose on one day.

    `sets` between `least` and `most`; `each` in the unit of `measure` (seconds, reps, cm; 1 for a single
    try); `first` is asked of the first set where a gate is within reach; where `open_set`, the first set goes
    on as long, or as often, as it stays clean, up to the `ceiling`. `work_s` and `rest_s` a set, both
    sides of it; `every_minute`: one set each minute. `mode` and `window_s`: how it is written down. `share`
    of body weight on the hands, and `load_s` a set in body-weight seconds, where known. `place`: where it is
    set up, in words: the dial's setting, or a distance that is no dial. `amount`, `each_words` and
    `first_words` say the dose, each set and the first one.
    """

    drill: str
    way: Way
    measure: Measure
    sets: int
    least: int
    most: int
    each: float
    first: float | None = None
    open_set: bool = False
    ceiling: float | None = None
    sides: int = 1
    mode: str | None = None
    window_s: float | None = None
    work_s: float
    rest_s: float
    every_minute: bool = False
    dial: DialSetting | None = None
    place: str = ""
    then: Then | None = None
    share: float | None = None
    load_s: float = 0.0
    because: tuple[Because, ...] = ()
    amount: str = ""
    each_words: str = ""
    first_words: str = ""

    def __post_init__(self) -> None:
        """Say the dose, so that nobody else has to."""
        object.__setattr__(self, "each_words", say_amount(self.each, self.measure))
        object.__setattr__(self, "first_words", self._say_first())
        object.__setattr__(self, "amount", self._say())
        if self.dial is not None:
            object.__setattr__(self, "place", self.dial.words)

    @property
    def set_s(self) -> float:
        """One set with the rest behind it, s."""
        return max(60.0, self.work_s) if self.every_minute else self.work_s + self.rest_s

    @property
    def length_s(self) -> float:
        """The whole dose, s; nobody rests after the last set."""
        return self.sets * self.set_s - (0 if self.every_minute else self.rest_s) + self.first_s

    @property
    def first_s(self) -> float:
        """How much longer the first set may take than the others, s: an open one is given its time up to the
        ceiling, a second for a second, three for a rep.
        """
        if not self.open_set or self.ceiling is None or self.each <= 0:
            return 0.0
        return max(0.0, (self.ceiling / self.each - 1) * self.work_s)

    def _say_first(self) -> str:
        if self.open_set and self.ceiling is not None:
            kind = "as long" if self.measure in (Measure.HOLD, Measure.LOWERING) else "as many"
            kind = "as far" if self.measure is Measure.DISTANCE else kind
            return f"{kind} as stays clean, at most {say_amount(self.ceiling, self.measure)}"
        return "" if self.first is None else say_amount(self.first, self.measure)

    def _say(self) -> str:
        """The dose as it is said: "3 × 4 s", "10 singles", "5 min, 1 rep each minute"."""
        each, side = say_amount(self.each, self.measure), " a side" if self.sides > 1 else ""
        match self.way:
            case "singles":
                return f"{self.sets} {'try' if self.sets == 1 else 'singles'}{side}"
            case "minute":
                what = (
                    f"{self.each:g} {'rep' if self.each == 1 else 'reps'}"
                    if self.measure is Measure.REPS
                    else f"one of {each}"
                )
                return f"{self.sets} min, {what} each minute"
            case "rounds" if self.then:
                return f"{self.sets} rounds of {self.each:g} and {self.then.words}"
            case "touches":
                return f"{self.sets} × {self.window_s or 0:g} s, count the touches"
            case "stretch":
                return f"{self.sets} × {self.work_s / max(1, self.sides):g} s{side}"
            case _:
                held = f", each with a {self.then.words}" if self.then else ""
                rest = f"{self.sets - 1} × {each}{side}" if self.sets > 1 else ""
                if self.open_set:
                    return f"1 open set{side}{f', then {rest}' if rest else ''}{held}"
                return f"{self.sets} × {each}{side}{held}"


def asked_of(dose: DayDose, *, done: int) -> float | None:
    """What the next set asks for when `done` sets are over, each side counted; None for an open one, and
    where each try or window is itself what is measured.
    """
    first = done < dose.sides
    if dose.measure is Measure.RATE or dose.way in ("singles", "touches", "stretch") or dose.mode is not None:
        return None
    if first and dose.open_set:
        return None
    return dose.first if first and dose.first is not None else dose.each


def with_sets(dose: DayDose, sets: int) -> DayDose:
    """The same dose with another number of sets."""
    return replace(dose, sets=sets)


def sides_of(drill: Drill) -> int:
    """How many sides a set has."""
    return 2 if drill.gate.each_side else 1


def gate_try(
    drill: Drill, best: Evidence | None, set_to: DialSetting | None, case: JudgedCase
) -> tuple[float | None, tuple[Because, ...]]:
    """The first set asks for the gate where it is within reach, or waits for its second day."""
    gate, rules, stands = drill.gate, case.syllabus.sessions, case.drills[drill.drill]
    there = gate.at is None or (set_to is not None and gate.at.holds(set_to.setting))
    if gate.mode or not there:
        return None, ()
    if stands.state is State.MET:
        by = (
            f" by {say_day(stands.prove_by, case.on)}"
            if stands.prove_by and stands.prove_by >= case.on
            else ""
        )
        return gate.value, (
            Because(
                text=f"The first set is for the gate. Clean{by}, and it is proven.",
                origin=case.syllabus.rules.proven_within_days.origin,
            ),
        )
    if (
        best
        and at_setting(best, gate, stature_cm=case.stature_cm)
        and best.value >= rules.gate_try_from.value * gate.value
    ):
        return gate.value, (
            Because(
                text=(
                    f"The first one for the gate, {say_amount(gate.value, gate.measure)}: it is within reach."
                ),
                origin=rules.gate_try_from.origin,
            ),
        )
    return None, ()


def sets_of(rule: DoseRule, case: JudgedCase, *, reps: bool = False) -> Range:
    """The rule's own number of sets, or the usual one."""
    rules = case.syllabus.sessions
    return rule.sets or (rules.usual_rep_sets if reps else rules.usual_sets)


def because_sets(sets: Range, rest: float, rule: DoseRule) -> Because:
    """Why so many sets and such a rest, with the rule's own words."""
    said = f" {rule.words}" if rule.words else ""
    return Because(text=f"{sets.text} sets, rest {rest:g} s.{said}", origin=rule.said or sets.origin)
