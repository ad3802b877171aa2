"""How a judged line is said: the heading, the loud figures with their doubt, and what helps."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from wise_perch.core.line.judge import TOO_NEAR, Judged, Says, Verdict
from wise_perch.core.line.side import PATH_OF_STATURE, TWO_SIDED, Figure
from wise_perch.core.trade.line_rules import LineTarget
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import within

LOUD = 3
TRIED_ON = (
    "Never tried on a photograph of a real handstand: none was at hand. It was tried on drawn bodies. Drag"
    " the joints where they are wrong: your hand is the last word."
)


@dataclass(frozen=True, slots=True, kw_only=True)
class FigureSaid:
    """One figure as it is said: what it is, its value and its ± as text, and what it means."""

    fault: str
    label: str
    value: str
    doubt: str
    means: str
    says: Says


@dataclass(frozen=True, slots=True, kw_only=True)
class Help:
    """What helps against a fault: the cue to say and drills by name and title. `range`: the drill whose
    measured range says whether it is want of range or habit.
    """

    cue: str
    drills: tuple[tuple[str, str], ...]
    range: str


@dataclass(frozen=True, kw_only=True)
class LineSaid:
    """A judged line in words. `loud`: at most three figures; `all`: every one; `camera`: what was wrong with
    the picture, said before any verdict.
    """

    heading: str
    target: str
    camera: tuple[str, ...]
    refused: bool
    loud: tuple[FigureSaid, ...]
    all: tuple[FigureSaid, ...]
    help: Help | None
    faults: tuple[str, ...]


def say_line(judged: Judged, target: LineTarget, syllabus: Syllabus, *, stature_cm: float | None) -> LineSaid:
    """Put a judged line into words."""
    told = [v for v in judged.faults if v.says == "yes"]
    refused = any(c.refuses for c in judged.camera)
    figures = tuple(_figures(judged, stature_cm))
    order = {"yes": 0, "cannot tell": 1, "no": 2}
    loud = sorted(figures, key=lambda f: order[f.says])[:LOUD]
    return LineSaid(
        heading=_heading(judged.faults, refused=refused, hidden=any(c.hides for c in judged.camera)),
        target=within(target.title),
        camera=tuple(c.says for c in judged.camera),
        refused=refused,
        loud=() if refused else tuple(loud),
        all=() if refused else figures,
        help=next((h for v in told if (h := _help(v, syllabus))), None),
        faults=tuple(v.fault.fault for v in told),
    )


def _heading(faults: Sequence[Verdict], *, refused: bool, hidden: bool) -> str:
    told = [v.fault.title for v in faults if v.says == "yes"]
    if refused:
        return "This picture cannot be judged."
    if told:
        first, *rest = told
        return f"{first}. Also {', '.join(map(within, rest))}." if rest else f"{first}."
    if all(v.value is None for v in faults):
        return "Not enough of the body is placed yet."
    if hidden:
        return "No fault shows, but the camera may hide one."
    unsure = [v.fault.title for v in faults if v.says == "cannot tell" and v.value is not None]
    if unsure:
        return "No fault is certain."
    return "Nothing is off, as far as a picture can tell."


def _help(v: Verdict, syllabus: Syllabus) -> Help | None:
    fault = next((f for f in syllabus.content.faults if f.fault == v.fault.helped_by), None)
    if fault is None:
        return None
    return Help(
        cue=fault.cue,
        drills=tuple((d, within(syllabus.drills[d].title)) for d in fault.drills if d in syllabus.drills),
        range=v.fault.range,
    )


def _figures(judged: Judged, stature_cm: float | None) -> Iterator[FigureSaid]:
    """Every figure once, in the order of the faults; the two ends of one measure as the one it tends to."""
    measured = _measured(judged, stature_cm)
    by_fault = {v.fault.fault: v for v in judged.faults}
    for fault, other in PAIRS:
        if fault not in by_fault:
            continue
        a, b = by_fault[fault], by_fault.get(other, by_fault[fault])
        v = b if (b.value or 0) > (a.value or 0) else a
        unit, f, scale = measured[v.fault.fault]
        if f.value is None or f.se is None:
            continue
        yield FigureSaid(
            fault=v.fault.fault,
            label=v.fault.measured,
            value=_say(f, unit, signed=v.fault.fault in SIGNED),
            doubt=f"± {_doubt(f, unit)}",
            means=_means(v, f, unit, scale),
            says=v.says,
        )


PAIRS = (
    ("closed-shoulder", ""),
    ("shoulders-ahead", ""),
    ("pike", "arch"),
    ("banana", ""),
    ("bent-knees", ""),
    ("leans-over", "leans-under"),
    ("hands-wide", ""),
    ("arms-drift", ""),
    ("hips-not-level", ""),
    ("shoulders-not-level", ""),
    ("leans-aside", ""),
)
"""Each measure by the faults at its two ends."""
SIGNED = frozenset({"shoulders-ahead", "leans-over", "leans-under"})


def _measured(judged: Judged, stature_cm: float | None) -> dict[str, tuple[str, Figure, float]]:
    """The unit and the figure that each fault is told by, and how many of it are one of the verdict's."""
    found: dict[str, tuple[str, Figure, float]] = {}
    if side := judged.side:
        ahead = side.offsets["shoulder"]
        if stature_cm is not None and ahead.value is not None and ahead.se is not None:
            scale = PATH_OF_STATURE * stature_cm
            found["shoulders-ahead"] = ("cm", Figure(value=ahead.value * scale, se=ahead.se * scale), scale)
        else:
            found["shoulders-ahead"] = ("share", ahead, 1.0)
        found |= {
            "closed-shoulder": ("deg", side.shoulder, 1.0),
            "pike": ("deg", side.hip, 1.0),
            "arch": ("deg", side.hip.turned, 1.0),
            "banana": ("share", side.arch_index, 1.0),
            "bent-knees": ("deg", side.knee, 1.0),
            "leans-over": ("deg", side.lean, 1.0),
            "leans-under": ("deg", side.lean, 1.0),
        }
    if front := judged.front:
        found |= {
            "hands-wide": ("ratio", front.hand_width_ratio, 1.0),
            "arms-drift": ("deg", front.arms_drift, 1.0),
            "hips-not-level": ("deg", front.hip_tilt.size, 1.0),
            "shoulders-not-level": ("deg", front.shoulder_tilt.size, 1.0),
            "leans-aside": ("deg", front.side_lean.size, 1.0),
        }
    return found


