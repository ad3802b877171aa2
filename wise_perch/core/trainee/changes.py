"""What changed on the wall bars between two standings, in sentences."""

from dataclasses import dataclass
from typing import Literal

from wise_perch.core.trainee.standing import DrillStanding, WallBars
from wise_perch.core.trainee.wall import RANK

ChangeKind = Literal["state", "closer", "opened", "perch", "closed", "new", "gone"]


@dataclass(frozen=True, slots=True, kw_only=True)
class WallChange:
    """One change: the drill it is about (or the new perch), its kind, and the sentence that says it."""

    kind: ChangeKind
    drill: str
    sentence: str


def find_changes(before: WallBars, after: WallBars) -> list[WallChange]:
    """List what rose between two standings of one trainee: gates, openings, perches, and figures that came
    closer.
    """
    found: list[WallChange] = []
    for was_line, line in zip(before.lines, after.lines, strict=True):
        if line.perch and line.perch_rung > was_line.perch_rung:
            found.append(
                WallChange(
                    kind="perch",
                    drill=line.perch,
                    sentence=f"The {line.title.lower()} clip moves up to {_lower_title(after, line.perch)}.",
                )
            )
        for rung in line.rungs:
            for d in rung:
                found += _drill_changes(before.drill(d.drill), d)
    order: dict[ChangeKind, int] = {"perch": 0, "state": 1, "opened": 2, "closer": 3}
    return sorted(found, key=lambda c: order[c.kind])


def _lower_title(stands: WallBars, drill: str) -> str:
    return stands.drill(drill).title.lower()


def _drill_changes(was: DrillStanding, now: DrillStanding) -> list[WallChange]:
    found: list[WallChange] = []
    if RANK[now.state] > RANK[was.state]:
        found.append(
            WallChange(
                kind="state", drill=now.drill, sentence=f"{now.title} is {now.state.value}: {now.figure}."
            )
        )
    elif now.fill > was.fill:
        found.append(
            WallChange(
                kind="closer",
                drill=now.drill,
                sentence=(
                    f"{now.title} fills up: {was.figure if was.best else 'nothing'} before, {now.figure} now."
                ),
            )
        )
    if now.open and not was.open:
        found.append(WallChange(kind="opened", drill=now.drill, sentence=f"{now.title} is open now."))
    return found


def find_effects(before: WallBars, after: WallBars) -> list[WallChange]:
    """List what another syllabus makes of the same evidence, up and down: drills new and gone, states,
    openings, perches.
    """
    old, new = before.every(), after.every()
    found = [
        WallChange(kind="new", drill=n, sentence=f"{d.title} is there, {d.state.value}: {d.shortfall}.")
        for n, d in new.items()
        if n not in old
    ]
    found += [
        WallChange(kind="gone", drill=n, sentence=f"{d.title} is gone; its evidence stays.")
        for n, d in old.items()
        if n not in new
    ]
    for name, now in new.items():
        if (was := old.get(name)) is not None:
            found += _effects_on(was, now)
    perches = {line.line: line for line in before.lines}
    for line in after.lines:
        was_line = perches.get(line.line)
        if was_line and was_line.perch != line.perch:
            where = new[line.perch].title if line.perch else "the floor"
            found.append(
                WallChange(
                    kind="perch",
                    drill=line.perch or "",
                    sentence=f"The {line.title.lower()} clip goes to {where}.",
                )
            )
    return found


def _effects_on(was: DrillStanding, now: DrillStanding) -> list[WallChange]:
    found: list[WallChange] = []
    if was.state is not now.state:
        found.append(
            WallChange(
                kind="state",
                drill=now.drill,
                sentence=f"{now.title}: {was.state.value} becomes {now.state.value} ({now.shortfall}).",
            )
        )
    if was.open != now.open:
        kind: ChangeKind = "opened" if now.open else "closed"
        why = "" if now.open else ", until " + "; ".join(w.sentence for w in now.waits)
        found.append(
            WallChange(
                kind=kind, drill=now.drill, sentence=f"{now.title} {'opens' if now.open else 'closes'}{why}."
            )
        )
    return found
