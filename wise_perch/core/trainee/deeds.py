"""What somebody did in a hall, in words: the hall's history."""

from collections.abc import Mapping
from datetime import date

from wise_perch.core.trade.words import say_day, within
from wise_perch.core.trainee.hall import NAMES, Role

PLAIN: Mapping[str, str] = {
    "joined": "came into the hall",
    "left": "left the hall",
    "named": "renamed the hall",
    "trainee": "added a trainee",
    "intake": "kept an intake",
    "erased": "erased a trainee for good",
}
ABOUT: Mapping[str, str] = {
    "taken-out": "took {name} out of the hall",
    "handed-over": "handed the hall over to {name}",
    "reset": "made a link for a new password for {name}",
}


def say_deed(*, kind: str, what: str, n: int, name: str, titles: Mapping[str, str], on: date) -> str:
    """Say one deed without whoever did it. `titles`: what tests and drills are called; `what` and `n` as the
    store keeps them for this kind; `name`: another member's, where it was about one; `on`: today.
    """
    if kind in PLAIN:
        return PLAIN[kind]
    if kind in ABOUT:
        return ABOUT[kind].format(name=name)
    if kind == "invited":
        return f"invited {what}"
    if kind == "role":
        return f"made {name} {what}"
    title = within(titles.get(what, what))
    said = {
        "run": f"ran a test: {title}",
        "waiver": f"waived a gate: {title}",
        "line": f"kept a line: {title}",
        "session": "led a session" if what != "self" else "told of a session on the own page",
        "sets": "recorded one set" if n == 1 else f"recorded {n} sets",
        "syllabus": f"changed the syllabus: {what}" if what else "changed the syllabus",
    }
    if kind in said:
        return said[kind]
    day = date.fromisoformat(what)
    return f"planned the week from {say_day(day, on)}" if kind == "plan" else f"kept the report of {day:%B}"


def say_invited(role: Role, name: str) -> str:
    """Whom an invitation was for, and as what."""
    return f"{name} as {NAMES[role]}" if name else NAMES[role]
