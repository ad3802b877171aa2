"""One question, one answer: where a dial stands, on every surface that shows it."""

from datetime import UTC, date, datetime, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from wise_perch.core.week.week_plan import monday_of
from wise_perch.syllabus.shipped import in_use

SYLLABUS = in_use()
DIALLED = [d for d in SYLLABUS.drills.values() if d.dial]
Answer = tuple[str, tuple[str, ...]]


class Hall:
    """A coach with one trainee, whose every drill may be worked: all that would close one is waived."""

    def __init__(self, client: TestClient) -> None:
        self.client, self.trainee = client, str(uuid7())
        self.post("/api/trainees", {"id": self.trainee, "name": "Tilda Moor"})
        answers = {q.caution: False for q in SYLLABUS.intake.cautions}
        size = {"stature_cm": 170, "mass_kg": 65, "lengths_cm": {}}
        self.post(f"{self.url}/intake", {"id": str(uuid7()), "at": now(), **size, "cautions": answers})
        needed = {w for d in DIALLED for need in SYLLABUS.needs[d.drill] for w in need.any_of}
        for name in sorted(needed):
            if not any(
                n.state == "proven" for d in DIALLED for n in SYLLABUS.needs[d.drill] if name in n.any_of
            ):
                self.post(
                    f"{self.url}/waivers", {"id": str(uuid7()), "at": now(), "drill": name, "reason": "seen"}
                )

    @property
    def url(self) -> str:
        return f"/api/trainees/{self.trainee}"

    def post(self, url: str, body: dict[str, Any]) -> Any:
        answer = self.client.post(url, json=body)
        assert answer.status_code in (200, 201), answer.text
        return answer.json()

    def get(self, url: str) -> Any:
        answer = self.client.get(url)
        assert answer.status_code == 200, answer.text
        return answer.json()

    def record(self, drill: str, value: float, setting: float, *, ago: int, form: str = "clean") -> None:
        d = SYLLABUS.drills[drill]
        at = (datetime.now(UTC) - timedelta(days=ago)).isoformat()
        rate = {"n": d.gate.of} if d.gate.of else {}
        sides = ["left", "right"] if d.gate.each_side else [None]
        for side in sides:
            body = {
                "id": str(uuid7()),
                "at": at,
                "value": value,
                "form": form,
                "dial_value": setting,
                "side": side,
                **rate,
            }
            self.post(f"{self.url}/drills/{drill}/sets", body)

    def choose(self, drill: str, setting: float) -> None:
        name = SYLLABUS.drills[drill].dial.name  # type: ignore[union-attr]
        self.client.post(
            f"{self.url}/settings",
            json={"id": str(uuid7()), "at": now(), "drill": drill, "settings": {name: setting}},
        )


def now() -> str:
    return datetime.now(UTC).isoformat()


def said(dial: dict[str, Any] | None) -> Answer | None:
    return None if dial is None else (dial["words"], tuple(b["text"] for b in dial["because"]))


