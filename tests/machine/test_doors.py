"""The doors without a server: ./perch score and ./perch standing, as a newcomer would call them."""

import json
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

import pytest
from typer.testing import CliRunner

from wise_perch.cli import app
from wise_perch.machine.places import ROOT

TABLE = """trainee,test,started_at,try,outcome,seconds,fell,form,note
Tilda,free-tries,2026-05-03T18:00:00+02:00,1,held,3.1,over,clean,
Orin,free-tries,2026-05-03T18:30:00+02:00,1,undershot,,,,
Tilda,free-tries,2026-05-03T18:00:00+02:00,2,overshot,,,,
"""
FIGURES = (
    "trainee test started_at n held overshot undershot held_share reach_share overshoot_share"
    " ten_second_share mean_hold_s best_hold_s falls_over falls_under fall_pattern fall_p held_interval"
    " ten_second_interval p_ten_second_at_least_0_7 level decision unchecked reasons"
)


class Door(NamedTuple):
    """What came out of a door."""

    returncode: int
    stdout: str
    stderr: str


def door(words: Sequence[str], *, process: bool = False) -> Door:
    """Call a door as from a shell; a process of its own takes a second to start, so most are called in this
    one.
    """
    if process:
        command = [sys.executable, "-m", "wise_perch.cli", *words]
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
        return Door(done.returncode, done.stdout, done.stderr)
    found = CliRunner().invoke(app, list(words), catch_exceptions=False)
    return Door(found.exit_code, found.stdout, found.stderr)


def score(path: Path, *words: str, process: bool = False) -> Door:
    return door(["score", str(path), *words], process=process)


def test_score_prints_exactly_the_documented_figures(tmp_path: Path) -> None:
    """One object a trainee and test start, in file order, with exactly the documented names, and nothing else
    on standard output.
    """
    (tmp_path / "a.csv").write_text(TABLE, "utf-8")
    found = json.loads(score(tmp_path / "a.csv", "--json", process=True).stdout)
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
PROFILE = {
    "goals": ["freestanding-hold"],
    "waivers": [{"drill": "cartwheel", "reason": "seen elsewhere", "day": "2026-05-02"}],
}


def standing(folder: Path, evidence: str, profile: object, *words: str, on: str = "2026-05-04") -> Door:
    (folder / "e.csv").write_text(evidence, "utf-8")
    (folder / "p.json").write_text(profile if isinstance(profile, str) else json.dumps(profile), "utf-8")
    command = [
        "standing",
        str(folder / "e.csv"),
        "--profile",
        str(folder / "p.json"),
        "--on",
        on,
        *words,
    ]
    return door(command)


