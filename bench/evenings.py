"""Made-up evenings, for tests and for the bench's figures."""

import random

from wise_perch.core.class_night.question import ClassBlock, ClassQuestion, ClassTrainee

KINDS = (("wall",), ("wall", "box"), ("open floor",), ("box",), ("parallettes", "open floor"), ("mat",))
SMALL = {"wall": 2, "box": 1, "open floor": 4, "parallettes": 1, "mat": 3}
LARGE = {"wall": 6, "box": 2, "open floor": 8, "parallettes": 2, "mat": 6}


def draw_evening(
    people: int, seed: int, *, stations: dict[str, int] | None = None, coaches: int = 1, minutes: float = 60
) -> ClassQuestion:
    """An evening of so many trainees: a warm-up for all, then three or four blocks each."""
    dice = random.Random(f"{people} {seed}")
    comes = []
    for n in range(people):
        blocks = [ClassBlock(title="Warm-up", minutes=6, stations=("anywhere",))]
        for k in range(dice.randint(3, 4)):
            minutes_of = dice.choice((5, 6, 7.5, 8, 9))
            blocks.append(
                ClassBlock(
                    title=f"Block {k + 1}",
                    minutes=minutes_of,
                    stations=dice.choices(KINDS, (4, 2, 4, 1, 1, 2))[0],
                    rest_after_min=dice.choice((0, 1, 1, 2)),
                    hands_min=dice.choice((0, 0, 0, 3, 4)),
                )
            )
        comes.append(ClassTrainee(name=f"Trainee {n + 1}", blocks=tuple(blocks)))
    return ClassQuestion(
        minutes=minutes,
        stations={**(SMALL if stations is None else stations), "anywhere": people},
        coaches=coaches,
        trainees=tuple(comes),
    )
