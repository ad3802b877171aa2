"""The doors without a server: ./perch score and ./perch standing, as a newcomer would call them."""

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
        (TABLE.replace("3.1", "-1"), "line 2: A hold lasts from 0 to 3600 s; this says -1"),
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


EVIDENCE = """trainee,day,drill,measure,value,n,mode,window_s,dial,dial_value,form,side,confidence,source,note
Tilda,2026-05-01,low-surface-hold,hold,31,,,,surface-height,20,clean,,4,live,
Tilda,2026-05-03,low-surface-hold,hold,33,,,,surface-height,20,clean,,4,live,
Tilda,2026-05-03,shoulder-rocks,reps,15,,,,,,clean,,4,live,
Tilda,2026-05-03,heel-float,touches,4,,,15,,,clean,,3,live,
Tilda,2026-06-09,pike-hold,hold,60,,,,,,clean,,4,live,after the day that is asked about
"""
PROFILE = {"goals": ["freestanding-hold"], "waivers": [{"drill": "cartwheel", "reason": "seen elsewhere", "day": "2026-05-02"}]}


def standing(folder: Path, evidence: str, profile: object, *words: str, on: str = "2026-05-04") -> subprocess.CompletedProcess[str]:
    (folder / "e.csv").write_text(evidence, "utf-8")
    (folder / "p.json").write_text(profile if isinstance(profile, str) else json.dumps(profile), "utf-8")
    command = [sys.executable, "-m", "wise_perch.cli", "standing", str(folder / "e.csv"), "--profile", str(folder / "p.json"), "--on", on, *words]
    return subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)


def test_standing_prints_perches_gates_and_the_way_to_each_goal(tmp_path: Path) -> None:
    """States, perches, ahead and behind, and for the goal path and holding pillar; evidence after the day is not looked at."""
    done = standing(tmp_path, EVIDENCE, PROFILE, "--json")
    assert (done.returncode, done.stderr) == (0, "")
    found = json.loads(done.stdout)
    assert set(found) == {"trainee", "on", "syllabus", "perches", "ahead", "behind", "gates", "goals"}
    assert (found["trainee"], found["on"]) == ("Tilda", "2026-05-04")
    assert (found["perches"]["inversion"], found["ahead"]["inversion"]) == ("shoulder-rocks", ["pike-hold", "raised-pike-hold"])
    assert found["behind"]["inversion"] == ["low-surface-hold"]
    states = {name: gate["state"] for name, gate in found["gates"].items() if gate["state"] != "not yet"}
    assert states == {"low-surface-hold": "proven", "shoulder-rocks": "met", "cartwheel": "waived"}
    assert [e["day"] for e in found["gates"]["low-surface-hold"]["evidence"]] == ["2026-05-01", "2026-05-03"]
    assert found["gates"]["cartwheel"]["waived"] == "seen elsewhere"
    assert found["gates"]["low-wall-climb"]["open"] is False
    assert found["gates"]["low-wall-climb"]["opens_with"].startswith("Low wall climb opens with ")
    goal = found["goals"]["freestanding-hold"]
    assert list(found["goals"]) == ["freestanding-hold"]
    assert (goal["reached"], goal["path"][-1], goal["holding_pillar"]) == (False, "free-hold-10", "shape")
    assert goal["work_on"][0]["drill"] == "pike-hold"
    assert all(step["until"].startswith("Closed until") for step in goal["closed"])


def test_standing_without_goals_answers_for_each_of_the_nine(tmp_path: Path) -> None:
    """An empty history and an empty profile: a beginner, with all nine goals before them."""
    found = json.loads(standing(tmp_path, EVIDENCE.split("\n", 1)[0] + "\n", {}, "--json").stdout)
    assert len(found["goals"]) == 9
    assert set(found["perches"].values()) == {None}


def test_a_school_in_the_profile_is_honoured(tmp_path: Path) -> None:
    """With the back to the wall first, the back-to-wall hold stands below the wall walk."""
    climbed = "".join(
        f"Tilda,2026-05-03,{drill},{measure},30,,,,,,clean,,,live,\n"
        for drill, measure in (("pike-hold", "hold"), ("raised-pike-hold", "hold"), ("right-angle-hold", "hold"), ("low-wall-climb", "hold"))
    )
    ahead = [
        json.loads(standing(tmp_path, EVIDENCE + climbed, {"schools": s}, "--json").stdout)["ahead"]["inversion"]
        for s in ({}, {"wall-first": "back-first"})
    ]
    assert ahead == [["wall-walk", "walk-out-bridge"], ["back-to-wall-hold"]]


def test_an_unconfirmed_caution_closes_what_is_upside_down(tmp_path: Path) -> None:
    """A yes in the profile without the coach's word opens nothing inverted; with it, it does."""
    for cleared in (False, True):
        done = standing(tmp_path, EVIDENCE, {"cautions": {"eyes": True}, "cleared": cleared}, "--json")
        assert json.loads(done.stdout)["gates"]["pike-hold"]["open"] is cleared


@pytest.mark.parametrize(
    ("evidence", "profile", "on", "said"),
    [
        (EVIDENCE.replace("31,", "x,"), {}, "2026-05-04", 'e.csv: line 2: value "x" is not a number'),
        (EVIDENCE.replace("shoulder-rocks", "shoulder-rolls"), {}, "2026-05-04", "e.csv: line 4: drill"),
        (EVIDENCE + EVIDENCE.split("\n")[1].replace("Tilda", "Orin") + "\n", {}, "2026-05-04", "name one as trainee"),
        (EVIDENCE, {"goals": ["fly"]}, "2026-05-04", "no goal named fly"),
        (EVIDENCE, {"schools": {"kip": "never"}}, "2026-05-04", "no school named never"),
        (EVIDENCE, {"waivers": [{"drill": "x", "reason": "y", "day": "2026-05-01"}]}, "2026-05-04", "no drill named x"),
        (EVIDENCE, {"wight": 3}, "2026-05-04", "wight"),
        (EVIDENCE, "{", "2026-05-04", "p.json: line 1: this is no JSON"),
        (EVIDENCE, {}, "yesterday", "is not a day"),
        ("a,b\n", {}, "2026-05-04", "e.csv: line 1: missing column"),
    ],
)
def test_junk_for_standing_gives_a_reason_and_exit_2(tmp_path: Path, evidence: str, profile: object, on: str, said: str) -> None:
    """Junk is named on standard error with file and line, exit 2, and nothing is printed as a result."""
    done = standing(tmp_path, evidence, profile, "--json", on=on)
    assert (done.returncode, done.stdout) == (2, "")
    assert said in done.stderr