def test_standing_prints_perches_gates_and_the_way_to_each_goal(tmp_path: Path) -> None:
    """States, perches, ahead and behind, and for the goal path and holding pillar; evidence after the day is
    not looked at.
    """
    done = standing(tmp_path, EVIDENCE, PROFILE, "--json")
    assert (done.returncode, done.stderr) == (0, "")
    found = json.loads(done.stdout)
    assert set(found) == {
        "trainee",
        "on",
        "syllabus",
        "perches",
        "ahead",
        "behind",
        "work_on",
        "gates",
        "goals",
        "standing_still",
    }
    assert (found["trainee"], found["on"]) == ("Tilda", "2026-05-04")
    assert (found["perches"]["inversion"], found["ahead"]["inversion"]) == (
        "shoulder-rocks",
        ["pike-hold", "raised-pike-hold"],
    )
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
        for drill, measure in (
            ("pike-hold", "hold"),
            ("raised-pike-hold", "hold"),
            ("right-angle-hold", "hold"),
            ("low-wall-climb", "hold"),
        )
    )
    ahead = [
        json.loads(standing(tmp_path, EVIDENCE + climbed, {"schools": s}, "--json").stdout)["ahead"][
            "inversion"
        ]
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
        (
            EVIDENCE + EVIDENCE.split("\n")[1].replace("Tilda", "Orin") + "\n",
            {},
            "2026-05-04",
            "name one as trainee",
        ),
        (EVIDENCE, {"goals": ["fly"]}, "2026-05-04", "no goal named fly"),
        (EVIDENCE, {"schools": {"kip": "never"}}, "2026-05-04", "no school named never"),
        (
            EVIDENCE,
            {"waivers": [{"drill": "x", "reason": "y", "day": "2026-05-01"}]},
            "2026-05-04",
            "no drill named x",
        ),
        (EVIDENCE, {"wight": 3}, "2026-05-04", "wight"),
        (EVIDENCE, "{", "2026-05-04", "p.json: line 1: this is no JSON"),
        (EVIDENCE, {}, "yesterday", "is not a day"),
        ("a,b\n", {}, "2026-05-04", "e.csv: line 1: missing column"),
    ],
)
def test_junk_for_standing_gives_a_reason_and_exit_2(
    tmp_path: Path, evidence: str, profile: object, on: str, said: str
) -> None:
    """Junk is named on standard error with file and line, exit 2, and nothing is printed as a result."""
    done = standing(tmp_path, evidence, profile, "--json", on=on)
    assert (done.returncode, done.stdout) == (2, "")
    assert said in done.stderr


BODY = ("--stature-cm", "170", "--mass-kg", "65")


def lever(*words: str) -> Door:
    return door(["lever", *words])


@pytest.mark.parametrize(
    ("words", "figures"),
    [
        (
            "handstand",
            {
                "com_height_cm": 91.8,
                "inertia_kg_m2": 67.2,
                "natural_rate_per_s": 2.95,
                "over_limit_deg": 10.4,
                "under_limit_deg": -1.06,
            },
        ),
        ("push-up --hands-cm 0 --feet-cm 0", {"hand_share": 0.64}),
        ("push-up --hands-cm 0 --feet-cm 0 --knees", {"hand_share": 0.47}),
        (
            "pike --hands-to-feet-cm 102 --surface-cm 0",
            {"top_share": 0.495, "bottom_share": 0.745, "hip_angle_deg": 64.9},
        ),
        ("knees-on-bench --hands-to-feet-cm 85 --surface-cm 45", {"hand_share": 0.388}),
        ("right-angle", {"box_cm": 91.3, "hands_to_feet_cm": 83.5, "hand_share": 0.863}),
        (
            "wall --facing back --hands-to-wall-cm 30",
            {"lean_deg": 7.2, "wall_force_n": 39.6, "float_limit_cm": 40.1},
        ),
        (
            "wall --facing chest --hands-to-wall-cm 30",
            {"lean_deg": 8.3, "wall_force_n": 40.6, "float_limit_cm": 4.11},
        ),
        ("push-travel --pad-cm -10", {"travel_cm": 35.5, "share_of_full": 1.392, "work_j": 217}),
        (
            "press --fold-deg 30 --straddle-deg 0 --surface-cm 20",
            {"lean_deg": 14.3, "shoulder_ahead_cm": 14.0, "shoulder_moment_nm": 26.9},
        ),
    ],
)
def test_every_lever_prints_its_figures(words: str, figures: dict[str, float]) -> None:
    """Exactly the documented names, with feasible, and nothing else on standard output."""
    done = lever(*words.split(), *BODY, "--json")
    assert done.returncode == 0, done.stderr
    found = json.loads(done.stdout)
    assert found.pop("feasible") is True
    assert set(found) == set(figures)
    assert found == pytest.approx(figures, rel=0.01)


