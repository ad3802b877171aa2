"""Who trains at the depot hall. Everybody here is invented, and so is the town of Ostermo."""

from dataclasses import dataclass, field

from wise_perch.core.body.kit import KitKind
from wise_perch.core.trade.evidence import Side
from wise_perch.core.trainee.hall import Role

COACH_NAME = "Hedda Kvam"
COACH_EMAIL = "coach@depot-hall.example"
COACH_PASSWORD = "tram-depot-hall"
HALL_NAME = "Tram Depot Hall"
COACHES: tuple[tuple[str, str, Role], ...] = (
    (COACH_NAME, COACH_EMAIL, "owner"),
    ("Oskar Brandt", "oskar@depot-hall.example", "coach"),
    ("Vigdis Falk", "vigdis@depot-hall.example", "assistant"),
)
"""Who works in the hall, all with the same password."""
GROUPS: tuple[tuple[str, tuple[tuple[int, str, int], ...], tuple[str, ...]], ...] = (
    (
        "First handstands",
        ((0, "18:00", 75), (3, "18:00", 75)),
        ("Tove Brenna", "Eilif Sand", "Kaia Hovden", "Brage Sunn"),
    ),
    (
        "Free balance",
        ((1, "19:00", 90), (4, "17:30", 90)),
        ("Runa Aske", "Jorun Eik", "Ylva Torn", "Orm Lindvik"),
    ),
    ("Presses", ((2, "19:30", 90),), ("Ragna Voll", "Marit Oland", "Aslak Rem")),
)
"""Who comes together: the name, its evenings (day of the week, time, minutes), who."""
TIME_ZONE = "UTC"


KIT: tuple[tuple[KitKind, float, int, str], ...] = (
    ("pad", 5, 3, "grey, from the waiting room"),
    ("pad", 3, 2, ""),
    ("plate", 1.5, 2, "marked 5 kg"),
    ("plate", 2.5, 4, "marked 10 kg"),
    ("block", 10, 2, "beech"),
    ("box", 30, 1, ""),
    ("box", 45, 1, "the conductor's step"),
)
"""What lies in the corner of the depot hall: kind, thickness in cm, how many, and what tells it apart."""

FLOOR = ("shape", "inversion", "entry", "exit", "balance", "mobility")
PUSHES = (*FLOOR, "push")
PRESSES = ("shape", "inversion", "exit", "push", "press", "support", "mobility")
EVERYTHING = (*FLOOR, "push", "press", "support")


