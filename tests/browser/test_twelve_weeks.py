"""Twelve weeks of one of the demo's people, replayed: each week planned and kept in the browser, its first
session run there by keys, the others sent as a device sends them; a simulated trainee does what is asked as
well as it goes.
"""

import os
import subprocess
import sys
from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta
from pathlib import Path
from random import Random
from time import sleep
from typing import Any

import psycopg
import pytest
from playwright.sync_api import Page, expect
from pydantic import TypeAdapter
from uuid_utils.compat import uuid7

from tests.browser.conftest import Server, arrive
from tests.conftest import CONNECTIONS, enter_demo
from wise_perch.api.cases import load_case, load_house
from wise_perch.core.floor.walk import FloorEvent, FloorSheet
from wise_perch.core.rehearsal.learner import Learner, World, learner_like
from wise_perch.core.rehearsal.live import Lived, live_session
from wise_perch.core.trade.evidence import Form
from wise_perch.core.trainee.case import JudgedCase, judge_case
from wise_perch.core.week.week_plan import monday_of
from wise_perch.machine import server
from wise_perch.machine.places import DIST, ROOT
from wise_perch.machine.postgres import OWNER, Cluster, create_database, free_port
from wise_perch.store import trainees
from wise_perch.syllabus.shipped import in_use

WHO, WEEKS = "Tove Brenna", 12
WORLD = World(growth=2.5, fading=1.0, noise=0.08, fear=0.0)
FIRST = monday_of(datetime.now(UTC).date()) + timedelta(weeks=1)
READY = FloorEvent(kind="ready", energy=3)
SHEET, EVENT = TypeAdapter(FloorSheet), TypeAdapter(FloorEvent)
KEYS = {Form.CLEAN: "c", Form.LOOSE: "l", Form.LOST: "x"}


