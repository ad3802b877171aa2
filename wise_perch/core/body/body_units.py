"""Bodies as rulers: a distance in the trainee's own hands, feet and forearms, as gyms measure."""

from collections.abc import Mapping

from wise_perch.core.trade.intake import Intake, Profile, lengths_of

UNITS: Mapping[str, str] = {"hand": "hands", "foot": "feet", "forearm": "forearms"}
"""The lengths that serve as rulers, the finest first, with their plural."""
MOST = 9
"""Nobody lays down more than so many lengths in a row. Ours."""
NEAR = 0.13
"""So near a whole or a half length (as a share of it) a distance is said in it. Ours."""


def rulers_of(intake: Intake, profile: Profile | None) -> Mapping[str, float]:
    """The trainee's rulers, cm each; empty while stature is not known."""
    if profile is None or profile.stature_cm is None:
        return {}
    known = lengths_of(intake, stature_cm=profile.stature_cm, measured_cm=profile.lengths_cm)
    return {length.length: length.cm for length in known if length.length in UNITS}


def in_rulers(cm: float, own: Mapping[str, float]) -> str:
    """A distance in the body unit that fits it best: "about 6 hands", "about 2 and a half feet"; empty if
    none fits.

    Counts come in halves; of the units that are near enough the nearest is taken.
    """
    best: tuple[float, str] | None = None
    for name, length in own.items():
        halves = round(2 * abs(cm) / length)
        off = abs(abs(cm) / length - halves / 2)
        if 1 < halves <= 2 * MOST and off <= NEAR and (best is None or off < best[0] - 1e-9):
            best = (off, f"about {_say_halves(halves)} {name if halves == 2 else UNITS[name]}")
    return best[1] if best else ""


def _say_halves(halves: int) -> str:
    whole, half = divmod(halves, 2)
    return f"{whole} and a half" if half else f"{whole}"


def say_distances(intake: Intake, profile: Profile | None) -> tuple[str, ...]:
    """The distances kept of a trainee, in cm and in their own lengths: "Thumbs 12 cm apart." """
    if profile is None:
        return ()
    own = rulers_of(intake, profile)
    found = []
    for d in intake.distances:
        cm = profile.distances_cm.get(d.distance)
        if cm is not None:
            where = "apart" if d.apart else "from the wall"
            found.append(", ".join(filter(None, (f"{d.said} {cm:g} cm {where}", in_rulers(cm, own)))) + ".")
    return tuple(found)
