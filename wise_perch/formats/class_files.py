"""The door to the rotation without server or database: a class as JSON in, its time-table out; and a class
taken along as JSON, CSV and calendar. Documented in docs/formats.md.
"""

import csv
import io
from pathlib import Path
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, ValidationError, model_validator

from wise_perch.core.class_night.question import ClassBlock, ClassQuestion, ClassTrainee, Rotation
from wise_perch.core.class_night.rotate import rotate
from wise_perch.formats.junk import Junk

MOST_BYTES = 2_000_000
Words = Annotated[
    str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120, pattern=r"^[^\x00-\x1f]+$")
]
Minutes = Annotated[float, Field(ge=0, le=480, allow_inf_nan=False)]
ANSWERED = ("rotation",)
"""What an evening that was taken along has beside its question."""


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)


class BlockFile(_Strict):
    """A block as it stands in a file."""

    title: Words
    minutes: Annotated[float, Field(gt=0, le=480, allow_inf_nan=False)]
    stations: Annotated[list[Words], Field(min_length=1, max_length=20)]
    rest_after_min: Minutes = 0.0
    hands_min: Minutes = 0.0
    shown: Annotated[str, Field(max_length=120)] = ""

    @model_validator(mode="after")
    def _hands_within(self) -> "BlockFile":
        if self.hands_min > self.minutes:
            raise ValueError("hands_min is longer than the block")
        return self


class TraineeFile(_Strict):
    """Who comes, as it stands in a file."""

    name: Words
    from_min: Minutes = 0.0
    to_min: Minutes | None = None
    blocks: Annotated[list[BlockFile], Field(max_length=40)]

    @model_validator(mode="after")
    def _comes_before_going(self) -> "TraineeFile":
        if self.to_min is not None and self.to_min <= self.from_min:
            raise ValueError("to_min has to be after from_min")
        return self


class ClassFile(_Strict):
    """A class as it stands in a file."""

    minutes: Annotated[float, Field(gt=0, le=480, allow_inf_nan=False)]
    stations: Annotated[dict[Words, Annotated[int, Field(ge=0, le=200)]], Field(max_length=40)]
    coaches: Annotated[int, Field(ge=0, le=40)]
    trainees: Annotated[list[TraineeFile], Field(min_length=1, max_length=60)]

    @model_validator(mode="after")
    def _named_once(self) -> "ClassFile":
        names = [t.name for t in self.trainees]
        if twice := sorted({n for n in names if names.count(n) > 1}):
            raise ValueError(f"two trainees are called {twice[0]}")
        return self

    def question(self) -> ClassQuestion:
        """The class as the core takes it."""
        return ClassQuestion(
            minutes=self.minutes,
            stations=self.stations,
            coaches=self.coaches,
            trainees=tuple(
                ClassTrainee(
                    name=t.name,
                    from_min=t.from_min,
                    to_min=t.to_min,
                    blocks=tuple(
                        ClassBlock(
                            title=b.title,
                            minutes=b.minutes,
                            stations=tuple(dict.fromkeys(b.stations)),
                            rest_after_min=b.rest_after_min,
                            hands_min=b.hands_min,
                            shown=b.shown,
                        )
                        for b in t.blocks
                    ),
                )
                for t in self.trainees
            ),
        )


def read_class(path: Path) -> ClassQuestion:
    """Read a class from a file. Raises Junk, with where each trouble is."""
    import json

    try:
        if path.stat().st_size > MOST_BYTES:
            raise Junk([f"{path.name} is larger than any class"])
        found = json.loads(path.read_text("utf-8"))
    except OSError as error:
        raise Junk([f"{path.name} cannot be read: {error.strerror}"]) from None
    except (ValueError, RecursionError) as error:
        raise Junk([f"{path.name} is not JSON: {error}"]) from None
    if isinstance(found, dict):
        found = {k: v for k, v in found.items() if k not in ANSWERED}
    try:
        return ClassFile.model_validate(found).question()
    except ValidationError as error:
        raise Junk([_say_trouble(e) for e in error.errors()[:20]]) from None