@dataclass(frozen=True, slots=True, kw_only=True)
class Person:
    """One invented trainee, as the simulator needs them.

    `weeks` of training so far at `per_week` sessions; `growth` is rungs learnt in a week, for lines named in
    `talent` times that factor; `over` the chance that a fall goes over; `away_weeks` since the last visit;
    `levels_off` the week after which balance stops growing. `basics` says whether they come to the evenings
    on which old rungs are shown again. `lines` are those they train on. `confidence`: what they say of
    themselves, drawn from these. `waives`: gates the coach let pass, with the reason. `tested`: whether they
    were on the Bench for more than the free tries. `limits`: the most of a drill's gate they ever fill, for
    what makes them who they are. Without a stature there has been no intake. `days` of the week (0 is Monday)
    they train on, `own_days` those of them that they do alone and tell of on their own page. `extra`: sets
    of a drill they did yesterday beside the plan (the drill, seconds, how many).
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
    tested: bool = False
    leaves_run_open: bool = False
    lines: tuple[str, ...] = FLOOR
    confidence: tuple[int, ...] = (3, 3, 4, 4, 5)
    limits: dict[str, float] = field(default_factory=dict)
    goals: tuple[str, ...] = ()
    stature_cm: float | None = None
    mass_kg: float | None = None
    lengths_cm: dict[str, float] = field(default_factory=dict)
    cautions: tuple[str, ...] = ()
    cleared: bool = True
    waives: tuple[tuple[str, str], ...] = ()
    days: tuple[int, ...] = (1, 3)
    own_days: tuple[int, ...] = ()
    extra: tuple[str, float, int] | None = None
    note: str = ""


PEOPLE = (
    Person(
        name="Tove Brenna",
        days=(0, 3),
        weeks=9,
        growth=0.75,
        talent={"mobility": 0.3, "shape": 0.5},
        stepping_side=Side.RIGHT,
        confidence=(1, 2, 2, 2),
        limits={"chest-to-wall-hold": 0.45},
        goals=("freestanding-hold",),
        stature_cm=168,
        mass_kg=62,
        note="Shy of heights: start low, far out.",
    ),
    Person(
        name="Runa Aske",
        days=(1, 4),
        weeks=44,
        growth=0.24,
        talent={"balance": 0.6, "mobility": 0.8, "push": 0.4},
        over=0.97,
        limits={"heel-float": 0.95, "free-hold-10": 0.0},
        stepping_side=Side.LEFT,
        lines=PUSHES,
        goals=("freestanding-hold", "strict-push"),
        stature_cm=171,
        mass_kg=64,
        note="Cue that works: ribs in, then tall.",
    ),
    Person(
        name="Jorun Eik",
        days=(0, 2, 5),
        own_days=(5,),
        tested=True,
        weeks=64,
        growth=0.27,
        talent={"balance": 0.9, "entry": 1.2},
        stepping_side=Side.RIGHT,
        goals=("hold-30", "hand-walk"),
        stature_cm=163,
        mass_kg=57,
    ),
    Person(
        name="Halvard Nes",
        days=(0, 2, 5),
        weeks=72,
        growth=0.27,
        talent={"press": 0.8, "support": 1.2, "push": 1.1, "shape": 1.2, "mobility": 0.3},
        limits={
            "pancake": 0.25,
            "forward-fold": 0.4,
            "overhead-reach": 0.6,
            "straddle-lowers": 0.5,
            "tuck-planche": 1.05,
            "v-ups": 1.1,
        },
        stepping_side=Side.RIGHT,
        lines=PRESSES,
        goals=("straddle-press", "stalder-press"),
        stature_cm=182,
        mass_kg=81,
        lengths_cm={"arm": 83, "trunk": 50.5, "leg": 98, "hand": 20.5, "shoulder-to-crown": 32.5},
        note="Strong from climbing poles for the trams; hamstrings like cables.",
    ),
    Person(
        name="Sindre Lau",
        days=(2, 4),
        weeks=40,
        growth=0.26,
        talent={"entry": 0.8},
        over=0.35,
        stepping_side=Side.LEFT,
        pain=("left wrist", 3),
        goals=("freestanding-hold",),
        stature_cm=177,
        mass_kg=74,
    ),
    Person(
        name="Marit Oland",
        days=(0, 3),
        weeks=48,
        growth=0.25,
        levels_off=34,
        over=0.6,
        stepping_side=Side.RIGHT,
        goals=("freestanding-hold",),
        stature_cm=166,
    ),
    Person(
        name="Aslak Rem",
        days=(2, 5),
        weeks=52,
        growth=0.28,
        away_weeks=9,
        stepping_side=Side.RIGHT,
        goals=("hold-30",),
        stature_cm=180,
        mass_kg=77,
        waives=(("cartwheel", "Did them for years in a children's circus."),),
    ),
    Person(
        name="Eilif Sand",
        days=(1, 4),
        weeks=2,
        growth=0.6,
        stature_cm=174,
        goals=("freestanding-hold",),
        cautions=("reflux",),
        cleared=False,
    ),
    Person(
        name="Ragna Voll",
        days=(2, 6),
        extra=("chest-to-wall-hold", 60.0, 12),
        weeks=24,
        growth=0.3,
        talent={"exit": 0.9},
        stepping_side=Side.LEFT,
        goals=("freestanding-hold", "straddle-press"),
        lines=EVERYTHING,
        stature_cm=159,
        mass_kg=54,
        note="Gymnast as a child; wrists need time.",
    ),
    Person(
        name="Ylva Torn",
        days=(3, 5),
        weeks=46,
        growth=0.27,
        over=0.25,
        stepping_side=Side.LEFT,
        leaves_run_open=True,
        stature_cm=170,
    ),
    Person(
        name="Orm Lindvik",
        days=(1, 6),
        weeks=44,
        growth=0.26,
        talent={"entry": 0.75, "balance": 0.75},
        basics=False,
        stepping_side=Side.RIGHT,
        lines=PUSHES,
        goals=("linked-kip",),
        stature_cm=185,
    ),
    Person(
        name="Kaia Hovden",
        days=(0, 2, 4),
        tested=True,
        weeks=70,
        per_week=3,
        growth=0.24,
        talent={"balance": 1.3, "entry": 1.2},
        over=0.55,
        stepping_side=Side.LEFT,
        goals=("hold-30", "hand-walk"),
        stature_cm=165,
        mass_kg=58,
    ),
    Person(name="Brage Sunn", weeks=0, note="First lesson tonight."),
)
