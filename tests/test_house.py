"""How the house is kept: which room may import which, migrations that never change, settings that are
documented.
"""

import hashlib
import re
from pathlib import Path

import pytest

from wise_perch.api.app import build_app
from wise_perch.api.settings import Settings
from wise_perch.machine.checks import wrong_imports
from wise_perch.machine.places import ROOT
from wise_perch.store import migrate
from wise_perch.store.queries import FOLDER, queries
from wise_perch.syllabus.shipped import built_in

# a migration that has been applied somewhere is never edited: add a new one, and its line here
MIGRATIONS = {
    "0001_coaches_trainees_evidence": "aef0417c9d46201b",
    "0002_goals_waivers_profiles_syllabus": "847518e5942d5249",
    "0003_every_test_on_the_bench": "34e3e95017d243dd",
    "0004_settings_and_hand_load": "c0d8868f2a111ba9",
    "0005_plans_and_floor": "497afa5ae110aaf8",
    "0006_one_case_one_rule": "29f59e0c3a0737cd",
    "0007_what_a_set_asked_for": "b7bbb19013638dfa",
    "0008_why_it_failed": "6f904b3a06235696",
    "0009_long_work": "a4ffc6b4cdccbe00",
    "0010_what_today_keeps": "d0932061ee5643ed",
    "0011_what_is_gone": "7688b01a1ceeac41",
    "0012_nothing_lost_nobody_in": "af85bfd6af33ba20",
    "0013_runs_with_what_was_struck_out": "4eb1f530e2008b89",
    "0014_marks_are_kept": "226d4b9b3c9d6e63",
    "0015_habits": "1070d337f10a2953",
    "0016_lines_seen": "3d229e8a115644ec",
    "0017_the_long_view": "55f6d2381bfc7745",
    "0018_kept_lines": "e1a564a309dcaa56",
    "0019_the_hall": "2583164b1b96cfcb",
    "0020_groups_contacts_the_hall_calendar": "9c80dac35224ef7d",
    "0021_class_night": "37a73ae30e5cf7ed",
}


def test_rooms_import_only_what_they_may() -> None:
    """The core knows nobody, the store only the core, the api both."""
    assert wrong_imports(ROOT / "wise_perch") == []


def test_a_wrong_import_is_found(tmp_path: Path) -> None:
    """The check itself can fail: a core that reaches for the store, or for a web package, is named."""
    core = tmp_path / "wise_perch" / "core"
    core.mkdir(parents=True)
    (core / "bad.py").write_text("import fastapi\nfrom wise_perch.store import pool\n", "utf-8")
    assert len(wrong_imports(tmp_path / "wise_perch")) == 2


def test_a_core_room_that_runs_back_is_found(tmp_path: Path) -> None:
    """The order of the core's rooms is kept: what a syllabus is knows nothing of a week."""
    trade, week = tmp_path / "wise_perch" / "core" / "trade", tmp_path / "wise_perch" / "core" / "week"
    trade.mkdir(parents=True)
    week.mkdir()
    (trade / "bad.py").write_text("from wise_perch.core.week.solve import solve\n", "utf-8")
    (week / "good.py").write_text("from wise_perch.core.trade.gates import Gate\n", "utf-8")
    assert len(wrong_imports(tmp_path / "wise_perch")) == 1


def test_migrations_never_change() -> None:
    """Every migration file is listed with the hash of its content."""
    found = {
        p.stem: hashlib.sha256(p.read_bytes()).hexdigest()[:16] for p in sorted(migrate.FOLDER.glob("*.sql"))
    }
    assert found == MIGRATIONS


def test_every_named_statement_is_used() -> None:
    """A statement that no code names is dead, and a name without a statement would fail at once."""
    code = "".join(p.read_text("utf-8") for p in (ROOT / "wise_perch").rglob("*.py"))
    for path in FOLDER.glob("*.sql"):
        for name in queries(path.stem):
            assert f'SQL["{name}"]' in code, f"{path.name}: {name}"


