"""An evening in words: who goes where, what a coach's hands are wanted for, what does not fit, what has
changed.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from wise_perch.core.class_night.blocks import NightBlock
from wise_perch.core.class_night.evening import Evening, NightPerson
from wise_perch.core.class_night.question import ANYWHERE, Slot
from wise_perch.core.class_night.rules import ClassRules
from wise_perch.core.trade.words import say_list, within

NUMBERS = (
    "Nobody",
    "One",
    "Two",
    "Three",
    "Four",
    "Five",
    "Six",
    "Seven",
    "Eight",
    "Nine",
    "Ten",
    "Eleven",
    "Twelve",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class SlotTold:
    """A block as it stands on a ribbon: from when to when, its name, place, dose and why a coach is wanted.
    `held`: set by hand. `sheet_slots`: its blocks on the session's sheet.
    """

    block: int
    title: str
    place: str
    station: str
    number: int
    dose: str
    start_min: float
    end_min: float
    hands: tuple[float, float] | None
    hands_why: str
    held: bool
    test: bool
    sheet_slots: tuple[int, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class PersonTold:
    """Somebody's ribbon. `short`: their name as it is called across the hall."""

    trainee: str
    name: str
    short: str
    planned: bool
    from_min: float
    to_min: float | None
    waited_min: float
    slots: tuple[SlotTold, ...]
    gone: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class HandsTold:
    """What a coach's hands are wanted for. `who`: those who are shown it together."""

    coach: int
    start_min: float
    end_min: float
    who: str
    trainees: tuple[str, ...]
    what: str
    place: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeTold:
    """Who goes where at a minute."""

    at_min: float
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class EveningTold:
    """An evening as it is shown. `left_out`: sentences; `figures`: waiting, by eye, and the least there can
    be.
    """

    headline: str
    figures: str
    figures_why: str
    people: tuple[PersonTold, ...]
    hands: tuple[HandsTold, ...]
    changes: tuple[ChangeTold, ...]
    left_out: tuple[str, ...]
    would_help: tuple[str, ...]
    together: tuple[str, ...]
    caution: str


def short_names(people: Sequence[NightPerson]) -> tuple[str, ...]:
    """Each by the first name, or by as much of the whole as tells them apart."""
    first = Counter(p.name.split()[0] for p in people if p.name.split())
    return tuple(
        p.name.split()[0] if p.name.split() and first[p.name.split()[0]] == 1 else p.name for p in people
    )


def place_words(evening: Evening, slot: Slot) -> str:
    """A station as it is called: "wall 2"; one of its kind needs no number; empty where somebody stays."""
    if slot.station == ANYWHERE:
        return ""
    return slot.station if evening.stations.get(slot.station, 0) == 1 else f"{slot.station} {slot.number}"


def tell_evening(evening: Evening, rules: ClassRules) -> EveningTold:
    """Put an evening into words."""
    short = short_names(evening.people)
    people = tuple(_person(evening, n, short[n]) for n in range(len(evening.people)))
    return EveningTold(
        headline=_headline(evening),
        figures=_figures(evening),
        figures_why=_figures_why(evening),
        people=people,
        hands=_hands(evening, short),
        changes=_changes(evening, short),
        left_out=_left_out(evening, short),
        would_help=tuple(h.words for h in evening.would_help),
        together=_together(evening, short),
        caution=rules.caution,
    )


def _headline(evening: Evening) -> str:
    n = len(evening.people)
    who = NUMBERS[n] if n < len(NUMBERS) else str(n)
    stations = [
        f"{NUMBERS[count].lower() if count < len(NUMBERS) else count} {_plural(kind, count)}"
        for kind, count in ((kind, evening.stations.get(kind, 0)) for kind in ("wall", "box"))
        if count
    ]
    return f"{', '.join([f'{who} on the floor', *stations])}."


def _plural(kind: str, count: int) -> str:
    if count == 1 or kind.endswith("s"):
        return kind
    return f"{kind}es" if kind.endswith("x") else f"{kind}s"


def _figures(evening: Evening) -> str:
    if evening.price is None or evening.by_eye is None:
        return ""
    words = [f"waiting {evening.price.waited_min:.0f} min in all", f"by eye {evening.by_eye.waited_min:.0f}"]
    if evening.by_eye.left_out > evening.price.left_out:
        words[-1] += f" with {evening.by_eye.left_out} left out"
    if evening.proven:
        words.append("proven the least")
    elif evening.bound_min is not None:
        words.append(f"not below {evening.bound_min:.0f}")
    return " · ".join(words)


