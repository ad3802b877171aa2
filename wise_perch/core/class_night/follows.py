"""How the rest of an evening followed, in words."""

from wise_perch.core.class_night.evening import Evening
from wise_perch.core.class_night.question import ANYWHERE, Slot
from wise_perch.core.class_night.told import place_words, short_names
from wise_perch.core.trade.words import within


def tell_changes(before: Evening, after: Evening) -> tuple[str, ...]:
    """What of an evening has changed, for whom: the place, the minute, or whether it fits."""
    short = short_names(after.people)
    was = {
        (before.people[s.trainee].trainee, before.people[s.trainee].blocks[s.block].title, s.block): s
        for s in before.slots
    }
    found: list[str] = []
    for n, person in enumerate(after.people):
        own = sorted((s for s in after.slots if s.trainee == n), key=lambda s: s.start_min)
        for s in own:
            title = person.blocks[s.block].title
            old = was.get((person.trainee, title, s.block))
            moved = _moved(after, old, s) if old else ""
            if moved:
                found.append(f"{short[n]}, {within(title)}: {moved}.")
                break
    new_out = set(after.left_out) - set(before.left_out)
    for t, b in sorted(new_out):
        found.append(f"{short[t]}, {within(after.people[t].blocks[b].title)}: no longer fits.")
    return tuple(found)


def _moved(evening: Evening, old: Slot, new: Slot) -> str:
    """How a block has moved; empty where nobody would see it."""
    words = []
    later = new.start_min - old.start_min
    if abs(later) >= 0.3:
        words.append(
            f"{abs(later):.0f} min {'later' if later > 0 else 'earlier'}"
            if abs(later) >= 1
            else f"half a minute {'later' if later > 0 else 'earlier'}"
        )
    if (old.station, old.number) != (new.station, new.number) and new.station != ANYWHERE:
        words.append(f"at {place_words(evening, new)}")
    return ", ".join(words)
