"""A week of sessions as a value: what is wished for, and what is planned, with the reasons."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from wise_perch.core.dose.dose import DayDose
from wise_perch.core.trade.content import Pillar
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trainee.work_on import NextStep


@dataclass(frozen=True, slots=True, kw_only=True)
class DayWish:
    """One day somebody comes: where, for how many minutes, and at what time ("18:00", or empty)."""

    day: date
    place: str
    minutes: int
    time: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Pin:
    """A drill the coach put on a day; `sets` where the coach set them too."""

    day: date
    drill: str
    sets: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Drop:
    """A drill the coach took off a day, or off the whole week (None)."""

    drill: str
    day: date | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Wish:
    """What a week shall be: its Monday, its days, the kit at each place (words of the syllabus), and what the
    coach set by hand.
    """

    week: date
    days: tuple[DayWish, ...]
    kit: Mapping[str, tuple[str, ...]]
    pins: tuple[Pin, ...] = ()
    drops: tuple[Drop, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Loading:
    """Hand-load in body-weight seconds: the mean of the weeks before, and what this week has already
    carried.
    """

    mean_s: float = 0.0
    done_s: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Block:
    """One block of a session: preparation without a drill, a drill with its dose, or a test.

    `key` names it within its week; `start_s` and `length_s` place it in its session. `pinned`: set by hand.
    `siblings`: drills it could be swapped for.
    """

    key: str
    kind: str
    phase: str
    title: str
    start_s: float
    length_s: float
    drill: str = ""
    test: str = ""
    line: str = ""
    pillar: Pillar | None = None
    dose: DayDose | None = None
    about: str = ""
    because: tuple[Because, ...] = ()
    cues: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    joints: tuple[str, ...] = ()
    siblings: tuple[str, ...] = ()
    pinned: bool = False
    stands_out: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class DayPlan:
    """One session: its blocks in their order. `why_empty` where nothing could be planned."""

    day: date
    place: str
    minutes: int
    time: str
    blocks: tuple[Block, ...]
    length_s: float
    load_s: float
    why_empty: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftOut:
    """A drill that is not in the week, and why."""

    drill: str
    title: str
    because: str


@dataclass(frozen=True, slots=True, kw_only=True)
class UnmetWish:
    """A wish that cannot be had as it is, said with its figures; `options` are drills the coach may pin to
    answer it.
    """

    text: str
    options: tuple[str, ...] = ()
    day: date | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class PillarShare:
    """How much of a week's work one pillar gets, s."""

    pillar: Pillar
    title: str
    seconds: float
    holding: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class WeekPlan:
    """A planned week. `load_s` of `load_most_s` body-weight seconds; `load_words` says how that compares;
    `shares` the most first.

    `left_out` with reasons; `questions` name what could not be had; `solved`: the best there is was found.
    `work_on`: what to work on now, as every other place says it.
    """

    week: date
    days: tuple[DayPlan, ...]
    left_out: tuple[LeftOut, ...]
    questions: tuple[UnmetWish, ...]
    shares: tuple[PillarShare, ...]
    load_s: float
    load_most_s: float
    load_words: str
    solved: bool
    work_on: NextStep | None = None

    def blocks(self) -> Mapping[str, Block]:
        """Every block by its key."""
        return {b.key: b for d in self.days for b in d.blocks}


@dataclass(frozen=True, slots=True, kw_only=True)
class Refusal:
    """What the coach set by hand cannot all be had; nothing is planned until one of it gives way."""

    questions: tuple[UnmetWish, ...] = field(default=())


def monday_of(day: date) -> date:
    """The Monday of a day's week."""
    return day - timedelta(days=day.weekday())


def list_differences(before: WeekPlan, after: WeekPlan) -> tuple[str, ...]:
    """What changed between two plans of a week, a sentence for each block that came, went or grew."""
    found: list[str] = []
    days = {d.day: d for d in before.days}
    for new in after.days:
        old = days.pop(new.day, None)
        name = f"{new.day:%a}"
        if old is None:
            blocks = ", ".join(_say_block(b) for b in _blocks_of_work(new))
            found.append(f"{name} is new: {blocks or 'preparation only'}.")
            continue
        was, now = (
            {b.drill or b.test: b for b in _blocks_of_work(old)},
            {b.drill or b.test: b for b in _blocks_of_work(new)},
        )
        found += [f"{name}: {_say_block(b)} came in." for key, b in now.items() if key not in was]
        found += [f"{name}: {b.title} went out." for key, b in was.items() if key not in now]
        found += [
            f"{name}: {b.title}, {_say_amount(was[key])} becomes {_say_amount(b)}."
            for key, b in now.items()
            if key in was and _say_amount(was[key]) != _say_amount(b)
        ]
    return (*found, *(f"{day:%a} is gone." for day in days))


def _blocks_of_work(day: DayPlan) -> Sequence[Block]:
    return [b for b in day.blocks if b.kind in ("work", "test")]


def _say_amount(block: Block) -> str:
    return (
        " ".join(filter(None, (block.dose.amount, block.dose.dial.words if block.dose.dial else "")))
        if block.dose
        else "test"
    )


def _say_block(block: Block) -> str:
    return f"{block.title} ({_say_amount(block)})" if block.dose else block.title