def test_what_cannot_be_is_an_answer_and_an_own_length_counts() -> None:
    """Infeasible is exit 0 with the reason; one end out of reach leaves the other; a measured trunk changes
    the share.
    """
    done = lever("pike", "--hands-to-feet-cm", "250", *BODY, "--json")
    assert (done.returncode, json.loads(done.stdout)) == (
        0,
        {"feasible": False, "because": "out of reach: feet at most 188 cm from the hands"},
    )
    half = json.loads(lever("pike", "--hands-to-feet-cm", "150", *BODY, "--json").stdout)
    assert half["bottom_share"] is None
    assert half["bottom_because"].startswith("out of reach")
    assert half["top_share"] > 0
    plain, own = (
        json.loads(lever("pike", "--hands-to-feet-cm", "95", *BODY, *more, "--json").stdout)
        for more in ((), ("--trunk-cm", "54"))
    )
    assert own["bottom_share"] != plain["bottom_share"]
    assert "Not possible: out of reach" in lever("pike", "--hands-to-feet-cm", "250", *BODY).stdout


@pytest.mark.parametrize(
    ("words", "said"),
    [
        ("fly --stature-cm 170", 'There is no lever "fly"'),
        ("handstand --mass-kg 60", "--stature-cm is missing"),
        ("handstand --stature-cm 170", "--mass-kg is missing"),
        ("handstand --stature-cm 1.7 --mass-kg 65", "it lies between 90 and 230"),
        ("pike --stature-cm 170", "--hands-to-feet-cm is missing"),
        ("pike --stature-cm 170 --hands-to-feet-cm nan", "it lies between 0 and 500"),
        (
            "pike --stature-cm 170 --hands-to-feet-cm wide",
            "--hands-to-feet-cm': 'wide' is not a valid float",
        ),
        ("right-angle --stature-cm 170 --fold-deg 3", "right-angle takes no --fold-deg"),
        ("wall --stature-cm 170 --mass-kg 65 --facing up --hands-to-wall-cm 3", '--facing is "up"'),
        ("right-angle --stature-cm 170 --arm-cm 0.7", "--arm-cm is 0.7"),
        ("right-angle --stature-cm 170 --arm-cm 20", "is no length for 170 cm"),
    ],
)
def test_junk_for_a_lever_gives_a_reason_and_exit_2(words: str, said: str) -> None:
    """Named on standard error, and nothing printed as a result."""
    done = lever(*words.split(), "--json")
    assert (done.returncode, done.stdout) == (2, "")
    assert said in done.stderr


def plan(
    folder: Path,
    evidence: str,
    profile: object,
    *words: str,
    on: str = "2026-05-04",
    process: bool = False,
) -> Door:
    (folder / "e.csv").write_text(evidence, "utf-8")
    (folder / "p.json").write_text(profile if isinstance(profile, str) else json.dumps(profile), "utf-8")
    asked = [
        "plan",
        str(folder / "e.csv"),
        "--profile",
        str(folder / "p.json"),
        "--on",
        on,
        *words,
    ]
    return door(asked, process=process)


def test_a_week_is_planned_from_files_alone(tmp_path: Path) -> None:
    """Days, blocks with doses and reasons, what is left out and the hand-load, as documented; the same files
    give the same week.
    """
    profile = {
        "goals": ["freestanding-hold"],
        "stature_cm": 170,
        "mass_kg": 65,
        "days": [{"day": "2026-05-05", "minutes": 45, "time": "18:00"}],
    }
    asked = plan(tmp_path, EVIDENCE, profile, "--json")
    assert asked.returncode == 0, asked.stderr
    found = json.loads(asked.stdout)
    assert (found["feasible"], found["week"], found["trainee"]) == (True, "2026-05-04", "Tilda")
    (day,) = found["days"]
    assert day["length_min"] <= 45
    work = [b for b in day["blocks"] if b["kind"] == "work"]
    assert work
    assert all(b["dose"] and b["sets"] >= 1 and b["because"] for b in work)
    assert {b["origin"] for block in work for b in block["because"]} <= {
        "practice",
        "ours",
        "published",
        None,
    }
    assert all(x["because"] for x in found["left_out"])
    assert found["hand_load"]["planned_s"] <= found["hand_load"]["most_s"]
    assert plan(tmp_path, EVIDENCE, profile, "--json", process=True).stdout == asked.stdout
    assert "Tilda, week of 2026-05-04" in plan(tmp_path, EVIDENCE, profile).stdout


