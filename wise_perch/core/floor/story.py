"""A session told in words: block by block what was planned and what was done."""

from collections.abc import Sequence
from dataclasses import dataclass

from wise_perch.core.floor.walk import FloorEvent, FloorSheet, SlotNow, Status, Variant, walk_session
from wise_perch.core.trade.evidence import Form


@dataclass(frozen=True, slots=True, kw_only=True)
class SlotDone:
    """A block as planned and as done, in words."""

    title: str
    planned: str
    done: str
    status: Status
    why: str
    drill: str = ""


def tell_blocks(sheet: FloorSheet, events: Sequence[FloorEvent]) -> tuple[SlotDone, ...]:
    """Say of every block what was planned and what was done."""
    now = walk_session(sheet, events)
    found = []
    for n, (slot, state) in enumerate(zip(sheet.slots, now.slots, strict=True)):
        planned, variant = sheet.variants[slot.planned], sheet.variants[state.key]
        sets = [e for e in events if e.kind == "set" and e.slot == n]
        found.append(
            SlotDone(
                title=variant.title,
                planned=" ".join(filter(None, (planned.title if planned.title != variant.title else "", _planned(planned)))),
                done=_done(sheet, sets, state),
                status=state.status,
                why=state.why,
                drill=variant.drill,
            )
        )
    return tuple(found)


def _planned(variant: Variant) -> str:
    if variant.dosed is None:
        return f"{-(-variant.length_s // 60):.0f} min"
    dial = variant.dosed.dialled
    return f"{variant.dosed.amount}, {dial.words}" if dial else variant.dosed.amount


def _done(sheet: FloorSheet, sets: Sequence[FloorEvent], state: SlotNow) -> str:
    if not sets:
        return {"done": "done", "skipped": "left out", "dropped": "dropped", "waiting": "not begun"}[state.status]
    keys = [k for k in dict.fromkeys(e.key for e in sets) if k in sheet.variants]
    said = [(sheet.variants[k], _figures(sheet.variants[k], [e for e in sets if e.key == k])) for k in keys]
    # where another drill took the block over, each says its own
    return "; ".join(figures if len(said) == 1 else f"{variant.title.lower()} {figures}" for variant, figures in said)


def _figures(variant: Variant, sets: Sequence[FloorEvent]) -> str:
    dosed = variant.dosed
    if dosed and dosed.way == "singles" and dosed.each == 1:
        return f"{sum(e.value or 0 for e in sets):g} of {len(sets)}"
    if dosed and dosed.way == "stretch":
        return f"{len(sets)} sets"
    return ", ".join(f"{e.value:g}{_mark(e.form)}" for e in sets if e.value is not None)


def _mark(form: Form | None) -> str:
    return "" if form in (None, Form.CLEAN) else f" {form.value}"
