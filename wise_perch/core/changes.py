"""What changed on the wall bars between two standings, in sentences."""

from dataclasses import dataclass
from typing import Literal

from wise_perch.core.standing import RANK, DrillStanding, Standing

ChangeKind = Literal["state", "closer", "opened", "perch"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One change: the drill it is about (or the new perch), its kind, and the sentence that says it."""

    kind: ChangeKind
    drill: str
    sentence: str


def changes(before: Standing, after: Standing) -> list[Change]:
    """List what rose between two standings of one trainee: gates, openings, perches, and figures that came closer."""
    found: list[Change] = []
    for was_line, line in zip(before.lines, after.lines, strict=True):
        if line.perch and line.perch_rung > was_line.perch_rung:
            found.append(Change(kind="perch", drill=line.perch, sentence=f"The {line.title.lower()} clip moves up to {_lower(after, line.perch)}."))
        for rung in line.rungs:
            for d in rung:
                found += _drill_changes(before.drill(d.drill), d)
    order: dict[ChangeKind, int] = {"perch": 0, "state": 1, "opened": 2, "closer": 3}
    return sorted(found, key=lambda c: order[c.kind])


def _lower(stands: Standing, drill: str) -> str:
    return stands.drill(drill).title.lower()


def _drill_changes(was: DrillStanding, now: DrillStanding) -> list[Change]:
    found: list[Change] = []
    if RANK[now.state] > RANK[was.state]:
        found.append(Change(kind="state", drill=now.drill, sentence=f"{now.title} is {now.state.value}: {now.figure}."))
    elif now.fill > was.fill:
        found.append(Change(kind="closer", drill=now.drill, sentence=f"{now.title} fills up: {was.figure} before, {now.figure} now."))
    if now.open and not was.open:
        found.append(Change(kind="opened", drill=now.drill, sentence=f"{now.title} is open now."))
    return found
