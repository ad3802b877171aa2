"""An independent checker of time-tables: it walks the evening in tenths of a minute and knows nothing of how
they are made.
"""

from wise_perch.core.class_night.question import ClassQuestion, Slot


def tenths(minutes: float) -> int:
    at = minutes * 10
    assert abs(at - round(at)) < 1e-6, f"{minutes} is no tenth of a minute"
    return round(at)


def faults_of(
    question: ClassQuestion, slots: tuple[Slot, ...], left_out: tuple[tuple[int, int], ...] = ()
) -> list[str]:
    """Everything that is wrong with a time-table, in words; empty where nothing is."""
    found: list[str] = []
    for t, person in enumerate(question.trainees):
        own = sorted((s for s in slots if s.trainee == t), key=lambda s: s.start_min)
        if [s.block for s in own] != list(range(len(own))):
            found.append(f"{person.name}: out of order or not only the end left out")
        if sorted(b for x, b in left_out if x == t) != list(range(len(own), len(person.blocks))):
            found.append(f"{person.name}: what is left out is not what is missing")
        free = tenths(person.from_min)
        for slot in own:
            found += [f"{person.name}: {words}" for words in _faults_of_slot(question, slot, free)]
            free = tenths(slot.end_min) + tenths(person.blocks[slot.block].rest_after_min)
    return found + _crowds(question, slots)


def _faults_of_slot(question: ClassQuestion, slot: Slot, free: int) -> list[str]:
    """What is wrong with one block at one place; what is past only has to be at a station that there is."""
    block = question.trainees[slot.trainee].blocks[slot.block]
    start, end = tenths(slot.start_min), tenths(slot.end_min)
    hands = (start, start + tenths(block.hands_min)) if block.hands_min else None
    wrong = {
        f"{block.title} lasts {end - start}": end - start != tenths(block.minutes),
        f"{block.title} begins before the rest is over": start < free,
        f"{block.title} ends too late": end > tenths(question.leaves_min(slot.trainee)),
        f"{block.title} begins in the past": start < tenths(question.now_min),
        f"{block.title} at {slot.station}": slot.station not in block.stations,
        f"hands {slot.hands}": (slot.hands and (tenths(slot.hands[0]), tenths(slot.hands[1]))) != hands,
    }
    if (slot.trainee, slot.block) in {(s.trainee, s.block) for s in question.past}:
        wrong = {}
    wrong[f"no {slot.station} {slot.number}"] = not 1 <= slot.number <= question.stations.get(slot.station, 0)
    return [words for words, is_so in wrong.items() if is_so]


def _crowds(question: ClassQuestion, slots: tuple[Slot, ...]) -> list[str]:
    """Walk every tenth of a minute: one at a station, one place a person, no more hands than coaches have."""
    found: list[str] = []
    last = max((tenths(s.end_min) for s in slots), default=0)
    for at in range(last):
        here = [s for s in slots if tenths(s.start_min) <= at < tenths(s.end_min)]
        places = [(s.station, s.number) for s in here]
        if len(places) != len(set(places)):
            found.append(f"at {at / 10}: two at one station")
        if len({s.trainee for s in here}) != len(here):
            found.append(f"at {at / 10}: somebody is twice")
        hands = [s for s in here if s.hands and tenths(s.hands[0]) <= at < tenths(s.hands[1])]
        # what is shown to several who begin it together takes one coach
        shown = {
            (block.shown, s.start_min) if block.shown else (s.trainee, s.block)
            for s in hands
            for block in [question.trainees[s.trainee].blocks[s.block]]
        }
        if len(shown) > question.coaches:
            found.append(f"at {at / 10}: {len(shown)} want hands")
    return found


def waited(question: ClassQuestion, slots: tuple[Slot, ...]) -> float:
    """Waiting beyond the wished rest, min, added up anew."""
    total = 0
    for t, person in enumerate(question.trainees):
        free = tenths(person.from_min)
        for slot in sorted((s for s in slots if s.trainee == t), key=lambda s: s.start_min):
            total += max(0, tenths(slot.start_min) - free)
            free = tenths(slot.end_min) + tenths(person.blocks[slot.block].rest_after_min)
    return total / 10
