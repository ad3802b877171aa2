"""A session as it runs: the sheet it follows, and where it stands after what happened, step by step.

The browser walks the same sheet in the same way (`live/floor.ts`), so that a session goes on without a
server; a test holds the two against each other.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Literal

from wise_perch.core.dose.dose import DayDose
from wise_perch.core.trade.content import Pillar
from wise_perch.core.trade.evidence import Form, Reason, Side
from wise_perch.core.trade.poses import ViewAsked
from wise_perch.core.trade.session_lookup import joint_kind
from wise_perch.core.trade.session_rules import Because, Before

SlotKind = Literal["work", "prepare", "test"]
EventKind = Literal["ready", "set", "choose", "skip", "next", "pain", "why", "cue"]
Status = Literal["waiting", "done", "skipped", "dropped"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Variant:
    """One way to fill a block: a drill with its dose. `lighter` and `shy` name variants for an aching joint
    and for low confidence.

    `views`: from where its line is looked at. `worked_cue`: the cue that worked last. A test, or preparation
    without a drill, has no dose and takes `length_s`.
    """

    key: str
    title: str
    drill: str = ""
    test: str = ""
    pillar: Pillar | None = None
    dose: DayDose | None = None
    length_s: float = 0.0
    inverted: bool = False
    joints: tuple[str, ...] = ()
    views: tuple[ViewAsked, ...] = ()
    about: str = ""
    cues: tuple[str, ...] = ()
    worked_cue: str = ""
    cautions: tuple[str, ...] = ()
    because: tuple[Because, ...] = ()
    lighter: str = ""
    lighter_words: str = ""
    shy: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class FloorSlot:
    """One block of the session: the variant planned, the rung back and ahead (empty where there is none, then
    `ahead_closed` says why), and swaps.
    """

    kind: SlotKind
    phase: str
    planned: str
    start_s: float
    length_s: float
    back: str = ""
    ahead: str = ""
    ahead_closed: str = ""
    swaps: tuple[str, ...] = ()
    stands_out: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class FailReason:
    """A reason why a set failed, and what practice does about it next time."""

    reason: Reason
    title: str
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Changes:
    """The rules by which a session changes as it goes, with their words. Levels: energy and confidence 1 to
    5, pain 0 to 10. `reasons`: why a set may have failed.
    """

    poor_energy: float
    good_energy: float
    low_confidence: float
    stops_at: float
    clean_to_step: float
    poor: str
    good: str
    shy: str
    some: str
    much: str
    none_lighter: str
    fewer: str
    reasons: tuple[FailReason, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class FloorSheet:
    """What a session follows: its blocks in order, every variant by its key, and the rules by which it
    changes.
    """

    day: date
    place: str
    minutes: int
    slots: tuple[FloorSlot, ...]
    variants: Mapping[str, Variant]
    changes: Changes
    joints: tuple[str, ...]
    before: Before = field(default_factory=Before)


@dataclass(frozen=True, slots=True, kw_only=True)
class Pain:
    """Pain of a joint, 0 to 10; `sharp`: sharp, lasting or tingling."""

    joint: str
    level: int
    sharp: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class FloorEvent:
    """One thing that happened. `ready`: how the day begins; `set`: one set of block `slot`, done as variant
    `key` at `setting`; `choose`: another variant for a block, `how` says why (back, ahead, swap); `skip` and
    `next` end a block; `pain`; `why`: for what `reason` the newest set of the block failed; `cue`: the words
    in `how` worked for variant `key`. Neither of the last two moves the session.

    `value` in the unit of the dose's measure, 1 or 0 for a single; `asked`: what the set asked for, None for
    an open one; `then_value`: what followed in a round. Of `ready`: what of the room was ticked, how the cold
    checks were answered, and which warm-up was chosen.
    """

    kind: EventKind
    slot: int | None = None
    key: str = ""
    how: str = ""
    value: float | None = None
    asked: float | None = None
    then_value: float | None = None
    form: Form | None = None
    side: Side | None = None
    setting: float | None = None
    energy: int | None = None
    confidence: int | None = None
    pains: tuple[Pain, ...] = ()
    reason: Reason | None = None
    room: tuple[str, ...] = ()
    checks: Mapping[str, bool] = field(default_factory=dict)
    warm_up: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class SlotNow:
    """Where a block stands: its variant, how many sets it has and how many are done, its status, the dial's
    place, and what changed it.
    """

    key: str
    sets: int
    done: int = 0
    status: Status = "waiting"
    at: int | None = None
    why: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class FloorNow:
    """Where a session stands: every block, which one is under way (None at the end), and the joints that must
    not be loaded any more.
    """

    slots: tuple[SlotNow, ...] = field(default=())
    present: int | None = None
    spared: tuple[str, ...] = ()


def walk_session(sheet: FloorSheet, events: Sequence[FloorEvent]) -> FloorNow:
    """Say where a session stands after what happened. What names a block that is not there, or over, changes
    nothing.
    """
    slots = [_begin_slot(sheet, s.planned) for s in sheet.slots]
    # joints that must not be loaded any more today, each with the words that say so
    spared: dict[str, str] = {}
    for event in events:
        if event.kind == "ready":
            slots = _answer_ready(sheet, slots, event)
        if event.kind in ("ready", "pain"):
            for pain in event.pains:
                slots = _spare_what_hurts(sheet, slots, pain)
                _remember_pain(sheet, spared, pain)
            slots = [_spare_slot(sheet, now, spared) for now in slots]
        elif (
            event.slot is not None and 0 <= event.slot < len(slots) and not _would_load(sheet, event, spared)
        ):
            slots[event.slot] = _of_slot(sheet, slots[event.slot], event)
    present = next((n for n, s in enumerate(slots) if s.status == "waiting"), None)
    return FloorNow(slots=tuple(slots), present=present, spared=tuple(spared))


def _begin_slot(sheet: FloorSheet, key: str, *, why: str = "", fewest: bool = False) -> SlotNow:
    dose = sheet.variants[key].dose
    # one after the other: each side is a set of its own
    sets = (dose.least if fewest else dose.sets) * dose.sides if dose else 1
    return SlotNow(key=key, sets=sets, at=dose.dial.at if dose and dose.dial else None, why=why)


def _answer_ready(sheet: FloorSheet, slots: Sequence[SlotNow], event: FloorEvent) -> list[SlotNow]:
    """A poor day goes a rung back, low confidence lower or farther out, and what hurts is spared."""
    rules = sheet.changes
    found = list(slots)
    for n, slot in enumerate(sheet.slots):
        if slot.kind != "work" or found[n].status != "waiting" or found[n].done:
            continue
        if event.energy is not None and event.energy <= rules.poor_energy:
            if slot.back:
                found[n] = _begin_slot(sheet, slot.back, why=rules.poor, fewest=True)
            else:
                found[n] = _begin_slot(sheet, found[n].key, why=rules.fewer, fewest=True)
        elif event.energy is not None and event.energy >= rules.good_energy and slot.ahead:
            found[n] = replace(found[n], why=rules.good)
        variant = sheet.variants[found[n].key]
        if (
            event.confidence is not None
            and event.confidence <= rules.low_confidence
            and variant.inverted
            and variant.shy
        ):
            found[n] = _begin_slot(sheet, variant.shy, why=rules.shy, fewest=True)
    return found


def _pain_stops(sheet: FloorSheet, pain: Pain) -> bool:
    return pain.sharp or pain.level >= sheet.changes.stops_at


def _say_pain(pain: Pain) -> str:
    return f"{pain.joint[:1].upper()}{pain.joint[1:]} {pain.level} of 10"


def _remember_pain(sheet: FloorSheet, spared: dict[str, str], pain: Pain) -> None:
    """A joint that must not be loaded stays so for the session, until it is told to be well."""
    kind = joint_kind(pain.joint)
    if _pain_stops(sheet, pain):
        spared[kind] = f"{_say_pain(pain)}: {sheet.changes.much}"
    elif pain.level == 0:
        spared.pop(kind, None)


def _spare_slot(sheet: FloorSheet, now: SlotNow, spared: Mapping[str, str]) -> SlotNow:
    why = next((spared[j] for j in sheet.variants[now.key].joints if j in spared), None)
    return replace(now, status="dropped", why=why) if why and now.status == "waiting" else now


def _would_load(sheet: FloorSheet, event: FloorEvent, spared: Mapping[str, str]) -> bool:
    """Whether another variant is chosen that loads a joint which must not be loaded."""
    variant = sheet.variants.get(event.key)
    return event.kind == "choose" and variant is not None and any(j in spared for j in variant.joints)


def _spare_what_hurts(sheet: FloorSheet, slots: Sequence[SlotNow], pain: Pain) -> list[SlotNow]:
    """Spare a joint in all that is left: from a level on, or where it is sharp, nothing that loads it; below
    that something lighter.
    """
    rules = sheet.changes
    if pain.level <= 0 and not pain.sharp:
        return list(slots)
    stop, told = _pain_stops(sheet, pain), _say_pain(pain)
    found = list(slots)
    for n, now in enumerate(slots):
        variant = sheet.variants[now.key]
        if now.status != "waiting" or joint_kind(pain.joint) not in variant.joints:
            continue
        elsewhere = _stands_elsewhere(sheet, found, variant.lighter, but=n)
        if stop:
            found[n] = replace(now, status="dropped", why=f"{told}: {rules.much}")
        elif sheet.slots[n].kind == "prepare" and not variant.inverted:
            found[n] = replace(now, why=f"{told}: {rules.some}")
        elif variant.lighter and not elsewhere:
            found[n] = _begin_slot(
                sheet, variant.lighter, why=f"{told}: {variant.lighter_words}.", fewest=True
            )
        else:
            spare = (
                "what would be lighter stands in the session already"
                if variant.lighter
                else rules.none_lighter
            )
            found[n] = replace(now, status="dropped", why=f"{told}: {spare}.")
    return found


def _stands_elsewhere(sheet: FloorSheet, slots: Sequence[SlotNow], key: str, *, but: int) -> bool:
    """Whether the drill of a variant stands in another block, done or still to be done."""
    return bool(key) and any(
        k != but
        and s.status in ("waiting", "done")
        and sheet.variants[s.key].drill == sheet.variants[key].drill
        for k, s in enumerate(slots)
    )


def _of_slot(sheet: FloorSheet, now: SlotNow, event: FloorEvent) -> SlotNow:
    if event.kind in ("why", "cue"):
        return now
    if event.kind == "skip":
        return replace(now, status="skipped") if now.status == "waiting" else now
    if event.kind == "next":
        return replace(now, status="done") if now.status == "waiting" else now
    if event.kind == "choose":
        if now.status != "waiting" or event.key not in sheet.variants:
            return now
        begun = _begin_slot(sheet, event.key)
        return replace(begun, done=now.done, sets=max(now.done + 1, begun.sets), why=event.how)
    done = now.done + 1
    return replace(
        now,
        done=done,
        at=_move_dial(sheet, now, event),
        status="done" if done >= now.sets and now.status == "waiting" else now.status,
    )


def _move_dial(sheet: FloorSheet, now: SlotNow, event: FloorEvent) -> int | None:
    """The staircase within a session: enough clean reps one step harder, a miss one easier; elsewhere only a
    miss moves the dial.
    """
    dose = sheet.variants[now.key].dose
    if now.at is None or dose is None or dose.dial is None:
        return now.at
    missed = event.form == Form.LOST or (dose.way != "singles" and not event.value)
    if missed:
        return max(0, now.at - 1)
    clean = event.form in (None, Form.CLEAN)
    if dose.way == "staircase" and clean and (event.value or 0) >= sheet.changes.clean_to_step:
        return min(len(dose.dial.steps) - 1, now.at + 1)
    return now.at
