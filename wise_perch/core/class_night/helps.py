"""What does not fit, and what would make it fit."""

from collections.abc import Callable
from dataclasses import replace

from wise_perch.core.class_night.question import ANYWHERE, ClassQuestion, Help, Price

MORE_MIN = 10
FEWER = 2


def ways_to_fit(
    question: ClassQuestion, left_out: int, price: Callable[[ClassQuestion], Price]
) -> tuple[Help, ...]:
    """What would leave less out, the best first: one more of each station, a coach more, ten minutes more,
    two people fewer. Each is tried, none guessed.
    """
    ways: list[tuple[str, str, ClassQuestion]] = []
    wanted = {kind for person in question.trainees for block in person.blocks for kind in block.stations}
    for kind in sorted(wanted - {ANYWHERE}):
        stations = {**question.stations, kind: question.stations.get(kind, 0) + 1}
        ways.append((f"station {kind}", f"One more of: {kind}", replace(question, stations=stations)))
    if any(block.hands_min for person in question.trainees for block in person.blocks):
        ways.append(("coach", "One more coach", replace(question, coaches=question.coaches + 1)))
    ways.append(
        ("minutes", f"{MORE_MIN} minutes more", replace(question, minutes=question.minutes + MORE_MIN))
    )
    if len(question.trainees) > FEWER and not question.past:
        fewer = replace(question, trainees=question.trainees[:-FEWER])
        ways.append(("people", f"{FEWER} people fewer", fewer))
    found = []
    for change, words, other in ways:
        left = price(other).left_out
        if left < left_out:
            found.append(Help(change=change, words=_say(words, left), left_out=left))
    return tuple(sorted(found, key=lambda h: (h.left_out, h.change)))


def _say(words: str, left: int) -> str:
    if left == 0:
        return f"{words}: everything fits."
    return f"{words}: {left} {'block stays' if left == 1 else 'blocks stay'} out."
