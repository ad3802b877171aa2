"""One session as a simulated trainee lives it: walked on its sheet, set by set, and learnt from."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID, uuid5

from wise_perch.core.dose.dose import DayDose, asked_of
from wise_perch.core.floor.kept_session import KeptEvent, SessionPiece
from wise_perch.core.floor.to_evidence import evidence_of_block
from wise_perch.core.floor.walk import FloorEvent, FloorSheet, walk_session
from wise_perch.core.rehearsal.learner import Learner, step_of
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Evidence, Measure, Side
from wise_perch.core.trade.syllabus import Syllabus

SIDES = (Side.LEFT, Side.RIGHT)


@dataclass(frozen=True, slots=True, kw_only=True)
class Lived:
    """A session as it was lived: what happened, what it came to as evidence, the tests it held, and its
    blocks in words.
    """

    events: tuple[KeptEvent, ...]
    pieces: tuple[SessionPiece, ...]
    tests: tuple[str, ...]
    said: tuple[str, ...]


def live_session(
    learner: Learner,
    sheet: FloorSheet,
    ready: FloorEvent,
    *,
    session: UUID,
    begun: datetime,
    syllabus: Syllabus,
) -> Lived:
    """Walk a session's sheet as a simulated trainee, set by set, and learn from it. `ready`: how the day is
    said to begin. A test stands in the sheet and is run elsewhere.
    """
    at = begun
    events = [_event(session, 0, at, ready)]
    pieces: list[SessionPiece] = []
    tests, said = [], []
    for n, slot in enumerate(sheet.slots):
        shares: list[float] = []
        while True:
            now = walk_session(sheet, [e.what for e in events]).slots[n]
            variant = sheet.variants[now.key]
            if now.status != "waiting" or variant.dose is None:
                break
            drill, dose = syllabus.drills[variant.drill], variant.dose
            what, share = _one_set(learner, drill, dose, slot=n, key=now.key, done=now.done, at=now.at)
            at += timedelta(seconds=dose.set_s / dose.sides)
            events.append(_event(session, len(events), at, what))
            shares.append(share)
        if variant.dose is None:
            at += timedelta(seconds=variant.length_s)
            events.append(_event(session, len(events), at, FloorEvent(kind="next", slot=n)))
        if variant.test:
            tests.append(variant.test)
            said.append(variant.title)
        if not shares:
            continue
        drill = syllabus.drills[variant.drill]
        learner.learn(drill, shares, sheet.day)
        pieces += evidence_of_block(sheet, events, n, session=session, syllabus=syllabus).pieces
        if slot.kind == "work" and variant.dose:
            said.append(f"{variant.title} {variant.dose.amount} {variant.dose.place}".strip())
    return Lived(events=tuple(events), pieces=tuple(pieces), tests=tuple(tests), said=tuple(said))


def _event(session: UUID, number: int, at: datetime, what: FloorEvent) -> KeptEvent:
    return KeptEvent(id=uuid5(session, str(number)), at=at, what=what, struck_at=None)


def _one_set(
    learner: Learner, drill: Drill, dose: DayDose, *, slot: int, key: str, done: int, at: int | None
) -> tuple[FloorEvent, float]:
    asked = asked_of(dose, done=done)
    setting = dose.dial.steps[at].setting if dose.dial and at is not None else None
    number = done // max(1, dose.sides)
    value, form = learner.do(drill, dose, asked=asked, setting=setting, set_number=number)
    side = None if dose.sides == 1 else SIDES[done % 2]
    what = FloorEvent(
        kind="set",
        slot=slot,
        key=key,
        # a stretch is done and not read
        value=None if dose.way == "stretch" else value,
        asked=asked,
        then_value=_held_after(learner, dose) if value > 0 else None,
        form=form,
        side=side,
        setting=setting,
    )
    able = learner.capacity(drill, setting=setting, step=step_of(dose), set_number=number)
    return what, share_of_able(value, drill, dose, able)


def _held_after(learner: Learner, dose: DayDose) -> float | None:
    """What follows a set, as long as it goes."""
    if dose.then is None:
        return None
    other = learner.syllabus.drills[dose.then.drill]
    gate = next(g for g in (other.gate, *other.gate.also) if g.measure is dose.then.measure)
    able = learner.capacity(other, setting=None, step=1.0, set_number=1) * gate.value
    return float(int(min(dose.then.each, able)))


def share_of_able(value: float, drill: Drill, dose: DayDose, able: float) -> float:
    """What a set took of what went: single tries, windows and stretches are as hard as they are."""
    if dose.measure is Measure.RATE or dose.way in ("touches", "stretch", "singles"):
        return 0.7
    return value / max(1e-9, able * drill.gate.value)


def as_evidence(piece: SessionPiece, day: date) -> Evidence:
    """What a block came to, as evidence of that day."""
    return Evidence(
        drill=piece.drill,
        day=day,
        measure=piece.measure,
        value=piece.value,
        asked=piece.asked,
        n=piece.n,
        form=piece.form,
        side=piece.side,
        mode=piece.mode,
        window_s=piece.window_s,
        confidence=piece.confidence,
        dial=piece.dial,
    )
