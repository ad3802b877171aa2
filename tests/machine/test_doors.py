"""The doors without a server: ./perch score, as a newcomer would call it."""

import json
import subprocess
import sys
from pathlib import Path

import pytest

from wise_perch.machine.places import ROOT

TABLE = """trainee,test,started_at,try,outcome,seconds,fell,form,note
Tilda,free-tries,2026-05-03T18:00:00+02:00,1,held,3.1,over,clean,
Orin,free-tries,2026-05-03T18:30:00+02:00,1,undershot,,,,
Tilda,free-tries,2026-05-03T18:00:00+02:00,2,overshot,,,,
"""
FIGURES = (
    "trainee test started_at n held overshot undershot held_share reach_share overshoot_share ten_second_share mean_hold_s best_hold_s falls_over"
    " falls_under fall_pattern fall_p held_interval ten_second_interval p_ten_second_at_least_0_7 level decision unchecked reasons"
)


def score(path: Path, *words: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "wise_perch.cli", "score", str(path), *words], cwd=ROOT, capture_output=True, text=True, check=False)


def test_score_prints_exactly_the_documented_figures(tmp_path: Path) -> None:
    """One object a trainee and test start, in file order, with exactly the documented names, and nothing else on standard output."""
    (tmp_path / "a.csv").write_text(TABLE, "utf-8")
    found = json.loads(score(tmp_path / "a.csv", "--json").stdout)
    assert [(run["trainee"], run["n"]) for run in found] == [("Tilda", 2), ("Orin", 1)]
    assert set(found[0]) == set(FIGURES.split())
    assert found[0]["started_at"] == "2026-05-03T18:00:00+02:00"
    assert (found[0]["reach_share"], found[0]["fall_p"], found[1]["mean_hold_s"]) == (1.0, 1.0, None)
    assert found[0]["unchecked"] == ["exits", "soft landings"]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        (TABLE.replace("3.1", "-1"), "line 2: seconds is -1"),
        ("nonsense", "line 1: missing column"),
        (TABLE.split("\n", 1)[0], "line 1: there are no tries"),
    ],
)
def test_junk_gives_a_line_and_exit_2(tmp_path: Path, text: str, said: str) -> None:
    """Junk is named by line on standard error, exit 2, and nothing is printed as a result."""
    (tmp_path / "a.csv").write_text(text, "utf-8")
    done = score(tmp_path / "a.csv", "--json")
    assert (done.returncode, done.stdout) == (2, "")
    assert said in done.stderr


def test_a_file_that_is_not_there(tmp_path: Path) -> None:
    """A missing file is a sentence and exit 2."""
    done = score(tmp_path / "none.csv")
    assert (done.returncode, "No such file" in done.stderr) == (2, True)
