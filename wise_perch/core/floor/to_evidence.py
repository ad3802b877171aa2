"""What a session comes to as evidence: sets one by one, single tries as k of n, floats as an average of three."""

from collections.abc import Iterable, Sequence
from uuid import UUID, uuid5

from wise_perch.core.dose.dose import DayDose
from wise_perch.core.floor.kept_session import KeptEvent, SessionPiece
from wise_perch.core.floor.walk import FloorSheet, Variant
from wise_perch.core.trade.evidence import Form, Measure
from wise_perch.core.trade.syllabus import Syllabus

LEAST_OF_AN_AVERAGE = 3
"""An average of three takes three."""


def pieces_of_slot(
    sheet: FloorSheet, events: Sequence[KeptEvent], slot: int, *, session: UUID, syllabus: Syllabus
) -> tuple[list[SessionPiece], list[UUID]]:
    """What one block comes to by what happened in it, and the ids of what it no longer comes to.

    Ids follow from the events', or from the session and block where several sets come to one piece, so that doing it again
    writes the same rows.
    """
    confidence = next((e.what.confidence for e in events if e.what.kind == "ready" and e.struck_at is None), None)
    sets = [e for e in events if e.what.kind == "set" and e.what.slot == slot]
    found: list[SessionPiece] = []
    gone: list[UUID] = [e.id for e in sets if e.struck_at]
    for key in dict.fromkeys(e.what.key for e in sets):
        variant = sheet.variants.get(key)
        mine = [e for e in sets if e.what.key == key and e.struck_at is None]
        if variant is None or variant.dosed is None or variant.drill not in syllabus.drills:
            continue
        together = uuid5(session, f"{slot} {key}")
        made = list(_pieces(variant, variant.dosed, mine, together, confidence, syllabus))
        found += made
        if not any(p.id == together for p in made):
            gone.append(together)
        gone += [uuid5(e.id, "then") for e in sets if e.what.key == key and e.struck_at]
    return found, gone


def _pieces(
    variant: Variant, dosed: DayDose, sets: Sequence[KeptEvent], together: UUID, confidence: int | None, syllabus: Syllabus
) -> Iterable[SessionPiece]:
    if not sets:
        return
    if dosed.measure is Measure.RATE:
        worked = sum(1.0 for e in sets if e.what.value)
        yield _piece(variant, dosed, sets[-1], id=together, value=worked, n=len(sets), form=Form.CLEAN, confidence=confidence)
    elif dosed.mode is not None:
        if len(sets) >= LEAST_OF_AN_AVERAGE:
            most = syllabus.drills[variant.drill].gate.value
            mean = sum(min(most, e.what.value or 0.0) for e in sets) / len(sets)
            forms = [e.what.form or Form.CLEAN for e in sets]
            worst = Form.LOST if Form.LOST in forms else Form.LOOSE if Form.LOOSE in forms else Form.CLEAN
            yield _piece(variant, dosed, sets[-1], id=together, value=int(mean * 10 + 1e-9) / 10, n=None, form=worst, confidence=confidence)
    else:
        for e in sets:
            if e.what.value is not None and (dosed.way != "stretch" or e.what.value > 0):
                yield _piece(variant, dosed, e, id=e.id, value=e.what.value, n=None, form=e.what.form or Form.CLEAN, confidence=confidence)
            if dosed.then and e.what.then_value:
                yield _then(dosed, e, confidence)


def _piece(
    variant: Variant, dosed: DayDose, event: KeptEvent, *, id: UUID, value: float, n: int | None, form: Form, confidence: int | None
) -> SessionPiece:
    setting = event.what.setting
    return SessionPiece(
        id=id,
        drill=variant.drill,
        at=event.at,
        measure=dosed.measure,
        value=value,
        n=n,
        mode=dosed.mode,
        window_s=dosed.window_s,
        form=form,
        side=event.what.side,
        confidence=confidence,
        dial={dosed.dialled.dial: setting} if dosed.dialled and setting is not None else {},
        note="",
    )


def _then(dosed: DayDose, event: KeptEvent, confidence: int | None) -> SessionPiece:
    then = dosed.then
    assert then is not None
    return SessionPiece(
        id=uuid5(event.id, "then"),
        drill=then.drill,
        at=event.at,
        measure=then.measure,
        value=event.what.then_value or 0.0,
        n=None,
        mode=None,
        window_s=None,
        form=event.what.form or Form.CLEAN,
        side=None,
        confidence=confidence,
        dial={},
        note="after a round",
    )