def _say_trouble(trouble: Any) -> str:
    where = ".".join(str(n + 1) if isinstance(n, int) else n for n in trouble["loc"])
    said = trouble["msg"].removeprefix("Value error, ")
    return f"{where}: {said}" if where else said


def class_file(path: Path) -> dict[str, Any]:
    """Rotate the class in a file. Raises Junk."""
    question = read_class(path)
    return rotation_as_json(question, rotate(question))


def question_as_json(question: ClassQuestion) -> dict[str, Any]:
    """A class under the door's names; what is usual is left out."""
    return {
        "minutes": question.minutes,
        "stations": dict(question.stations),
        "coaches": question.coaches,
        "trainees": [
            {
                "name": t.name,
                **({"from_min": t.from_min} if t.from_min else {}),
                **({"to_min": t.to_min} if t.to_min is not None else {}),
                "blocks": [
                    {
                        "title": b.title,
                        "minutes": b.minutes,
                        "stations": list(b.stations),
                        **({"rest_after_min": b.rest_after_min} if b.rest_after_min else {}),
                        **({"hands_min": b.hands_min} if b.hands_min else {}),
                        **({"shown": b.shown} if b.shown else {}),
                    }
                    for b in t.blocks
                ],
            }
            for t in question.trainees
        ],
    }


def rotation_as_json(question: ClassQuestion, found: Rotation) -> dict[str, Any]:
    """A time-table under the door's names, by time."""
    people = question.trainees
    return {
        "slots": [
            {
                "trainee": people[s.trainee].name,
                "block": people[s.trainee].blocks[s.block].title,
                "station": s.station,
                "number": s.number,
                "start_min": s.start_min,
                "end_min": s.end_min,
                "hands": list(s.hands) if s.hands else None,
            }
            for s in sorted(found.slots, key=lambda s: (s.start_min, s.trainee))
        ],
        "left_out": [
            {"trainee": people[t].name, "block": people[t].blocks[b].title} for t, b in found.left_out
        ],
        "waited_min": round(found.price.waited_min, 2),
        "by_eye_min": round(found.by_eye.waited_min, 2),
        "by_eye_left_out": found.by_eye.left_out,
        "bound_min": found.bound_min,
        "proven": found.proven,
        "would_help": [
            {"change": h.change, "left_out": h.left_out, "words": h.words} for h in found.would_help
        ],
    }


def class_summary(found: dict[str, Any]) -> str:
    """A time-table as lines to read."""
    lines = [
        f"{s['start_min']:6.1f} to {s['end_min']:5.1f}  {s['trainee']}: {s['block']},"
        f" {s['station']} {s['number']}" + (f", coach to {s['hands'][1]:.1f}" if s["hands"] else "")
        for s in found["slots"]
    ]
    lines += [f"left out: {x['trainee']}, {x['block']}" for x in found["left_out"]]
    lines += [f"  {h['words']}" for h in found["would_help"]]
    least = "" if found["bound_min"] is None else f", not below {found['bound_min']:g}"
    lines.append(f"waited {found['waited_min']:g} min, by eye {found['by_eye_min']:g}{least}")
    return "\n".join(lines)


CSV_COLUMNS = (
    "trainee",
    "block",
    "station",
    "number",
    "start_min",
    "end_min",
    "hands_from_min",
    "hands_to_min",
)


def rotation_as_csv(question: ClassQuestion, found: Rotation) -> str:
    """A time-table as CSV, one line a slot."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(CSV_COLUMNS)
    for s in rotation_as_json(question, found)["slots"]:
        hands = s["hands"] or ("", "")
        writer.writerow([*(s[c] for c in CSV_COLUMNS[:6]), *hands])
    return out.getvalue()