def _figures_why(evening: Evening) -> str:
    return (
        "Waiting is what everybody stands about beyond the rest they are to have. By eye: whoever has waited"
        " longest goes to the first place that is free. Not below: each station taken alone, whoever has"
        " least left first." + ("" if evening.proven else " Better than by eye, and not proven the best.")
    )


def _person(evening: Evening, n: int, short: str) -> PersonTold:
    person = evening.people[n]
    own = sorted((s for s in evening.slots if s.trainee == n), key=lambda s: (s.start_min, s.block))
    held = {(h.trainee, h.block) for h in evening.holds}
    told, free, waited = [], person.from_min, 0.0
    for s in own:
        block = person.blocks[s.block]
        waited += max(0.0, s.start_min - free)
        free = s.end_min + block.rest_after_min
        told.append(
            SlotTold(
                block=s.block,
                title=block.title,
                place=place_words(evening, s),
                station=s.station,
                number=s.number,
                dose=", ".join(filter(None, (block.sets, block.where))),
                start_min=s.start_min,
                end_min=s.end_min,
                hands=s.hands,
                hands_why=block.hands_why,
                held=(n, s.block) in held,
                test=block.test,
                sheet_slots=block.slots,
            )
        )
    return PersonTold(
        trainee=str(person.trainee),
        name=person.name,
        short=short,
        planned=person.planned,
        from_min=person.from_min,
        to_min=person.to_min,
        waited_min=round(waited, 1),
        slots=tuple(told),
        gone=tuple(f"{title}: {why}" for title, why in person.gone),
    )


def _hands(evening: Evening, short: Sequence[str]) -> tuple[HandsTold, ...]:
    """Whom the coaches are with, each coach's own in turn; what is shown to several stands once."""
    wanted: dict[tuple[float, str, int, int], list[Slot]] = {}
    for s in sorted(evening.slots, key=lambda s: (s.start_min, s.trainee)):
        if s.hands:
            shown = evening.people[s.trainee].blocks[s.block].shown
            key = (s.start_min, shown, -1, -1) if shown else (s.start_min, "", s.trainee, s.block)
            wanted.setdefault(key, []).append(s)
    free = [0.0] * max(1, len(evening.coaches))
    found = []
    for group in wanted.values():
        first = group[0]
        start, end = first.start_min, max(s.hands[1] for s in group if s.hands)
        coach = next((n for n, at in enumerate(free) if at <= start + 1e-9), 0)
        free[coach] = end
        block = evening.people[first.trainee].blocks[first.block]
        found.append(
            HandsTold(
                coach=coach,
                start_min=start,
                end_min=end,
                who=say_list([short[s.trainee] for s in group]),
                trainees=tuple(str(evening.people[s.trainee].trainee) for s in group),
                what=within(block.title),
                place=say_list([place_words(evening, s) for s in group if s.station != ANYWHERE]),
                why=block.hands_why,
            )
        )
    return tuple(found)


def _changes(evening: Evening, short: Sequence[str]) -> tuple[ChangeTold, ...]:
    """Who goes where, minute by minute; those who do the same where they stand are named together."""
    by_minute: dict[float, dict[str, list[str]]] = {}
    for s in sorted(evening.slots, key=lambda s: (s.start_min, s.trainee)):
        title, place = within(evening.people[s.trainee].blocks[s.block].title), place_words(evening, s)
        words = f" to {place}: {title}" if place else f": {title}"
        by_minute.setdefault(s.start_min, {}).setdefault(words, []).append(short[s.trainee])
    return tuple(
        ChangeTold(
            at_min=at,
            words=" ".join(
                f"{'All' if len(who) == len(short) > 1 else say_list(who)}{words}."
                for words, who in moves.items()
            ),
        )
        for at, moves in sorted(by_minute.items())
    )


def _left_out(evening: Evening, short: Sequence[str]) -> tuple[str, ...]:
    """What of each does not fit. Only what needs neither a station nor a coach is home work."""
    by_person: dict[int, list[NightBlock]] = {}
    for t, b in evening.left_out:
        by_person.setdefault(t, []).append(evening.people[t].blocks[b])
    return tuple(
        f"{short[t]}: {say_list([within(b.title) for b in blocks])}. Begin with it next time."
        + "".join(
            f" At home: {say_list(home)}."
            for home in [[within(b.title) for b in blocks if b.stations == (ANYWHERE,) and not b.hands_min]]
            if home
        )
        for t, blocks in by_person.items()
    )


def _together(evening: Evening, short: Sequence[str]) -> tuple[str, ...]:
    """What is shown once to several."""
    return tuple(
        f"{h.who} begin {h.what} together: show it once."
        for h in _hands(evening, short)
        if len(h.trainees) > 1
    )
