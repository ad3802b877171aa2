"""What a rotation is asked for, and what it answers. Minutes count from the beginning of the class."""

from collections.abc import Mapping
from dataclasses import dataclass, field

ANYWHERE = "anywhere"
"""The kind of station that there is always enough of: done wherever somebody stands."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ClassBlock:
    """One block of somebody's session: how long, the kinds of station that will do (the liked first), the
    rest wished after it, and for how long from its beginning it wants a coach, all in min.

    `shown`: names what is shown in that time; whoever begins the same at the same moment is shown it
    together. Empty where the hands are for one alone.
    """

    title: str
    minutes: float
    stations: tuple[str, ...]
    rest_after_min: float = 0.0
    hands_min: float = 0.0
    shown: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class ClassTrainee:
    """Who comes, from when to when (`to_min` None: to the end), and what for, in its order."""

    name: str
    blocks: tuple[ClassBlock, ...]
    from_min: float = 0.0
    to_min: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Slot:
    """A block at a station: `trainee` and `block` count from 0, stations of a kind from 1. `hands`: from
    when to when a coach is there.
    """

    trainee: int
    block: int
    station: str
    number: int
    start_min: float
    end_min: float
    hands: tuple[float, float] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Hold:
    """What a coach set by hand of one block: not before a minute, at one kind of station, at one of them."""

    trainee: int
    block: int
    start_min: float | None = None
    station: str = ""
    number: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class ClassQuestion:
    """A class to rotate: how long, how many stations of each kind, how many coaches, who comes.

    `past`: what has begun or is over and stays. Nothing else begins before `now_min`. `holds`: what was set
    by hand.
    """

    minutes: float
    stations: Mapping[str, int]
    coaches: int
    trainees: tuple[ClassTrainee, ...]
    now_min: float = 0.0
    past: tuple[Slot, ...] = ()
    holds: tuple[Hold, ...] = ()

    def leaves_min(self, trainee: int) -> float:
        """Until when somebody is there."""
        to = self.trainees[trainee].to_min
        return self.minutes if to is None else min(to, self.minutes)


@dataclass(frozen=True, slots=True, kw_only=True)
class Price:
    """What a rotation costs: blocks left out, waiting beyond the wished rest in min, and how unevenly that
    falls (the sum of its squares).
    """

    left_out: int
    waited_min: float
    uneven: float

    @property
    def comes_to(self) -> tuple[float, float]:
        """What is compared: a block left out weighs as much as hours of waiting; then evenness."""
        return (LEFT_OUT_MIN * self.left_out + self.waited_min, self.uneven)


LEFT_OUT_MIN = 240.0
"""A block left out weighs as much as so many minutes of waiting. Ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Help:
    """What would make more fit, and how many blocks would still be left out."""

    change: str
    words: str
    left_out: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Rotation:
    """Who is where when. `by_eye`: the price of going by eye; `bound_min`: no rotation waits less (None where
    something is left out). `proven`: nothing waits less than this one. `left_out`: trainee and block from 0.
    """

    slots: tuple[Slot, ...]
    left_out: tuple[tuple[int, int], ...]
    price: Price
    by_eye: Price
    bound_min: float | None
    proven: bool
    waited_min: tuple[float, ...]
    would_help: tuple[Help, ...] = field(default=())
