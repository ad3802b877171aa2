"""Who trains at the depot hall. Everybody here is invented, and so is the town of Ostermo."""

from dataclasses import dataclass, field

from wise_perch.core.evidence import Side

COACH_NAME = "Hedda Kvam"
COACH_EMAIL = "coach@depot-hall.example"
COACH_PASSWORD = "tram-depot-hall"
TIME_ZONE = "UTC"


@dataclass(frozen=True, slots=True, kw_only=True)
class Person:
    """One invented trainee, as the simulator needs them.

    `weeks` of training so far at `per_week` sessions; `growth` is rungs learnt in a week, for lines named in `talent` times that factor;
    `over` the chance that a fall goes over; `away_weeks` since the last visit; `levels_off` the week after which balance stops growing.
    `basics` says whether they come to the evenings on which old rungs are shown again.
    """

    name: str
    weeks: int
    per_week: int = 2
    growth: float = 0.2
    talent: dict[str, float] = field(default_factory=dict)
    over: float = 0.5
    stepping_side: Side | None = None
    away_weeks: int = 0
    levels_off: int | None = None
    basics: bool = True
    pain: tuple[str, int] | None = None
    leaves_run_open: bool = False
    note: str = ""


PEOPLE = (
    Person(name="Tove Brenna", weeks=9, growth=0.42, stepping_side=Side.RIGHT, note="Shy of heights: start low, far out."),
    Person(
        name="Runa Aske",
        weeks=44,
        growth=0.24,
        talent={"balance": 0.85},
        over=0.8,
        stepping_side=Side.LEFT,
        note="Cue that works: ribs in, then tall.",
    ),
    Person(name="Jorun Eik", weeks=64, growth=0.27, talent={"balance": 1.15, "entry": 1.2}, stepping_side=Side.RIGHT),
    Person(name="Sindre Lau", weeks=40, growth=0.26, talent={"entry": 0.8}, over=0.35, stepping_side=Side.LEFT, pain=("left wrist", 3)),
    Person(name="Marit Oland", weeks=48, growth=0.25, levels_off=34, over=0.6, stepping_side=Side.RIGHT),
    Person(name="Aslak Rem", weeks=52, growth=0.28, away_weeks=9, stepping_side=Side.RIGHT),
    Person(name="Eilif Sand", weeks=2, growth=0.6),
    Person(name="Ragna Voll", weeks=24, growth=0.3, talent={"exit": 0.9}, stepping_side=Side.LEFT, note="Gymnast as a child; wrists need time."),
    Person(name="Ylva Torn", weeks=46, growth=0.27, over=0.25, stepping_side=Side.LEFT, leaves_run_open=True),
    Person(name="Orm Lindvik", weeks=44, growth=0.26, talent={"entry": 0.75, "balance": 0.75}, basics=False, stepping_side=Side.RIGHT),
    Person(name="Kaia Hovden", weeks=70, per_week=3, growth=0.24, talent={"balance": 1.3, "entry": 1.2}, over=0.55, stepping_side=Side.LEFT),
    Person(name="Brage Sunn", weeks=0, note="First lesson tonight."),
)
