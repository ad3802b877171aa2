"""A session told in words: block by block what was planned and what was done."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import timedelta
from typing import cast

from wise_perch.core.dose.choose_dose import choose_dose
from wise_perch.core.floor.kept_session import FloorSession
from wise_perch.core.floor.walk import FloorEvent, FloorSheet, SlotNow, Status, Variant, walk_session
from wise_perch.core.trade.evidence import Evidence, Form
from wise_perch.core.trade.gates import say_amount
from wise_perch.core.trainee.case import Case, JudgedCase, judge_case
from wise_perch.core.trainee.changes import WallChange, find_changes
from wise_perch.core.trainee.hand_load import loads_by_day


@dataclass(frozen=True, slots=True, kw_only=True)
class SlotDone:
    """A block as planned and as done, in words."""

    title: str
    planned: str
    done: str
    status: Status
    why: str
    drill: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class NextTime:
    """How a drill's dose changes by what was done: now and next time, and why."""

    title: str
    now: str
    next: str
    because: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Story:
    """A session told: each block as planned and done, what it moved on the wall bars, and what changes next
    time.

    `poor`: it was a poor day, which is recorded as such and is no failure. `load_s`: body-weight seconds of
    its day.
    """

    blocks: tuple[SlotDone, ...]
    changes: tuple[WallChange, ...]
    next_time: tuple[NextTime, ...]
    poor: bool
    load_s: float


def tell_story(session: FloorSession, case: Case, own: Sequence[Evidence]) -> Story:
    """Tell a session by what was known before it and after it. `case` on its day; `own`: the sets that it
    came to.
    """
    after = judge_case(case)
    before = judge_case(replace(case, sets=_take_out(case.sets, own)))
    tomorrow = judge_case(replace(case, on=session.day + timedelta(days=1)))
    events = session.standing_events
    ready = next((e for e in events if e.kind == "ready"), None)
    loads = loads_by_day(after, since=session.day)
    return Story(
        blocks=tell_blocks(session.sheet, events),
        changes=tuple(find_changes(before.standing, after.standing)),
        next_time=tuple(_next_time(session, tomorrow)),
        poor=bool(ready and ready.energy is not None and ready.energy <= session.sheet.changes.poor_energy),
        load_s=round(loads.get(session.day, 0.0), 1),
    )


def _take_out(pieces: Sequence[Evidence], own: Sequence[Evidence]) -> list[Evidence]:
    """All evidence but a session's own: each of its pieces is taken out once."""
    left, found = list(own), []
    for piece in pieces:
        if piece in left:
            left.remove(piece)
        else:
            found.append(piece)
    return found


def _next_time(session: FloorSession, tomorrow: JudgedCase) -> Iterator[NextTime]:
    for slot in session.sheet.slots:
        variant = session.sheet.variants[slot.planned]
        was = variant.dose
        if slot.kind != "work" or was is None or variant.drill not in tomorrow.drills:
            continue
        following = choose_dose(tomorrow.syllabus.drills[variant.drill], tomorrow)
        following = replace(following, sets=was.sets if was.least == following.least else following.sets)
        now, then = (
            " ".join(filter(None, (d.amount, d.dial.words if d.dial else ""))) for d in (was, following)
        )
        if now != then:
            yield NextTime(
                title=variant.title,
                now=now,
                next=then,
                because=following.because[0].text if following.because else "",
            )


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
                planned=" ".join(
                    filter(
                        None, (planned.title if planned.title != variant.title else "", _say_planned(planned))
                    )
                ),
                done=_say_done(sheet, sets, state),
                status=state.status,
                why=state.why,
                drill=variant.drill,
            )
        )
    return tuple(found)


def _say_planned(variant: Variant) -> str:
    if variant.dose is None:
        return f"{-(-variant.length_s // 60):.0f} min"
    dial = variant.dose.dial
    return f"{variant.dose.amount}, {dial.words}" if dial else variant.dose.amount


def _say_done(sheet: FloorSheet, sets: Sequence[FloorEvent], state: SlotNow) -> str:
    if not sets:
        return {"done": "done", "skipped": "left out", "dropped": "dropped", "waiting": "not begun"}[
            state.status
        ]
    keys = [k for k in dict.fromkeys(e.key for e in sets) if k in sheet.variants]
    said = [
        (sheet.variants[k], _say_figures(sheet.variants[k], [e for e in sets if e.key == k])) for k in keys
    ]
    # where another drill took the block over, each says its own
    return ", ".join(
        figures if len(said) == 1 else f"{variant.title.lower()} {figures}" for variant, figures in said
    )


def _say_figures(variant: Variant, sets: Sequence[FloorEvent]) -> str:
    dose = variant.dose
    if dose and dose.way == "singles" and dose.each == 1:
        return f"{sum(e.value or 0 for e in sets):g} of {len(sets)}"
    if dose and dose.way == "stretch":
        return f"{len(sets)} sets"
    kept = [e for e in sets if e.value is not None]
    if dose is None:
        return ", ".join(f"{e.value:g}{_say_form(e.form)}" for e in kept)
    said = [say_amount(cast(float, e.value), dose.measure) for e in kept]
    # a unit that all share is said once, after the last
    numbers, units = [s.partition(" ")[0] for s in said], {s.partition(" ")[2] for s in said}
    shared = units.pop() if len(units) == 1 else None
    if shared is None:
        return ", ".join(f"{s}{_say_form(e.form)}" for s, e in zip(said, kept, strict=True))
    figures = ", ".join(f"{n}{_say_form(e.form)}" for n, e in zip(numbers, kept, strict=True))
    return f"{figures} {shared}".strip()


def _say_form(form: Form | None) -> str:
    return "" if form in (None, Form.CLEAN) else f" {form.value}"
