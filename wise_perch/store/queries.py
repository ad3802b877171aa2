"""Named SQL statements, read once from the files beside this one and never built from strings."""

import re
from functools import cache
from pathlib import Path
from typing import LiteralString, cast

FOLDER = Path(__file__).parent / "sql"
_HEAD = re.compile(r"^-- (\w+): (.+)$", re.MULTILINE)


@cache
def queries(subject: str) -> dict[str, LiteralString]:
    """Read `sql/<subject>.sql`: each statement follows a line `-- name: what it does`."""
    parts = _HEAD.split((FOLDER / f"{subject}.sql").read_text("utf-8"))
    # the text is part of the installed program, so it is as literal as a string in this file
    return {
        name: cast(LiteralString, body.strip()) for name, body in zip(parts[1::3], parts[3::3], strict=True)
    }
