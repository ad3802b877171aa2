"""What the code says, in errors, doors, commands, calendars, print and on screens, has none of the ills that
content is free of.
"""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.core.test_words import ILLS, RUNG

ROOT = Path(__file__).resolve().parent.parent
LIVE = ("core/bench", "core/floor", "core/scoring", "screens/bench", "screens/floor", "screens/test-day")
"""Where sentences are read with chalk on the hands: one idea each, so no semicolon."""
SPOKEN = re.compile(r"[A-Za-z]{2,} [a-z]{2,}")
CODE = re.compile(r"charset=|filename=|[{}]|select |=>|\||rem\]|px-|min-w-")


def said_by_python(path: Path) -> Iterator[str]:
    """Every text with words in it, but for docstrings; a figure stands for what is put in."""
    tree = ast.parse(path.read_text("utf-8"))
    silent = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
    for n in ast.walk(tree):
        if isinstance(n, ast.JoinedStr):
            silent |= {id(v) for v in n.values}
            yield "".join(str(v.value) if isinstance(v, ast.Constant) else "7" for v in n.values)
    for n in ast.walk(tree):
        if isinstance(n, ast.Constant) and isinstance(n.value, str) and id(n) not in silent:
            yield n.value


def said_by_screens(path: Path) -> Iterator[str]:
    """Every text between tags or in quotes, comments left out."""
    text = re.sub(r"/\*.*?\*/|(?<!:)//[^\n]*", "", path.read_text("utf-8"), flags=re.S)
    for found in re.findall(r">\s*([A-Za-z][^<>{}=;()]*[^<>{}=]*?)\s*<|\"([^\"\n]*)\"|`([^`]*)`", text):
        yield " ".join("".join(found).split())


def every() -> Iterator[tuple[str, str]]:
    """All of it, with where it stands."""
    for path in sorted((ROOT / "wise_perch").rglob("*.py")):
        if not {"rehearsal", "demo"} & set(path.parts):
            yield from ((str(path.relative_to(ROOT)), t) for t in said_by_python(path))
    for path in sorted((ROOT / "web" / "src").rglob("*.ts*")):
        if path.name != "schema.d.ts":
            yield from ((str(path.relative_to(ROOT)), t) for t in said_by_screens(path))


@pytest.fixture(scope="module")
def said() -> list[tuple[str, str]]:
    found = [(where, t) for where, t in every() if SPOKEN.search(t) and not CODE.search(t)]
    assert len(found) > 1_500
    return found


@pytest.mark.parametrize("ill", [i for i in ILLS if i != "None"])
def test_no_sentence_in_the_code_has_an_ill(said: list[tuple[str, str]], ill: str) -> None:
    assert [(where, t) for where, t in said if re.search(ILLS[ill], t)] == []


def test_a_sentence_on_a_live_screen_has_no_semicolon(said: list[tuple[str, str]]) -> None:
    live = [(where, t) for where, t in said if any(part in where for part in LIVE)]
    assert len(live) > 100
    assert [(where, t) for where, t in live if ";" in t] == []


def test_a_rung_is_spoken_of_only_where_rungs_are_made(said: list[tuple[str, str]]) -> None:
    """Coaches edit rungs in the syllabus; everywhere else it is a step or a drill."""
    made = ("syllabus", "WallBars", "bay_", "checks", "schools", "edits", "breakdown", "gaps", "jumps")
    outside = [(where, t) for where, t in said if not any(part in where for part in made)]
    assert [(where, t) for where, t in outside if re.search(RUNG, t)] == []


def test_the_check_itself_can_fail(tmp_path: Path) -> None:
    bad = tmp_path / "bad.py"
    bad.write_text('"""Fine."""\nx = f"It is said {1} anew."\n', "utf-8")
    assert [t for t in said_by_python(bad) if re.search(ILLS["anew"], t)] == ["It is said 7 anew."]
    screen = tmp_path / "bad.tsx"
    screen.write_text("<p>One rung more; and so on</p>", "utf-8")
    assert "One rung more; and so on" in list(said_by_screens(screen))
