"""An independent checker of time-tables: it walks the evening in tenths of a minute and knows nothing of how they
are made.
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
    by_person: dict[int, list[Slot]] = {t: [] for t in range(len(question.trainees))}
    for slot in slots:
        by_person[slot.trainee].append(slot)
    stays = {(s.trainee, s.block) for s in question.past}
    for t, own in by_person.items():
        person, own = question.trainees[t], sorted(own, key=lambda s: s.start_min)
        if [s.block for s in own] != list(range(len(own))):
            found.append(f"{person.name}: out of order or not only the end left out")
        if sorted(b for x, b in left_out if x == t) != list(range(len(own), len(person.blocks))):
            found.append(f"{person.name}: what is left out is not what is missing")
        free = tenths(person.from_min)
        for slot in own:
            block = person.blocks[slot.block]
            start, end = tenths(slot.start_min), tenths(slot.end_min)
            if (t, slot.block) not in stays:
                if end - start != tenths(block.minutes):
                    found.append(f"{person.name}: {block.title} lasts {end - start}")
                if start < free:
                    found.append(f"{person.name}: {block.title} begins before the rest is over")
                if end > tenths(question.leaves_min(t)):
                    found.append(f"{person.name}: {block.title} ends too late")
                if start < tenths(question.now_min):
                    found.append(f"{person.name}: {block.title} begins in the past")
                if slot.station not in block.stations:
                    found.append(f"{person.name}: {block.title} at {slot.station}")
                hands = (start, start + tenths(block.hands_min)) if block.hands_min else None
                if (slot.hands and (tenths(slot.hands[0]), tenths(slot.hands[1]))) != hands:
                    found.append(f"{person.name}: {block.title} has hands {slot.hands}")
            if not 1 <= slot.number <= question.stations.get(slot.station, 0):
                found.append(f"there is no {slot.station} {slot.number}")
            free = end + tenths(block.rest_after_min)
    return found + _crowds(question, slots)


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