def test_a_rehearsal_is_marked_as_a_model_and_can_be_repeated(tmp_path: Path) -> None:
    """Two simulated trainees over two weeks: the path, gates, loads, perches and blocks of each week, in
    lines and as JSON; the same files and seeds say the same.
    """
    asked = [*("--weeks", "2", "--seeds", "2"), "--json"]
    profile = {"goals": ["freestanding-hold"], "stature_cm": 170, "mass_kg": 65}
    (tmp_path / "e.csv").write_text(EVIDENCE, "utf-8")
    (tmp_path / "p.json").write_text(json.dumps(profile), "utf-8")
    words = ["rehearse", str(tmp_path / "e.csv"), "--profile", str(tmp_path / "p.json"), "--on", "2026-05-04"]
    first = door([*words, *asked])
    assert first.returncode == 0, first.stderr
    found = json.loads(first.stdout)
    assert (found["goal"], found["begins"]) == ("freestanding-hold", "2026-05-11")
    assert "no promise" in found["model"]
    assert [s["seed"] for s in found["seeds"]] == [1, 2]
    week = found["seeds"][0]["weeks"][0]
    assert set(week) == {"week", "path", "gates_met", "reached", "hand_load_s", "perches", "blocks"}
    assert week["blocks"]
    assert len(found["median_path"]) == 2
    assert door([*words, *asked]).stdout == first.stdout
    said = door([*words, *asked[:-1]]).stdout
    assert "seed 2: " in said
    assert "A model and no promise" in said
    bad = door([*words[:-1], "soon", "--json"])
    assert (bad.returncode, bad.stdout) == (2, "")


PROVEN_EXIT = f"""{EVIDENCE.splitlines()[0]}
Tilda,2026-04-28,free-exit,rate,5,5,,,,,clean,,4,live,
Tilda,2026-05-02,free-exit,rate,5,5,,,,,clean,,4,live,
"""


def test_tests_are_planned_when_they_are_due_by_the_profile(tmp_path: Path) -> None:
    """Never run, run long ago, run lately, and nothing said of it."""

    def tests_of(profile: dict[str, object]) -> dict[str, str]:
        found = json.loads(plan(tmp_path, PROVEN_EXIT, profile, "--json").stdout)
        return {
            b["test"]: b["because"][0]["text"]
            for d in found["days"]
            for b in d["blocks"]
            if b["kind"] == "test"
        }

    assert tests_of({}) == {}
    assert tests_of({"tested": {}})["free-tries"].startswith("Time for ten free tries: never run yet")
    assert (
        tests_of({"tested": {"free-tries": "2026-01-05"}})["free-tries"]
        == "Time for ten free tries: last on 5 Jan."
    )
    assert "free-tries" not in tests_of({"tested": {"free-tries": "2026-05-03"}})


def test_what_cannot_be_planned_is_an_answer(tmp_path: Path) -> None:
    """A closed drill pinned is exit 0 with the reason; pain leaves nothing that loads the joint; unconfirmed
    cautions nothing inverted.
    """
    pinned = {"days": [{"day": "2026-05-05"}], "pins": [{"day": "2026-05-05", "drill": "stalder-press"}]}
    asked = plan(tmp_path, EVIDENCE, pinned, "--json")
    found = json.loads(asked.stdout)
    assert (asked.returncode, found["feasible"]) == (0, False)
    assert "Closed until" in found["questions"][0]["text"]
    hurt = {"aches": [{"joint": "left wrist", "level": 6, "day": "2026-05-03"}]}
    names = [
        b["drill"]
        for d in json.loads(plan(tmp_path, EVIDENCE, hurt, "--json").stdout)["days"]
        for b in d["blocks"]
    ]
    assert names
    assert "wrist-preparation" not in names