def _plain(value: float, unit: str, *, whole: bool = True) -> str:
    """A figure to the place that its doubt leaves."""
    match unit:
        case "deg":
            return f"{value:.0f}°" if whole else f"{value:.1f}°"
        case "cm":
            return f"{value:.0f} cm"
        case _:
            return f"{value:.2f}"


def _doubt(f: Figure, unit: str) -> str:
    return _plain(TWO_SIDED * (f.se or 0), unit, whole=_whole(f))


def _whole(f: Figure) -> bool:
    """Whether the doubt leaves no place after the point, degrees."""
    return TWO_SIDED * (f.se or 0) >= 1.5


def _say(f: Figure, unit: str, *, signed: bool) -> str:
    value = f.value or 0
    rounded = _plain(abs(value), unit, whole=_whole(f))
    if not any(c in "123456789" for c in rounded):
        return rounded
    return f"{'−' if value < 0 else '+' if signed else ''}{rounded}"


def _means(v: Verdict, f: Figure, unit: str, scale: float) -> str:
    """What a figure means against where the fault begins."""
    begin = _plain(abs((f.value or 0) - scale * (v.value or 0)), unit)
    match v.says:
        case "yes":
            return f"clear: a fault begins at {begin}"
        case "no":
            return f"no: a fault begins at {begin}"
        case _ if v.because == TOO_NEAR:
            return f"cannot tell from {begin}, where a fault begins"
        case _:
            return f"cannot tell: {v.because}"
