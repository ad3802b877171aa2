"""A session's sheet as blocks of a class: where each can be done, and which want the coach's hands."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import ceil

from wise_perch.core.class_night.question import ANYWHERE, ClassBlock
from wise_perch.core.class_night.rules import ClassRules, StationSort
from wise_perch.core.floor.walk import FloorSheet, Variant
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import within
from wise_perch.core.trainee.case import JudgedCase

SPOTTER, WARM_UP = "spotter", "Warm-up"


@dataclass(frozen=True, slots=True, kw_only=True)
class NightBlock:
    """A block of somebody's evening: what the rotation asks, and what of it is shown.

    `slots`: its blocks on the session's sheet, by number. `sets`: how much, in words; `where`: its setting.
    `joints`: what it loads. `hands_why`: why a coach is wanted. `test`: whether something is tried, which no
    display tells. `prepares`: it belongs to the warm-up or the close. `parts`: title and amount of each that
    is joined in it. `stretched_min`: how much longer it took.
    """

    title: str
    minutes: float
    stations: tuple[str, ...]
    rest_after_min: float
    hands_min: float
    shown: str
    slots: tuple[int, ...]
    sets: str = ""
    where: str = ""
    joints: tuple[str, ...] = ()
    hands_why: str = ""
    drill: str = ""
    test: bool = False
    prepares: bool = False
    parts: tuple[tuple[str, str], ...] = ()
    stretched_min: float = 0.0

    def asked(self) -> ClassBlock:
        """The block as the rotation takes it."""
        return ClassBlock(
            title=self.title,
            minutes=self.minutes,
            stations=self.stations,
            rest_after_min=self.rest_after_min,
            hands_min=min(self.hands_min, self.minutes),
            shown=self.shown,
        )


def blocks_of_sheet(sheet: FloorSheet, case: JudgedCase, rules: ClassRules) -> tuple[NightBlock, ...]:
    """Turn a session into blocks of a class, in its order. What follows one another wherever somebody stands,
    and wants nobody's hands, is one block.
    """
    found: list[NightBlock] = []
    for n, slot in enumerate(sheet.slots):
        block = _block(n, sheet.variants[slot.planned], slot.length_s, slot.kind == "prepare", case, rules)
        if found and _stays(found[-1], block):
            found[-1] = _joined(found[-1], block)
        else:
            found.append(block)
    return tuple(found)


def _stays(first: NightBlock, then: NightBlock) -> bool:
    """Whether somebody may as well stay where they are; a warm-up is one of its own."""
    return (
        first.stations == then.stations == (ANYWHERE,)
        and not first.hands_min
        and not then.hands_min
        # the warm-up stands for itself; the close goes with what is done before it
        and (then.prepares or not first.prepares)
    )


def _joined(first: NightBlock, then: NightBlock) -> NightBlock:
    warm = first.slots[0] == 0 and then.prepares
    parts = (*(first.parts or (_part(first),)), _part(then))
    title = f"{first.title}, {within(then.title)}"
    if len(parts) > 2:
        title = f"{parts[0][0]} and {len(parts) - 1} more"
    return NightBlock(
        title=WARM_UP if warm else title,
        minutes=round(first.minutes + first.rest_after_min + then.minutes, 1),
        stations=first.stations,
        rest_after_min=then.rest_after_min,
        hands_min=0.0,
        shown="",
        slots=(*first.slots, *then.slots),
        sets="" if warm else ", ".join(" ".join(filter(None, part)) for part in parts),
        parts=parts,
        joints=tuple(dict.fromkeys((*first.joints, *then.joints))),
        prepares=then.prepares,
    )


def _part(block: NightBlock) -> tuple[str, str]:
    return block.title, block.sets


def _block(
    n: int, variant: Variant, length_s: float, prepares: bool, case: JudgedCase, rules: ClassRules
) -> NightBlock:
    free = variant.inverted or bool(variant.test)
    stays = prepares and not variant.inverted
    stations = (ANYWHERE,) if stays else stations_for(_kit_of(variant, case.syllabus), free, rules)
    hands, why, shared = (0.0, "", False) if prepares else _hands(variant, case, rules)
    dose = variant.dose
    minutes = ceil(round(length_s / 6, 6)) / 10
    return NightBlock(
        title=variant.title,
        minutes=minutes,
        stations=stations,
        rest_after_min=rules.change_over_min.value,
        hands_min=min(hands, minutes),
        shown=variant.drill if shared else "",
        slots=(n,),
        sets=dose.amount if dose and not prepares else "",
        where=_setting(variant) if not prepares else "",
        joints=variant.joints,
        hands_why=why,
        drill=variant.drill,
        test=bool(variant.test),
        prepares=prepares,
    )


def _setting(variant: Variant) -> str:
    dose = variant.dose
    if dose is None:
        return ""
    if dose.dial is not None and dose.dial.at is not None and dose.dial.at < len(dose.dial.steps):
        return dose.dial.steps[dose.dial.at].words
    return dose.place


def _kit_of(variant: Variant, syllabus: Syllabus) -> tuple[str, ...]:
    if variant.drill in syllabus.drills:
        return syllabus.drills[variant.drill].kit
    test = syllabus.tests.get(variant.test)
    return tuple(getattr(test, "kit", ()))


def stations_for(kit: Sequence[str], inverted: bool, rules: ClassRules) -> tuple[str, ...]:
    """The kinds of station that will do for what needs this kit, the liked first."""
    for sort in rules.stations:
        if any(k in sort.needs for k in kit):
            return (sort.kind, *sort.also)
    if not inverted:
        return (ANYWHERE,)
    free: StationSort = next(s for s in rules.stations if not s.needs)
    return (free.kind, *free.also)


def _hands(variant: Variant, case: JudgedCase, rules: ClassRules) -> tuple[float, str, bool]:
    """For how long a coach is wanted, why, and whether several can be shown it together."""
    drill = case.syllabus.drills.get(variant.drill)
    stands = case.drills.get(variant.drill)
    if drill is None or stands is None:
        return 0.0, "", False
    if SPOTTER in drill.kit:
        return rules.hands.spotted_min.value, "spotted", False
    if variant.pillar == "exits" and stands.state != "proven":
        return rules.hands.exit_min.value, "an exit that is not proven yet", False
    if drill.drill in rules.wall_to_free and stands.state not in ("met", "proven"):
        return rules.hands.wall_to_free_min.value, "off the wall for the first times", False
    if stands.best is None:
        return rules.hands.new_min.value, "new", True
    return 0.0, "", False


def fitted(blocks: Sequence[NightBlock], minutes: float) -> tuple[NightBlock, ...]:
    """So many of the blocks from the first on as fit into an evening without any waiting; the rest falls off
    its end.
    """
    found: list[NightBlock] = []
    at = 0.0
    for block in blocks:
        if at + block.minutes > minutes + 1e-9:
            break
        found.append(block)
        at += block.minutes + block.rest_after_min
    return tuple(found)


def usual_stations(rules: ClassRules) -> Mapping[str, int]:
    """What a hall usually has of each kind, to begin from."""
    return {sort.kind: sort.usual for sort in rules.stations}
