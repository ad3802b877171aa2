"""The sheet of a run: a small table of steps, each with where every outcome leads, and how it is walked.

Whoever holds the sheet can go on with a run without asking anybody, in any language.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from wise_perch.core.trade.evidence import Side, Try

ENOUGH = "enough"
"""The end of a run whose tries are all made."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """Where a try leads: the first way whose conditions fit. `outcome`, `below` (of the figure) and `level`
    restrict it.
    """

    to: str
    outcome: str | None = None
    below: float | None = None
    level: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """What to do now: a try in `mode`, on `side`, at one of `levels` (the first is proposed). `say` tells
    what led here.

    `change`: where the run goes on when the coach goes over to the next way of measuring by hand. `whole`:
    what is there already is a whole result, so ending here is no stopping.
    """

    mode: str
    ways: tuple[Way, ...]
    side: Side | None = None
    levels: tuple[float, ...] = ()
    say: str = ""
    change: str = ""
    whole: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """A test laid out for one run. `steps` by name; `enter` says where each mode begins; `ends` why a run is
    over.

    `tries`: the most in each mode. `stacks`: what makes each height, by the height as `level_name` writes it.
    """

    first: str
    steps: Mapping[str, Step]
    enter: Mapping[str, str]
    ends: Mapping[str, str]
    tries: Mapping[str, int]
    stacks: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Now:
    """Where a run stands: the step to do, or why it is over. `number` and `of` count within the step's mode.

    `switched`: the try before was measured in another mode.
    """

    step: Step | None
    over: str
    number: int
    of: int
    switched: bool


def walk_run(sheet: Sheet, tries: Sequence[Try]) -> Now:
    """Say what comes now after these tries, in their order.

    A try made in another mode than the sheet expected (the coach's choice, or a correction made later) moves
    the run there; no try is ever left out of the count.
    """
    at, made = sheet.first, Counter[str]()
    mode_before = ""
    for tried in tries:
        mode = tried.mode or sheet.steps[sheet.first].mode
        if at in sheet.ends or sheet.steps[at].mode != mode:
            by_hand = "" if at in sheet.ends else sheet.steps[at].change
            at = (
                by_hand
                if by_hand in sheet.steps and sheet.steps[by_hand].mode == mode
                else sheet.enter.get(mode, at)
            )
        made[mode] += 1
        mode_before = mode
        if at in sheet.ends:
            continue
        at = _next_step(sheet.steps[at], tried)
        # whatever a coach chooses, each way of measuring has its most tries
        while at not in sheet.ends and made[sheet.steps[at].mode] >= sheet.tries[sheet.steps[at].mode]:
            at = ENOUGH
    if at in sheet.ends:
        return Now(step=None, over=sheet.ends[at], number=len(tries), of=len(tries), switched=False)
    step = sheet.steps[at]
    return Now(
        step=step,
        over="",
        number=made[step.mode] + 1,
        of=sheet.tries[step.mode],
        switched=bool(tries) and step.mode != mode_before,
    )


def _next_step(step: Step, tried: Try) -> str:
    fitting = [
        w
        for w in step.ways
        if w.outcome in (None, tried.outcome)
        and (w.below is None or (tried.value is not None and tried.value < w.below))
    ]
    # a setting that is not on the sheet is read as the nearest that is
    return min(
        fitting, key=lambda w: 0 if w.level is None or tried.level is None else abs(w.level - tried.level)
    ).to


def level_name(level: float) -> str:
    """A setting as the key of a table."""
    return f"{level:g}"
