"""Writing a syllabus as one file that reads back the same, and the schema of such a file."""

from typing import Any

import yaml

from wise_perch.core.trade.content import Content
from wise_perch.syllabus.reading import reader

DUMPER: Any = getattr(yaml, "CSafeDumper", yaml.SafeDumper)


def json_schema() -> dict[str, Any]:
    """The JSON Schema (draft 2020-12) of a syllabus file; a key it does not know is refused, as reading
    refuses it.
    """
    made = reader(Content).json_schema()
    for part in [made, *made["$defs"].values()]:
        if "properties" in part:
            part["additionalProperties"] = False
    about = (
        "Lines, drills, gates, doses, faults, goals and schools. What the figures mean stands in"
        " docs/formats.md."
    )
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **made,
        "title": "Syllabus",
        "description": about,
    }


def write(content: Content) -> str:
    """Write content as YAML: only what differs from a field's default, in the order of the model. It reads
    back the same.
    """
    raw = reader(Content).dump_python(content, mode="json", exclude_defaults=True)
    head = (
        "# A syllabus of lines, drills, gates, doses, faults, goals and schools. The format: docs/formats.md,"
        " docs/syllabus.schema.json.\n"
    )
    return head + str(
        yaml.dump(raw, Dumper=DUMPER, sort_keys=False, allow_unicode=True, width=140, default_flow_style=None)
    )
