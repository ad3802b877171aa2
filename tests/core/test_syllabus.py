"""The syllabus data is sound, and unsound data is refused with a sentence for each fault."""

import shutil
from pathlib import Path

import pytest

from wise_perch.syllabus.shipped import HERE, SyllabusError, built_in, load


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    for name in [p.name for p in HERE.iterdir() if p.suffix == ".yaml" or p.name in ("lines", "tests")]:
        (shutil.copytree if (HERE / name).is_dir() else shutil.copy)(HERE / name, tmp_path / name)
    return tmp_path


def change(folder: Path, file: str, old: str, new: str) -> Path:
    path = folder / file
    text = path.read_text("utf-8")
    assert old in text
    path.write_text(text.replace(old, new, 1), "utf-8")
    return folder


def test_the_lines_are_there() -> None:
    """Nine lines stand in the order of the wall bars."""
    assert [line.line for line in built_in().lines] == [
        "shape",
        "inversion",
        "entry",
        "exit",
        "balance",
        "push",
        "press",
        "support",
        "mobility",
    ]


def test_every_drill_away_from_the_wall_waits_for_a_proven_exit() -> None:
    """Nothing guarded on the open floor opens without an exit, directly or through what it waits for."""
    s = built_in()
    for name in (
        "free-kick-up",
        "near-wall-float",
        "free-hold-5",
        "free-hold-10",
        "straddle-handstand",
        "tuck-handstand",
        "other-side-exit",
    ):
        assert any(
            {"free-exit", "step-down-30"} & set(n.any_of) and n.state == "proven" for n in s.needs[name]
        ), name


def test_the_version_follows_the_data(folder: Path) -> None:
    """Any change to the data is another version, so that kept judgements are made again."""
    before = load(folder).version
    assert load(change(folder, "rules.yaml", "28", "30")).version != before


@pytest.mark.parametrize(
    ("file", "old", "new", "said"),
    [
        ("lines/3-entry.yaml", "away: true", "awya: true", "line 123: unknown key awya"),
        ("lines/2-inversion.yaml", "value: 30", "value: thirty", "value"),
        ("lines/2-inversion.yaml", "origin: practice", "origin: hearsay", "origin"),
        (
            "lines/2-inversion.yaml",
            "{measure: hold, value: 30",
            "{measure: hold, value: 0",
            "met by doing nothing",
        ),
        ("lines/3-entry.yaml", "value: 7, of: 10", "value: 11, of: 10", "cannot be reached"),
        (
            "lines/3-entry.yaml",
            "{measure: rate, value: 7, of: 10",
            "{measure: rate, value: 7",
            "a rate is k of n",
        ),
        (
            "lines/3-entry.yaml",
            "any_of: [free-exit]",
            "any_of: [free-exitt]",
            "free-exitt, which is no drill",
        ),
        ("lines/3-entry.yaml", "drill: see-saw-hop", "drill: lunge-to-t", "stands twice"),
        ("lines/2-inversion.yaml", "dial: hands-to-wall", "dial: pad-height", "is not its dial"),
        (
            "tests/01-free-tries.yaml",
            "work_on: [heel-float, finger-press]",
            "work_on: [heel-floats]",
            "heel-floats",
        ),
        (
            "lines/2-inversion.yaml",
            "gate: {measure: hold, value: 30, origin: practice}",
            "gate: {measure: hold, value: 30, origin: practice}\n      needs: [{any_of: [wall-walk]}]",
            "wait for one another",
        ),
    ],
)
def test_unsound_data_is_refused(folder: Path, file: str, old: str, new: str, said: str) -> None:
    """Every fault is named in words: unknown keys and drills, wrong values, impossible gates, cycles."""
    with pytest.raises(SyllabusError, match=said):
        load(change(folder, file, old, new))