class MovedServer(Server):
    """A server whose clock stands where the test says."""

    def __init__(self, database: str, told: Path) -> None:
        super().__init__(database, demo=True)
        self.told = told

    def start(self) -> None:
        environment = {
            **server.environment(database=self.database, web=DIST, demo=self.demo),
            "PERCH_CONNECTIONS": str(CONNECTIONS),
        }
        self.process = subprocess.Popen(
            [sys.executable, "-m", "tests.browser.moved_server", str(self.port), str(self.told)],
            cwd=ROOT,
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        server.wait_until_it_answers(self.port, self.process)

    def move_to(self, moment: datetime, page: Page) -> None:
        """Let it be this moment, for the server and for the page."""
        written = self.told.with_suffix(".new")
        written.write_text(moment.isoformat(), "utf-8")
        os.replace(written, self.told)
        # set and not wound on: what a page waits for does not go on over days
        page.clock.set_system_time(moment)
        while self._today(page) != moment.date():
            sleep(0.05)

    def _today(self, page: Page) -> date:
        who = page.request.get(f"{self.url}/api/plan-week").json()[0]["trainee"]["id"]
        return date.fromisoformat(page.request.get(f"{self.url}/api/trainees/{who}/floor").json()["on"])


@pytest.fixture
def weeks(page: Page, cluster: Cluster, demo_template: str, tmp_path: Path) -> Iterator[MovedServer]:
    """The demo's hall, on the evening before the first of the weeks."""
    create_database(cluster, "weeks", template=demo_template)
    with psycopg.connect(cluster.dsn("weeks", role=OWNER), autocommit=True) as db:
        db.execute("update sign_in_session set expires_at = expires_at + interval '1 year'")
    told = tmp_path / "moment"
    began = datetime.combine(FIRST - timedelta(days=1), time(20), UTC)
    told.write_text(began.isoformat(), "utf-8")
    made = MovedServer(cluster.dsn("weeks"), told)
    made.port = free_port()
    made.start()
    page.clock.install(time=began)
    arrive(page, made)
    yield made
    made.kill()


def judge(cluster: Cluster, on: date) -> JudgedCase:
    """The trainee as the database has them on a day."""
    with psycopg.connect(cluster.dsn("weeks")) as db:
        enter_demo(db)
        who = next(t for t in trainees.every(db) if t.name == WHO)
        return judge_case(load_case(db, who.id, load_house(db), on=on).case)


def sheet_of(document: Any) -> FloorSheet:
    return SHEET.validate_python(document, strict=False)


def press_set(page: Page, sheet: FloorSheet, event: FloorEvent) -> None:
    """One set by keys, as it went."""
    dose = sheet.variants[event.key].dose
    assert dose is not None
    value, key = event.value or 0.0, KEYS[event.form or Form.CLEAN]
    if dose.way == "stretch":
        page.keyboard.press("Space")
        page.clock.fast_forward(int(dose.each * 1000) + 400)
    elif dose.way == "touches":
        page.keyboard.press("Space")
        for _ in range(int(value)):
            page.keyboard.press("t")
        page.clock.fast_forward(int((dose.window_s or 15) * 1000) + 400)
    elif dose.way == "singles" and dose.measure != "hold":
        key = "c" if value else "x"
    elif dose.measure in ("hold", "lowering"):
        page.keyboard.press("Space")
        page.clock.fast_forward(int(value * 1000))
    else:
        shown = event.asked if event.asked is not None else dose.each
        for _ in range(round(abs(value - shown)) if key != "x" else 0):
            page.keyboard.press("ArrowUp" if value > shown else "ArrowDown")
    page.keyboard.press(key)


def run_in_browser(page: Page, trainee: str, learner: Learner) -> tuple[FloorSheet, Lived, str]:
    """The day's session on the Floor, by keys."""
    page.goto(page.url.split("/trainees")[0] + "/floor")
    page.get_by_role("button", name="3 as usual").click()
    page.get_by_role("button", name="Begin the session").click()
    expect(page.get_by_role("region", name="Now")).to_be_visible()
    found: list[str] = []
    while not found:
        on = page.request.get(page.url.split("/floor")[0] + "/api/floor").json()
        found = [x["session"] for x in on if x["session"] and x["trainee"]["id"] == trainee]
    session = page.request.get(page.url.split("/floor")[0] + f"/api/sessions/{found[0]}").json()["session"]
    sheet = sheet_of(session["sheet"])
    lived = live_session(
        learner,
        sheet,
        READY,
        session=uuid7(),
        begun=datetime.fromisoformat(session["started_at"]),
        syllabus=in_use(),
    )
    for event in (e.what for e in lived.events[1:]):
        if event.kind == "set":
            press_set(page, sheet, event)
        else:
            page.keyboard.press("Space")
    page.get_by_role("button", name="End the session").click()
    expect(page.get_by_role("heading", name="Done against planned")).to_be_visible()
    return sheet, lived, found[0]


def send(page: Page, base: str, trainee: str, day: date, learner: Learner) -> FloorSheet | None:
    """The day's session as another device sends it; None where it has been closed meanwhile."""
    ready = page.request.get(f"{base}/api/trainees/{trainee}/floor?day={day}").json()
    if ready["sheet"] is None:
        return None
    sheet, session = sheet_of(ready["sheet"]), uuid7()
    begun = datetime.combine(day, time(17), UTC)
    lived = live_session(learner, sheet, READY, session=session, begun=begun, syllabus=in_use())

    def post(path: str, body: Any) -> None:
        answer = page.request.post(f"{base}/api/{path}", data=body)
        assert answer.ok, answer.text()

    post(
        f"trainees/{trainee}/sessions",
        {"id": str(session), "started_at": begun.isoformat(), "sheet": ready["sheet"]},
    )
    for event in lived.events:
        what = EVENT.dump_python(event.what, mode="json", exclude_defaults=True)
        post(f"sessions/{session}/events", {"id": str(uuid7()), "at": event.at.isoformat(), **what})
    ended = {"ended_at": lived.events[-1].at.isoformat(), "ended_as": "finished"}
    post(f"sessions/{session}/end", ended)
    return sheet


def test_twelve_weeks_read_like_a_programme(page: Page, weeks: MovedServer, cluster: Cluster) -> None:
    """Whoever is at the wall in the first week is farther on the way in the twelfth: steps are passed, holds
    grow, exits stay fresh, the leading goal has its blocks in every session, and what is kept is what was
    done.
    """
    first = judge(cluster, FIRST)
    learner = replace(learner_like(first, Random("twelve weeks")), world=WORLD)
    # as able in everything as in what they are best at: what is new to them goes soon
    learner.ability = dict.fromkeys(learner.ability, max(learner.ability.values()))
    asked: dict[str, list[float]] = {}
    paths: list[int] = []
    said: list[tuple[str, ...]] = []
    before: date | None = None
    with psycopg.connect(cluster.dsn("weeks", role=OWNER)) as db:
        ((trainee,),) = db.execute("select id::text from trainee where name = %s", [WHO]).fetchall()
    for week in (FIRST + timedelta(weeks=n) for n in range(WEEKS)):
        weeks.move_to(datetime.combine(week, time(8), UTC), page)
        page.goto(f"{weeks.url}/trainees/{trainee}/plan")
        expect(page.get_by_role("heading", level=1)).to_contain_text(f"Week of {week.day} {week:%b}")
        page.get_by_role("button", name="Keep this week").click()
        expect(page.get_by_role("link", name="Print")).to_be_visible()
        plan = page.request.get(f"{weeks.url}/api/trainees/{trainee}/plan").json()["planned"]
        leads = {s.drill for s in judge(cluster, week).goals[0].work_on}
        for n, day in enumerate(d for d in plan["days"] if d["blocks"]):
            on = date.fromisoformat(day["day"])
            weeks.move_to(datetime.combine(on, time(16), UTC), page)
            learner.wake(on, since=before)
            before = on
            if n == 0:
                sheet, lived, session = run_in_browser(page, trainee, learner)
                kept = judge(cluster, on)
                assert_kept(cluster, session, lived)
            else:
                sent = send(page, weeks.url, trainee, on, learner)
                if sent is None:
                    continue
                sheet, kept = sent, judge(cluster, on)
            work = [v for s in sheet.slots if s.kind == "work" and (v := sheet.variants[s.planned]).dose]
            assert leads & {v.drill for v in work}, f"{on}: nothing of the leading goal"
            for v in work:
                assert v.dose is not None
                asked.setdefault(v.drill, []).append(v.dose.each)
        said.append(
            tuple(
                f"{b['title']} {b['dose']['amount']}" for d in plan["days"] for b in d["blocks"] if b["dose"]
            )
        )
        paths.append(len(kept.goals[0].path))
    last = judge(cluster, FIRST + timedelta(weeks=WEEKS))
    assert paths[-1] <= paths[0] - 3, paths
    assert len(set(said)) == WEEKS, "no two weeks are alike"
    on_way = {s.drill for s in first.goals[0].path}
    worked = {d: each for d, each in asked.items() if d in on_way and len(each) >= 6}
    assert worked
    assert sum(each[-1] > each[0] for each in worked.values()) >= len(worked) / 2, worked
    stale = [d for d in last.drills.values() if d.pillar == "exits" and d.state == "stale"]
    assert not stale, "exits were kept"


def assert_kept(cluster: Cluster, session: str, lived: Lived) -> None:
    """What the browser's keys came to is what the same sets come to in the core."""
    wanted = [(p.drill, p.n, p.asked) for p in lived.pieces]
    for _ in range(200):
        with psycopg.connect(cluster.dsn("weeks", role=OWNER)) as db:
            found = db.execute(
                "select drill, n, asked, value from evidence where session_id = %s and struck_at is null",
                [session],
            ).fetchall()
        if len(found) == len(wanted):
            break
        sleep(0.05)
    assert sorted(map(str, ((d, n, a) for d, n, a, _ in found))) == sorted(map(str, wanted))
    assert sum(v for *_, v in found) == pytest.approx(sum(p.value for p in lived.pieces), rel=0.05)