@pytest.mark.parametrize("name", list(Settings.model_fields))
def test_every_setting_is_documented(name: str) -> None:
    """Each PERCH_ variable stands in the page on the api."""
    assert f"PERCH_{name.upper()}" in (ROOT / "docs" / "api.md").read_text("utf-8")


def test_every_route_is_documented() -> None:
    """Each path of the api stands in its page."""
    text = (ROOT / "docs" / "api.md").read_text("utf-8")
    for path in build_app(Settings(database="postgresql://")).openapi()["paths"]:
        assert re.sub(r"\{\w+\}", "{}", path) in re.sub(r"\{\w+\}", "{}", text), path


def test_the_map_names_what_is_there() -> None:
    """Every room of the core and every file that a journey passes exists, so that the map cannot go stale."""
    text = (ROOT / "docs" / "house.md").read_text("utf-8")
    rooms = {p.name for p in (ROOT / "wise_perch" / "core").iterdir() if (p / "__init__.py").exists()}
    assert rooms <= set(re.findall(r"^\| `(\w+)` \|", text, re.MULTILINE))
    journeys = text.partition("## Five journeys")[2]
    places = ("wise_perch", "wise_perch/store", "web/src", ".")
    for name in re.findall(r"`([\w/.-]+)`", journeys):
        assert any([*(ROOT / place).glob(f"{name}*")] for place in places), name


ORDINARY = {
    "bench", "floor", "share", "box", "pads", "plates", "blocks", "start", "none", "early", "ball",
    "hold", "reps", "touches", "lowering", "push", "press",
}  # fmt: skip
"""Names in the data that the interface says in another sense: its own screens, kinds of kit, SVG's words,
measures, joints of the drawing.
"""


def trade_names() -> set[str]:
    """Every name the data gives to something of the trade: drills, tests, levers, knobs, figures, goals,
    lines, kit, schools, phases.
    """
    s = built_in()
    c = s.content
    levers, tests = s.mechanics.levers, s.tests.values()
    found = (
        {d.drill for line in c.lines for rung in line.rungs for d in rung}
        | {g.goal for g in c.goals}
        | {line.line for line in c.lines}
    )
    found |= (
        {x.lever for x in levers}
        | {k.knob for x in levers for k in x.knobs}
        | set(s.mechanics.figures)
        | set(c.kit)
    )
    found |= (
        set(s.tests)
        | {m.mode for t in tests for m in t.modes}
        | {d for t in tests for d in t.decisions}
        | {f.fault for f in c.faults}
    )
    found |= (
        {q.question for q in c.schools}
        | {x.school for q in c.schools for x in q.schools}
        | {p.phase for p in s.sessions.phases}
    )
    return found - ORDINARY


def trade_words_in(text: str) -> set[str]:
    """The names of the trade that stand in a source as quoted words, and the titles that stand in it
    anywhere.
    """
    quoted = set(re.findall(r"""["'`]([a-z][a-z0-9_-]*)["'`]""", text))
    s = built_in()
    titles = (
        {d.title for d in s.drills.values()}
        | {t.title for t in s.tests.values()}
        | {x.title for x in s.mechanics.levers}
    )
    spoken = {t for t in titles if " " in t and t.lower() in text.lower()}
    return (quoted & trade_names()) | spoken


def test_the_browser_side_knows_no_trade_names() -> None:
    """What drills, tests and levers are called stands in the data alone, so that a change of the data reaches
    every screen.
    """
    for path in sorted((ROOT / "web" / "src").rglob("*.ts*")):
        if path.name != "schema.d.ts":
            assert trade_words_in(path.read_text("utf-8")) == set(), path.name


def test_a_trade_name_in_the_browser_side_is_found() -> None:
    """The check itself can fail: by a quoted name, or by a title in a sentence."""
    assert trade_words_in('switch (lever) { case "pike-hold":') == {"pike-hold"}
    assert trade_words_in("<p>Ten free tries first.</p>") == {"Ten free tries"}
