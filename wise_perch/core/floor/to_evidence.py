"""What a session comes to as evidence, whoever tells of it: sets one by one, single tries as k of n, floats
as an average of three.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from uuid import UUID, uuid5

from wise_perch.core.dose.dose import DayDose
from wise_perch.core.floor.kept_session import KeptEvent, SessionPiece
from wise_perch.core.floor.walk import FloorSheet, Variant
from wise_perch.core.trade.evidence import Form, Measure, Reason
from wise_perch.core.trade.syllabus import Syllabus

LEAST_OF_AN_AVERAGE = 3
"""An average of three takes three."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BlockEvidence:
    """What one block comes to, and the ids of what it no longer comes to."""

    pieces: tuple[SessionPiece, ...]
    gone: tuple[UUID, ...]


@dataclass(frozen=True, slots=True)
class _Told:
    """What all pieces of a session share: how confident the day was, whether a coach saw the form, and why
    sets failed, by the set's id.
    """

    confidence: int | None
    seen: bool
    syllabus: Syllabus
    reasons: Mapping[UUID, Reason]

    def form(self, event: KeptEvent) -> Form:
        """The form of a set: as marked, clean where it was not; loose where nobody saw it, so that it counts
        as work and meets no gate.
        """
        return (event.what.form or Form.CLEAN) if self.seen else Form.LOOSE


def evidence_of_block(
    sheet: FloorSheet,
    events: Sequence[KeptEvent],
    slot: int,
    *,
    session: UUID,
    syllabus: Syllabus,
    seen: bool = True,
) -> BlockEvidence:
    """What one block comes to by what happened in it. `seen`: a coach saw it; what a trainee tells alone is
    loose.

    Ids follow from the events', or from the session and block where several sets come to one piece, so that
    doing it again writes the same rows.
    """
    confidence = next(
        (e.what.confidence for e in events if e.what.kind == "ready" and e.struck_at is None), None
    )
    told = _Told(confidence, seen, syllabus, _reasons_told(events, slot))
    sets = [e for e in events if e.what.kind == "set" and e.what.slot == slot]
    found: list[SessionPiece] = []
    gone: list[UUID] = [e.id for e in sets if e.struck_at]
    for key in dict.fromkeys(e.what.key for e in sets):
        variant = sheet.variants.get(key)
        mine = [e for e in sets if e.what.key == key and e.struck_at is None]
        if variant is None or variant.dose is None or variant.drill not in syllabus.drills:
            continue
        together = uuid5(session, f"{slot} {key}")
        made = list(_pieces_of_sets(variant, variant.dose, mine, together, told))
        found += made
        if not any(p.id == together for p in made):
            gone.append(together)
        gone += [uuid5(e.id, "then") for e in sets if e.what.key == key and e.struck_at]
    return BlockEvidence(pieces=tuple(found), gone=tuple(gone))


def _reasons_told(events: Sequence[KeptEvent], slot: int) -> dict[UUID, Reason]:
    """Why sets of a block failed: what was said last of each."""
    found: dict[UUID, Reason] = {}
    last: UUID | None = None
    for e in events:
        if e.what.slot != slot or e.struck_at:
            continue
        if e.what.kind == "set":
            last = e.id
        elif e.what.kind == "why" and last and e.what.reason:
            found[last] = e.what.reason
    return found


def _pieces_of_sets(
    variant: Variant, dose: DayDose, sets: Sequence[KeptEvent], together: UUID, told: _Told
) -> Iterable[SessionPiece]:
    if not sets:
        return
    if dose.measure is Measure.RATE:
        worked = sum(1.0 for e in sets if e.what.value)
        form = Form.CLEAN if told.seen else Form.LOOSE
        piece = _piece_of_set(
            variant, dose, sets[-1], told, id=together, value=worked, n=len(sets), form=form
        )
        why = next((told.reasons[e.id] for e in reversed(sets) if e.id in told.reasons), None)
        yield replace(piece, reason=why)
    elif dose.mode is not None:
        # how a float is averaged takes a coach's eye and clock
        if told.seen and len(sets) >= LEAST_OF_AN_AVERAGE:
            yield _average_piece(variant, dose, sets, together, told)
    else:
        for e in sets:
            if e.what.value is not None and (dose.way != "stretch" or (told.seen and e.what.value > 0)):
                yield _piece_of_set(
                    variant, dose, e, told, id=e.id, value=e.what.value, n=None, form=told.form(e)
                )
            if dose.then and e.what.then_value:
                yield _piece_after(dose, e, told)


def _average_piece(
    variant: Variant, dose: DayDose, sets: Sequence[KeptEvent], together: UUID, told: _Told
) -> SessionPiece:
    most = told.syllabus.drills[variant.drill].gate.value
    # as in its test: the first three, while fresh; more tries are work
    counted = sets[:LEAST_OF_AN_AVERAGE]
    mean = sum(min(most, e.what.value or 0.0) for e in counted) / len(counted)
    forms = [e.what.form or Form.CLEAN for e in counted]
    worst = Form.LOST if Form.LOST in forms else Form.LOOSE if Form.LOOSE in forms else Form.CLEAN
    return _piece_of_set(
        variant, dose, sets[-1], told, id=together, value=int(mean * 10 + 1e-9) / 10, n=None, form=worst
    )


def _piece_of_set(
    variant: Variant,
    dose: DayDose,
    event: KeptEvent,
    told: _Told,
    *,
    id: UUID,
    value: float,
    n: int | None,
    form: Form,
) -> SessionPiece:
    setting = event.what.setting
    return SessionPiece(
        id=id,
        drill=variant.drill,
        at=event.at,
        measure=dose.measure,
        value=value,
        # k of n and an average measure what they are; one set keeps what it was asked for
        asked=event.what.asked if n is None and dose.mode is None else None,
        n=n,
        mode=dose.mode,
        window_s=dose.window_s,
        form=form,
        side=event.what.side,
        confidence=told.confidence,
        dial={dose.dial.dial: setting} if dose.dial and setting is not None else {},
        reason=told.reasons.get(event.id),
        note="" if told.seen else "self-reported",
    )


def _piece_after(dose: DayDose, event: KeptEvent, told: _Told) -> SessionPiece:
    then = dose.then
    assert then is not None
    return SessionPiece(
        id=uuid5(event.id, "then"),
        drill=then.drill,
        at=event.at,
        measure=then.measure,
        value=event.what.then_value or 0.0,
        asked=then.each,
        n=None,
        mode=None,
        window_s=None,
        form=told.form(event),
        side=None,
        confidence=told.confidence,
        dial={},
        note="after a round",
    )