@pytest.mark.parametrize(
    ("profile", "said"),
    [
        ({"days": [{"day": "2026-05-01"}]}, "lies before --on"),
        ({"days": [{"day": "2026-05-05"}, {"day": "2026-05-05"}]}, "stands twice"),
        ({"days": [{"day": "2026-05-05"}, {"day": "2026-05-12"}]}, "is not in the week of"),
        ({"days": [{"day": "2026-05-05", "place": "moon"}]}, "no place named moon"),
        ({"days": [{"day": "2026-05-05", "minutes": 2}]}, "days.0.minutes"),
        ({"places": {"home": ["trampoline"]}}, "no kit called trampoline"),
        ({"pins": [{"day": "2026-05-05", "drill": "backflip"}]}, "no drill named backflip"),
        ({"stature_cm": 170, "lengths_cm": {"arm": 20}}, "is no length"),
    ],
)
def test_junk_for_a_plan_gives_a_reason_and_exit_2(tmp_path: Path, profile: object, said: str) -> None:
    """Named on standard error, and nothing printed as a result."""
    asked = plan(tmp_path, EVIDENCE, profile, "--json")
    assert (asked.returncode, asked.stdout) == (2, "")
    assert said in asked.stderr


# --- forecast -----------------------------------------------------------------------------------------------


def test_forecast_says_chances_or_what_would_make_them_known(tmp_path: Path) -> None:
    """Documented names and nothing else; chances grow with the weeks; too little says so; junk is 2."""
    rows = ["trainee,drill,day,measure,value,form"]
    rows += [
        f"Tilda,hollow-hold,2026-0{m}-{d:02d},hold,{10 + n},clean"
        for n, (m, d) in enumerate((m, d) for m in (3, 4) for d in (2, 9, 16, 23))
    ]
    (tmp_path / "e.csv").write_text("\n".join(rows) + "\n", "utf-8")
    (tmp_path / "p.json").write_text(json.dumps({"trainee": "Tilda"}), "utf-8")

    def ask(drill: str, on: str = "2026-04-25") -> Door:
        words = ["forecast", str(tmp_path / "e.csv"), "--profile", str(tmp_path / "p.json")]
        return door([*words, "--on", on, "--drill", drill, "--json"])

    found = json.loads(ask("hollow-hold").stdout)
    names = "drill gate on known level level_low level_high weekly chances values said standing_still events"
    assert set(found) == set(names.split())
    assert (found["known"], found["standing_still"]) == (True, "no")
    assert list(found["chances"]) == list(found["values"]) == ["4", "8", "12", "26"]
    assert list(found["chances"].values()) == sorted(found["chances"].values())
    assert found["level_low"] < found["level"] < found["level_high"]
    assert found["weekly"] > 0
    unknown = json.loads(ask("l-sit").stdout)
    assert (unknown["known"], "It takes 6 days" in unknown["because"]) == (False, True)
    assert "Not known any more" in json.loads(ask("hollow-hold", "2026-07-01").stdout)["because"]
    assert (ask("fly").returncode, "no drill named fly" in ask("fly").stderr) == (2, True)


A_CLASS = {
    "minutes": 30,
    "stations": {"wall": 1, "open floor": 2},
    "coaches": 1,
    "trainees": [
        {
            "name": "Tove",
            "blocks": [
                {"title": "Climb", "minutes": 8, "stations": ["wall"], "hands_min": 3, "rest_after_min": 2},
                {"title": "Hops", "minutes": 5, "stations": ["open floor"]},
            ],
        },
        {
            "name": "Runa",
            "from_min": 4,
            "blocks": [{"title": "Float", "minutes": 8.5, "stations": ["wall"]}],
        },
    ],
}