def surfaces(hall: Hall, drill: str) -> dict[str, Answer | None]:
    """What each surface says of a drill's dial. A drill that is closed is on no plan."""
    found: dict[str, Answer | None] = {"drill sheet": said(hall.get(f"{hall.url}/drills/{drill}")["setting"])}
    levers = {d["drill"]: d for d in hall.get(f"{hall.url}/levers")["drills"]}
    if drill in levers:
        found["levers"] = said(levers[drill]["stands"])
    for test in SYLLABUS.tests.values():
        if drill in {d.drill for d in SYLLABUS.subjects(test)}:
            found[f"bench, {test.test}"] = said(
                hall.get(f"{hall.url}/bench/{test.test}?subject={drill}")["setting"]
            )
    on = datetime.now(UTC).date()
    week = {
        "week": str(monday_of(on)),
        "days": [{"day": str(on), "place": "hall", "minutes": 240}],
        "kit": {"hall": list(SYLLABUS.content.kit)},
    }
    looked = hall.post(f"{hall.url}/plan/look", {**week, "pins": [{"day": str(on), "drill": drill}]})
    if looked["planned"] is None:
        return found
    kept = hall.post(
        f"{hall.url}/plans",
        {"id": str(uuid7()), "at": now(), **week, "pins": [{"day": str(on), "drill": drill}]},
    )
    for name, planned in {"plan looked at": looked["planned"], "plan kept": kept["planned"]}.items():
        found[name] = said(block_of(planned, on, drill)["dose"]["dial"])
    sheet = hall.get(f"{hall.url}/floor?day={on}")["sheet"]
    (variant,) = [
        v for v in sheet["variants"].values() if v["drill"] == drill and v["key"] == f"{on} {drill}"
    ]
    found["floor"] = said(variant["dose"]["dial"])
    link = hall.post(f"{hall.url}/links", {"id": str(uuid7()), "kind": "page"})
    own = hall.get(f"/api{link['path']}")
    shown = [
        b["setting"]
        for d in own["days"]
        if d["day"] == str(on)
        for b in d["blocks"]
        if b["title"] == SYLLABUS.drills[drill].title
    ]
    dial = found["drill sheet"]
    assert dial is not None
    assert dial[0] in shown, "own page"
    return found


def block_of(planned: dict[str, Any], on: date, drill: str) -> dict[str, Any]:
    day = next(d for d in planned["days"] if d["day"] == str(on))
    return next(b for b in day["blocks"] if b["drill"] == drill and b["kind"] == "work")


@pytest.fixture
def hall(client: TestClient) -> Hall:
    return Hall(client)


def test_every_dial_says_the_same_everywhere(hall: Hall) -> None:
    """Drill sheet, Levers, Bench, Plan (looked at and kept), Floor and own page give one setting and one
    reason for every dialled drill.
    """
    planned = 0
    for n, d in enumerate(DIALLED):
        start = d.dial.start.value if d.dial and d.dial.start else 30.0
        enough = d.gate.easy_from.value if d.gate.easy_from else d.gate.value
        # a third each: enough and clean, a miss, and nothing but a choice
        if n % 3 == 0:
            hall.record(d.drill, enough, start, ago=2)
        elif n % 3 == 1:
            hall.record(d.drill, 0, start, ago=2, form="lost")
        else:
            hall.choose(d.drill, start)
        found = surfaces(hall, d.drill)
        assert len(set(found.values())) == 1, (d.drill, found)
        planned += "floor" in found
    assert planned >= len(DIALLED) // 2, "most of them have been on a plan"


def test_newer_sets_take_a_kept_plans_dial_along(hall: Hall) -> None:
    """A plan is kept, then sets at another setting are recorded: everything that shows the day to come
    follows, the amounts stay.
    """
    drill, on = "low-surface-hold", datetime.now(UTC).date()
    first = surfaces(hall, drill)
    hall.record(drill, 30, 25, ago=0)
    page = hall.get(f"{hall.url}/plan?week={monday_of(on)}")
    now_said = said(hall.get(f"{hall.url}/drills/{drill}")["setting"])
    assert now_said != first["plan kept"]
    assert said(block_of(page["planned"], on, drill)["dose"]["dial"]) == now_said
    assert surfaces(hall, drill)["floor"] == now_said


def test_a_choice_stands_until_newer_sets(hall: Hall) -> None:
    """What the coach chose stands against older sets; a newer set takes over, and the staircase goes on from
    where it was done.
    """
    drill = "low-surface-hold"
    hall.record(drill, 30, 25, ago=3)
    hall.choose(drill, 15)
    chosen = hall.get(f"{hall.url}/drills/{drill}")["setting"]
    assert chosen["setting"] == 15
    assert chosen["because"][0]["text"].startswith("As you set it on ")
    hall.record(drill, 30, 15, ago=0)
    after = hall.get(f"{hall.url}/drills/{drill}")["setting"]
    assert after["setting"] > 15
    assert after["because"][0]["text"].startswith("Clean at 15 cm on ")
