"""The JSON Schema that ships, against a reference validator of JSON Schema draft 2020-12.

Wright, Andrews, Hutton, Dennis, 2022, JSON Schema: A Media Type for Describing JSON Documents
(draft-bhutton-json-schema-01).
"""

import json
from typing import Any

import pytest
from jsonschema import Draft202012Validator

from wise_perch.machine.places import ROOT
from wise_perch.syllabus.reading import parse
from wise_perch.syllabus.shipped import our_text

SCHEMA: dict[str, Any] = json.loads((ROOT / "docs/syllabus.schema.json").read_text("utf-8"))
VALIDATOR = Draft202012Validator(SCHEMA)


def ours() -> Any:
    """Our syllabus as plain values, to be spoilt by a test."""
    return parse(our_text()).raw


def test_the_schema_is_one_and_ours_fits_it() -> None:
    """The document is a valid schema, and the syllabus that ships is valid by it."""
    Draft202012Validator.check_schema(SCHEMA)
    assert list(VALIDATOR.iter_errors(ours())) == []


@pytest.mark.parametrize(
    ("path", "value"),
    [
        (("format",), "syllabus/2"),
        (("lines", 0, "rungs", 0, 0, "gate", "measure"), "height of fame"),
        (("lines", 0, "rungs", 0, 0, "gate", "value"), "thirty"),
        (("lines", 0, "rungs", 0, 0, "gate", "origin"), "hearsay"),
        (("lines", 0, "rungs", 0, 0, "colour"), "red"),
        (("rules", "exits"), "free-exit"),
    ],
)
def test_what_we_refuse_the_schema_refuses(path: tuple[str | int, ...], value: object) -> None:
    """A wrong format, measure, number, origin, an unknown key and a missing list are invalid by the schema
    too.
    """
    spoilt = ours()
    place = spoilt
    for step in path[:-1]:
        place = place[step]
    place[path[-1]] = value
    assert list(VALIDATOR.iter_errors(spoilt))