def rotate(folder: Path, what: object) -> Door:
    file = folder / "class.json"
    file.write_text(what if isinstance(what, str) else json.dumps(what), "utf-8")
    return door(["class", str(file), "--json"])


def test_a_class_is_rotated_from_a_file_alone(tmp_path: Path) -> None:
    """Exactly the documented fields: who is where when, what is waited, by eye and at the least."""
    done = rotate(tmp_path, A_CLASS)
    assert done.returncode == 0, done.stderr
    found = json.loads(done.stdout)
    assert set(found) == {
        "slots",
        "left_out",
        "waited_min",
        "by_eye_min",
        "by_eye_left_out",
        "bound_min",
        "proven",
        "would_help",
    }
    assert found["slots"][0] == {
        "trainee": "Tove",
        "block": "Climb",
        "station": "wall",
        "number": 1,
        "start_min": 0.0,
        "end_min": 8.0,
        "hands": [0.0, 3.0],
    }
    assert [(s["trainee"], s["start_min"], s["hands"]) for s in found["slots"][1:]] == [
        ("Runa", 8.0, None),
        ("Tove", 10.0, None),
    ]
    assert (found["waited_min"], found["bound_min"], found["proven"]) == (4.0, 4.0, True)
    assert rotate(tmp_path, A_CLASS).stdout == done.stdout


def test_what_does_not_fit_a_class_is_an_answer(tmp_path: Path) -> None:
    """A station that is not there leaves a block out, says what would help, and there is no bound."""
    nowhere = {**A_CLASS, "stations": {"open floor": 2}}
    found = json.loads(rotate(tmp_path, nowhere).stdout)
    assert {(x["trainee"], x["block"]) for x in found["left_out"]} == {
        ("Tove", "Climb"),
        ("Tove", "Hops"),
        ("Runa", "Float"),
    }
    assert found["bound_min"] is None
    assert {"change": "station wall", "left_out": 0, "words": "One more of: wall: everything fits."} in found[
        "would_help"
    ]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ("not json", "is not JSON"),
        ("[]", "valid dictionary"),
        ('{"minutes": NaN}', "finite number"),
        ({"minutes": 0}, "minutes: Input should be greater than 0"),
        ({"minutes": True}, "minutes"),
        ({"coaches": 1.5}, "coaches"),
        ({"stations": {"wall": -1}}, "stations.wall"),
        ({"trainees": []}, "trainees"),
        (
            {"trainees": [{"name": "A", "blocks": []}, {"name": "A", "blocks": []}]},
            "two trainees are called A",
        ),
        ({"trainees": [{"name": "A", "blocks": [{"title": "x", "minutes": 5, "stations": []}]}]}, "stations"),
        (
            {
                "trainees": [
                    {"name": "A", "blocks": [{"title": "x", "minutes": 5, "stations": ["w"], "hands": 2}]}
                ]
            },
            "trainees.1.blocks.1.hands",
        ),
        (
            {
                "trainees": [
                    {"name": "A", "blocks": [{"title": "x", "minutes": 5, "stations": ["w"], "hands_min": 6}]}
                ]
            },
            "hands_min is longer than the block",
        ),
        ({"trainees": [{"name": "A", "from_min": 9, "to_min": 9, "blocks": []}]}, "to_min has to be after"),
    ],
)
def test_junk_for_a_class_gives_a_reason_and_exit_2(tmp_path: Path, change: object, said: str) -> None:
    """A file that is no class is a message with its place, and nothing is printed."""
    done = rotate(tmp_path, {**A_CLASS, **change} if isinstance(change, dict) else change)
    assert done.returncode == 2
    assert said in done.stderr
    assert done.stdout == ""
    missing = door(["class", str(tmp_path / "not-there.json"), "--json"])
    assert (missing.returncode, "cannot be read" in missing.stderr) == (2, True)
