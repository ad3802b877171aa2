"""What a screen on the hall's wall shows of an evening."""

from dataclasses import dataclass

from wise_perch.core.class_night.blocks import NightBlock
from wise_perch.core.class_night.evening import Evening
from wise_perch.core.class_night.told import place_words, short_names


@dataclass(frozen=True, slots=True, kw_only=True)
class DisplaySlot:
    """A block as the whole hall may read it: a test is only called one."""

    title: str
    place: str
    dose: str
    start_min: float
    end_min: float


@dataclass(frozen=True, slots=True, kw_only=True)
class DisplayPerson:
    """Somebody on the hall's display: their first name and their places in turn."""

    name: str
    slots: tuple[DisplaySlot, ...]


def _on_the_wall(block: NightBlock) -> str:
    """What a block is called there; of what is joined each with its amount."""
    if block.test:
        return "Test"
    return block.sets if block.parts and block.sets else block.title


def tell_display(evening: Evening) -> tuple[DisplayPerson, ...]:
    """An evening as a screen on the wall shows it: no results, nothing of health, no full names."""
    short = short_names(evening.people)
    return tuple(
        DisplayPerson(
            name=short[n],
            slots=tuple(
                DisplaySlot(
                    title=_on_the_wall(block := person.blocks[s.block]),
                    place=place_words(evening, s),
                    dose="" if block.test or block.parts else block.sets,
                    start_min=s.start_min,
                    end_min=s.end_min,
                )
                for s in sorted(evening.slots, key=lambda s: s.start_min)
                if s.trainee == n
            ),
        )
        for n, person in enumerate(evening.people)
    )
