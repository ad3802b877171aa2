"""What the demo's hall and the doors say, collected where it comes out: free of the same ills."""

import json
import re
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from typer.testing import CliRunner

from tests.conftest import CONNECTIONS, SESSION
from tests.core.test_words import ILLS, MOST_WORDS, RUNG
from wise_perch.api.app import build_app
from wise_perch.api.auth import COOKIE
from wise_perch.api.settings import Settings
from wise_perch.cli import app
from wise_perch.machine.postgres import Cluster, create_database

DRILLS = ("free-hold-10", "pike-push-up", "chest-to-wall-hold", "pancake", "partial-press-wall")
MONTH = f"{datetime.now(UTC):%Y-%m}-01"
PAGES = (
    "",
    "/progress",
    "/progress/measures/free-hold-10",
    f"/reports/{MONTH}",
    "/plan",
    "/tests",
    "/levers",
    "/line",
    "/lines",
    "/intake",
    "/floor",
    *(f"/drills/{d}" for d in DRILLS),
)
DATA = re.compile(r"^[\w.:/+-]*$|^\d{4}-\d\d-\d\dT|from memory")


def texts(value: Any) -> Iterator[str]:
    """Every text of more than one word in an answer."""
    if isinstance(value, str):
        if " " in value.strip() and not DATA.search(value):
            yield value
    elif isinstance(value, dict):
        for part in value.values():
            yield from texts(part)
    elif isinstance(value, list):
        for part in value:
            yield from texts(part)


@pytest.fixture(scope="module")
def demo(cluster: Cluster, demo_template: str) -> dict[str, set[str]]:
    """By page, what everybody's pages say."""
    create_database(cluster, "words_said", template=demo_template)
    settings = Settings(database=cluster.dsn("words_said"), connections=CONNECTIONS, long_work=False)
    said: dict[str, set[str]] = {}
    made = build_app(settings)
    with TestClient(made, base_url="http://127.0.0.1", cookies={COOKIE: SESSION}) as client:
        today = client.get("/api/today").json()
        said["/today"] = set(texts(today))
        said["/group"] = set(texts(client.get("/api/group").json()))
        for who in today:
            for page in PAGES:
                answer = client.get(f"/api/trainees/{who['id']}{page}")
                assert answer.status_code == 200, (page, answer.text)
                said.setdefault(page, set()).update(texts(answer.json()))
    assert sum(len(s) for s in said.values()) > 1_500
    return said


@pytest.mark.parametrize("ill", [i for i in ILLS if i != "None"])
def test_the_demo_says_nothing_that_has_an_ill(demo: dict[str, set[str]], ill: str) -> None:
    assert [(page, t) for page, said in demo.items() for t in said if re.search(ILLS[ill], t)] == []


def test_the_demos_floor_says_short_sentences_and_no_rung(demo: dict[str, set[str]]) -> None:
    parts = {p for text in demo["/floor"] for p in re.split(r"(?<=[.?!])\s", text)}
    assert sorted(p for p in parts if len(p.split()) > MOST_WORDS) == []
    assert sorted(p for p in parts if re.search(RUNG, p)) == []


EVIDENCE = """trainee,drill,day,measure,value,form
Tilda,hollow-hold,2026-04-02,hold,31,clean
Tilda,chest-to-wall-hold,2026-04-09,hold,22,clean
Tilda,push-up,2026-04-16,reps,9,loose
Tilda,push-up,2026-04-20,reps,11,clean
"""
PROFILE = {
    "trainee": "Tilda",
    "stature_cm": 168,
    "mass_kg": 61,
    "goals": ["freestanding-hold", "strict-push"],
}


def test_the_doors_say_nothing_that_has_an_ill(tmp_path: Path) -> None:
    """Standing, plan, forecast and lever, as a reader and as a program gets them, and what they refuse."""
    (tmp_path / "e.csv").write_text(EVIDENCE, "utf-8")
    (tmp_path / "p.json").write_text(json.dumps(PROFILE), "utf-8")
    (tmp_path / "bad.csv").write_text(EVIDENCE.replace("31", "thirty"), "utf-8")
    said: set[str] = set()
    for name in ("e.csv", "bad.csv"):
        rest = [str(tmp_path / name), "--profile", str(tmp_path / "p.json"), "--on", "2026-04-25"]
        for words in (["standing", *rest], ["plan", *rest], ["forecast", *rest, "--drill", "push-up"]):
            for how in ([], ["--json"]):
                found = CliRunner().invoke(app, [*words, *how], catch_exceptions=False)
                assert found.exit_code == (0 if name == "e.csv" else 2)
                whole = json.loads(found.stdout) if how and found.stdout else found.stdout + found.stderr
                said |= set(texts(whole if how else whole.splitlines()))
    pike = ["lever", "pike", "--stature-cm", "170", "--hands-to-feet-cm", "300"]
    said |= set(texts(CliRunner().invoke(app, pike).stdout.splitlines()))
    assert len(said) > 200
    found_ills = [(ill, t) for t in said for ill, p in ILLS.items() if ill != "None" and re.search(p, t)]
    assert found_ills == []
