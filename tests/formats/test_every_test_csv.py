"""Every test as CSV: a run drawn along its sheet is written, read back and scored alike; what does not fit is
named by line.
"""

import subprocess
import sys
from datetime import UTC, date, datetime
from pathlib import Path

import pytest

from wise_perch.core.bench.layout import lay_out
from wise_perch.core.bench.run_sheet import walk_run
from wise_perch.core.scoring import judge_tries
from wise_perch.core.scoring.verdict import RunFacts
from wise_perch.core.trade.evidence import Form, Try
from wise_perch.core.trainee.stored import ExportedTry
from wise_perch.formats.junk import Junk
from wise_perch.formats.score import score_file
from wise_perch.formats.tries_csv import COLUMNS, MORE, read_tries, write_tries
from wise_perch.syllabus.shipped import built_in

SYLLABUS = built_in()
TESTS = SYLLABUS.tests
AT = datetime(2026, 5, 3, 16, tzinfo=UTC)


def drawn(name: str) -> tuple[str, list[Try]]:
    """A whole run of a test: every other try good, figures that differ."""
    test = TESTS[name]
    drill = next(iter(SYLLABUS.subjects(test)), None)
    sheet, tries = lay_out(test, subject=drill), list[Try]()
    while (step := walk_run(sheet, tries).step) is not None:
        mode, n = test.mode(step.mode), len(tries) + 1
        mark = next((m for m in mode.marks if m.passed is (n % 3 != 0)), mode.marks[n % len(mode.marks)])
        value = float(n) if mark.figure else None
        level = step.levels[0] if step.levels else None
        tries.append(
            Try(
                number=n,
                outcome=mark.outcome,
                value=value,
                mode=mode.mode,
                level=level,
                side=step.side,
                fell=mark.fell,
                form=Form.LOOSE if n == 2 else None,
            )
        )
    return drill.drill if drill else "", tries


def exported(name: str) -> list[ExportedTry]:
    drill, tries = drawn(name)
    dial = {"hands-to-wall": 12.5} if name == "wall-hold" else {}
    figures = ("number", "outcome", "value", "mode", "level", "side", "fell", "form")
    return [
        ExportedTry(
            **{f: getattr(t, f) for f in figures},
            trainee="Orin Vale",
            test=name,
            drill=drill,
            dial=dial,
            confidence=4,
            started_at=AT,
            note="chalk",
        )
        for t in tries
    ]


@pytest.mark.parametrize("name", list(TESTS))
def test_a_run_comes_back_as_it_went_out(name: str) -> None:
    """Written and read, every try, the drill, the setting of the run and the confidence are the same."""
    drill, tries = drawn(name)
    read = read_tries(write_tries(exported(name), tests=TESTS).encode(), tests=TESTS)
    assert read.problems == []
    assert [line.tried for line in read.lines] == tries
    assert {(line.test, line.drill, line.confidence) for line in read.lines} == {(name, drill, 4)}


@pytest.mark.parametrize("name", list(TESTS))
def test_the_door_scores_as_the_core_does(name: str, tmp_path: Path) -> None:
    """The figures, decision and reasons of `./perch score` are those of the app, for every test."""
    drill, tries = drawn(name)
    path = tmp_path / "tries.csv"
    path.write_text(write_tries(exported(name), tests=TESTS), "utf-8")
    (found,) = score_file(path, SYLLABUS)
    dial = {"hands-to-wall": 12.5} if name == "wall-hold" else {}
    known = RunFacts(
        day=date(2026, 5, 3),
        subject=SYLLABUS.drills.get(drill),
        dial=dial,
        confidence=4,
        drills=SYLLABUS.drills,
    )
    verdict = judge_tries(TESTS[name], tries, known)
    assert (found["decision"], found["reasons"]) == (verdict.decision, verdict.reasons)
    assert {key: found[key] for key in verdict.figures} == dict(verdict.figures)


def test_several_tests_in_one_file(tmp_path: Path) -> None:
    """One file may hold all tests of a day; each comes out as a run of its own, in file order, through the
    command.
    """
    path = tmp_path / "day.csv"
    path.write_text(write_tries([t for name in TESTS for t in exported(name)], tests=TESTS), "utf-8")
    done = subprocess.run(
        [sys.executable, "-m", "wise_perch.cli", "score", str(path)],
        capture_output=True,
        text=True,
        check=True,
    )
    assert [
        line.split(": ")[1].split(",")[0] for line in done.stdout.splitlines() if line.startswith("Orin Vale")
    ] == list(TESTS)


GOOD = dict.fromkeys((*COLUMNS, *MORE), "") | {
    "trainee": "Orin Vale",
    "started_at": "2026-05-03T18:00:00Z",
    "try": "1",
}


@pytest.mark.parametrize(
    ("cells", "said"),
    [
        ({"test": "push-floor", "outcome": "clean"}, "needs its pad height"),
        ({"test": "push-floor", "outcome": "clean", "setting": "far"}, 'setting "far"'),
        ({"test": "heel-float", "outcome": "counted", "mode": "touches", "seconds": "4"}, "goes under value"),
        ({"test": "heel-float", "outcome": "held", "seconds": "4", "value": "4"}, "both filled"),
        ({"test": "heel-float", "outcome": "held", "seconds": "4", "mode": "hours"}, "are measured as"),
        ({"test": "simple-hold", "outcome": "held", "seconds": "4"}, "drill is empty"),
        (
            {"test": "simple-hold", "outcome": "held", "seconds": "4", "drill": "moon-walk"},
            'drill is "moon-walk"',
        ),
        ({"test": "wall-landings", "outcome": "soft", "drill": "l-sit"}, "is not run for a drill"),
        ({"test": "wall-landings", "outcome": "soft", "dial": "pad-height"}, "go together"),
        ({"test": "wall-landings", "outcome": "soft", "confidence": "9"}, "confidence"),
        ({"test": "leap-frog", "outcome": "soft"}, "this reads free-tries"),
    ],
)
def test_what_does_not_fit_its_test_is_named(cells: dict[str, str], said: str, tmp_path: Path) -> None:
    """A figure in the wrong column, a drill the test is not run for, an unknown test: the line and the
    reason.
    """
    row = GOOD | cells
    path = tmp_path / "bad.csv"
    path.write_text(",".join(row) + "\n" + ",".join(row.values()) + "\n", "utf-8")
    with pytest.raises(Junk) as caught:
        score_file(path, SYLLABUS)
    assert caught.value.lines[0].startswith("bad.csv: line 2: ")
    assert said in caught.value.lines[0]
