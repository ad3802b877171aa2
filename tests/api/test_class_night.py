"""Class nights over the api: rooms, an evening laid out and followed, its display, its files, and what it
came to.
"""

import csv
import io
import json
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from threading import Event
from typing import Any

import icalendar
import pytest
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from tests.api.conftest import PASSWORD
from tests.api.test_long_work import until
from tests.class_checker import faults_of
from wise_perch.api import class_work
from wise_perch.core.class_night.evening import Evening, laid_out
from wise_perch.core.class_night.question import Slot
from wise_perch.formats.class_files import ClassFile, class_file

STATIONS = {"wall": 2, "box": 1, "open floor": 3, "soft corner": 1}
BEGINS = datetime.now(UTC) + timedelta(hours=1)
"""Ahead of now, as by a device whose clock is: nothing has begun that is not told."""


@pytest.fixture
def people(busy: TestClient) -> list[str]:
    """Five trainees of the hall."""
    ids = []
    for name in ("Tove Brenna", "Halvard Nes", "Runa Aske", "Ylva Torn", "Jorun Eik"):
        id = str(uuid7())
        assert busy.post("/api/trainees", json={"id": id, "name": name}).status_code == 201
        ids.append(id)
    return ids


@pytest.fixture
def room(busy: TestClient) -> str:
    id = str(uuid7())
    answer = busy.post("/api/rooms", json={"id": id, "name": "Long track", "stations": STATIONS})
    assert answer.status_code == 201, answer.text
    return id


def new_class(room: str, people: list[str], **more: Any) -> dict[str, Any]:
    return {
        "id": str(uuid7()),
        "day": BEGINS.date().isoformat(),
        "time": "18:00",
        "minutes": 60,
        "room": room,
        "coaches": ["Hedda Kvam"],
        "people": [{"trainee": one} for one in people],
        **more,
    }


@pytest.fixture
def night(busy: TestClient, room: str, people: list[str]) -> str:
    """An evening that is laid out."""
    asked = new_class(room, people)
    assert busy.post("/api/classes", json=asked).status_code == 202
    # sent twice, kept once
    assert busy.post("/api/classes", json=asked).status_code == 202
    job = page_of(busy, asked["id"])["job"]["id"]
    assert until(busy, job, "finished", "failed", "stopped")["state"] == "finished"
    assert page_of(busy, asked["id"])["laid_out"]
    return str(asked["id"])


def page_of(client: TestClient, id: str) -> dict[str, Any]:
    answer = client.get(f"/api/classes/{id}")
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


def happen(
    client: TestClient, id: str, kind: str, *, minute: float = 0.0, begins: datetime = BEGINS, **more: Any
) -> Any:
    """Something happens at a minute of the evening."""
    at = (begins + timedelta(minutes=minute)).isoformat()
    body = {"id": str(uuid7()), "at": at, "kind": kind, **more}
    return client.post(f"/api/classes/{id}/events", json=body)


def person(page: dict[str, Any], trainee: str) -> dict[str, Any]:
    return dict(next(p for p in page["told"]["people"] if p["trainee"] == trainee))


def assert_sound(client: TestClient, id: str, *, minute: float = 0.0) -> None:
    """The independent checker walks what is taken along; what had begun by a minute may be as it is."""
    told = client.get(f"/api/classes/{id}/evening.json").json()
    question = ClassFile.model_validate({k: v for k, v in told.items() if k != "rotation"}).question()
    names = [t.name for t in question.trainees]
    slots, turn = [], dict.fromkeys(names, 0)
    for s in told["rotation"]["slots"]:
        slots.append(
            Slot(
                trainee=names.index(s["trainee"]),
                block=turn[s["trainee"]],
                station=s["station"],
                number=s["number"],
                start_min=s["start_min"],
                end_min=s["end_min"],
                hands=tuple(s["hands"]) if s["hands"] else None,
            )
        )
        turn[s["trainee"]] += 1
    left_out = tuple(
        (n, b) for n, t in enumerate(question.trainees) for b in range(turn[t.name], len(t.blocks))
    )
    past = tuple(s for s in slots if s.start_min <= minute)
    assert faults_of(replace(question, past=past), tuple(slots), left_out) == []


def test_an_evening_is_laid_out_with_what_each_brings(
    busy: TestClient, night: str, people: list[str]
) -> None:
    """Everybody has a session, nothing is broken, and the price stands beside going by eye."""
    page = page_of(busy, night)
    assert [p["trainee"] for p in page["told"]["people"]] == people
    assert all(p["slots"] for p in page["told"]["people"])
    assert page["told"]["headline"] == "Five on the floor, two walls, one box."
    assert "by eye" in page["told"]["figures"]
    assert_sound(busy, night)


def test_laying_out_can_be_stopped_and_begun_again(
    busy: TestClient, room: str, people: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """Stopped in the middle of the rotation nothing is laid out; asked again it is."""
    waits, goes_on = Event(), Event()

    def held(evening: Evening, *, on_progress: Callable[[float], bool]) -> Evening:
        waits.set()
        goes_on.wait(60)
        return laid_out(evening, on_progress=on_progress)

    monkeypatch.setattr(class_work, "laid_out", held)
    asked = new_class(room, people)
    job = busy.post("/api/classes", json=asked).json()["job"]["id"]
    assert waits.wait(60)
    assert busy.get(f"/api/jobs/{job}").json()["done"] == len(people) - 1
    busy.post(f"/api/jobs/{job}/stop")
    goes_on.set()
    assert until(busy, job, "finished", "failed", "stopped")["state"] == "stopped"
    assert not page_of(busy, asked["id"])["laid_out"]
    again = busy.post(f"/api/classes/{asked['id']}/lay-out", json={"id": str(uuid7())})
    assert until(busy, again.json()["job"]["id"], "finished", "failed")["state"] == "finished"
    assert page_of(busy, asked["id"])["laid_out"]


def test_what_happens_lays_the_rest_out_anew(busy: TestClient, night: str, people: list[str]) -> None:
    """Late, ready early, over, a pain stop, more minutes, a held clock: what has begun stays and nothing
    breaks.
    """
    tove, halvard, runa, ylva, jorun = people
    assert happen(busy, night, "arrive", trainee=ylva, minutes=15).status_code == 201
    assert person(page_of(busy, night), ylva)["from_min"] == 15
    assert happen(busy, night, "begin").status_code == 201
    first = person(page_of(busy, night), tove)["slots"]
    ready_at = first[0]["end_min"] - 2
    assert happen(busy, night, "ready", minute=ready_at, trainee=tove).status_code == 201
    now = person(page_of(busy, night), tove)["slots"]
    assert now[0]["end_min"] == pytest.approx(ready_at)
    assert_sound(busy, night, minute=ready_at)
    over_at = person(page_of(busy, night), runa)["slots"][0]["end_min"] - 0.5
    before = person(page_of(busy, night), runa)["slots"][0]["end_min"]
    assert happen(busy, night, "over", minute=over_at, trainee=runa, minutes=4).status_code == 201
    page = page_of(busy, night)
    assert person(page, runa)["slots"][0]["end_min"] == pytest.approx(before + 4)
    assert_sound(busy, night, minute=over_at)
    hurt = happen(busy, night, "pain", minute=20, trainee=halvard, joint="left wrist", level=6)
    assert hurt.status_code == 201
    gone = person(page_of(busy, night), halvard)["gone"]
    assert gone
    assert all(words.endswith(("spares the left wrist", "longer than the class")) for words in gone)
    assert_sound(busy, night, minute=20)
    ready = busy.get(f"/api/trainees/{halvard}/floor", params={"day": BEGINS.date().isoformat()}).json()
    assert [(a["joint"], a["level"]) for a in ready["aches"]] == [("left wrist", 6)]
    nowhere = happen(busy, night, "pain", minute=20, trainee=halvard, joint="tail", level=6)
    assert nowhere.status_code == 422
    assert happen(busy, night, "longer", minute=21, minutes=5).status_code == 201
    assert page_of(busy, night)["minutes"] == 65
    assert happen(busy, night, "hold", minute=22).status_code == 201
    assert happen(busy, night, "go", minute=24).status_code == 201
    assert page_of(busy, night)["held_s"] == pytest.approx(120)
    assert happen(busy, night, "leave", minute=40, trainee=jorun).status_code == 201
    assert all(s["end_min"] <= 38 for s in person(page_of(busy, night), jorun)["slots"])
    assert_sound(busy, night, minute=38)
    assert happen(busy, night, "end", minute=66).status_code == 201
    assert happen(busy, night, "longer", minute=67, minutes=5).status_code == 409


def test_a_hand_moves_pins_and_swaps(busy: TestClient, night: str) -> None:
    """A block goes where it is put, two trade places, each can be taken back; what cannot be is said."""
    page = page_of(busy, night)
    free = [
        (p["trainee"], s)
        for p in page["told"]["people"]
        for s in p["slots"]
        if s["place"] and s["start_min"] > 5
    ]
    who, slot = free[0]
    put = happen(
        busy,
        night,
        "put",
        trainee=who,
        block=slot["block"],
        minutes=slot["start_min"] + 6,
        station=slot["station"],
        number=slot["number"],
    )
    assert put.status_code == 201, put.text
    moved = next(s for s in person(put.json(), who)["slots"] if s["block"] == slot["block"])
    assert moved["held"]
    assert moved["start_min"] >= slot["start_min"] + 6
    assert_sound(busy, night)
    last = put.json()["events"][0]
    back = busy.post(f"/api/classes/{night}/events/{last['id']}/strike")
    assert back.status_code == 200
    assert person(back.json(), who)["slots"] == person(page, who)["slots"]
    other, there = next((w, s) for w, s in free if w != who)
    traded = happen(
        busy, night, "swap", trainee=who, block=slot["block"], other=other, other_block=there["block"]
    )
    assert traded.status_code == 201, traded.text
    assert_sound(busy, night)
    nowhere = happen(busy, night, "put", trainee=who, block=slot["block"], station="bar", number=1)
    assert nowhere.status_code == 409
    assert "cannot be done at: bar" in nowhere.json()["detail"]


def test_the_same_event_is_kept_once_and_the_last_is_taken_back_first(busy: TestClient, night: str) -> None:
    """A letter sent again changes nothing; what came before the last cannot be taken back before it."""
    body = {"id": str(uuid7()), "at": BEGINS.isoformat(), "kind": "longer", "minutes": 5}
    for _ in range(3):
        assert busy.post(f"/api/classes/{night}/events", json=body).status_code == 201
    page = page_of(busy, night)
    assert page["minutes"] == 65
    assert len(page["events"]) == 1
    assert happen(busy, night, "longer", minutes=5).status_code == 201
    early = busy.post(f"/api/classes/{night}/events/{body['id']}/strike")
    assert early.status_code == 409
    assert page_of(busy, night)["minutes"] == 70


def test_laid_out_once_more_what_was_set_by_hand_is_off(busy: TestClient, night: str) -> None:
    """What was set before is no longer in force, and what was lengthened stays long."""
    first = page_of(busy, night)["told"]["people"]
    who, slot = next((p["trainee"], s) for p in first for s in p["slots"] if s["start_min"] > 5)
    assert happen(busy, night, "longer", minutes=5).status_code == 201
    put = happen(busy, night, "put", trainee=who, block=slot["block"], minutes=slot["start_min"] + 4)
    assert any(s["held"] for s in person(put.json(), who)["slots"])
    again = busy.post(f"/api/classes/{night}/lay-out", json={"id": str(uuid7())}).json()
    assert until(busy, again["job"]["id"], "finished", "failed")["state"] == "finished"
    page = page_of(busy, night)
    assert page["minutes"] == 65
    assert not any(s["held"] for p in page["told"]["people"] for s in p["slots"])
    assert_sound(busy, night)


def test_an_evening_that_ends_early_counts_what_was(busy: TestClient, night: str, people: list[str]) -> None:
    """Hands and blocks that were laid out for later are in no figure."""
    assert happen(busy, night, "begin").status_code == 201
    assert happen(busy, night, "end", minute=1).status_code == 201
    after = busy.get(f"/api/classes/{night}/after").json()["people"]
    assert {p["hands_min"] for p in after} == {0.0}
    assert {p["blocks"][0] for p in after} == {1}


def test_a_pain_that_is_taken_back_is_none(busy: TestClient, night: str, people: list[str]) -> None:
    """Sharp pain stops at any level; taken back, what it left out is there again and no pain stands."""
    before = page_of(busy, night)
    hurt = happen(busy, night, "pain", trainee=people[1], joint="left wrist", level=1, sharp=True).json()
    assert person(hurt, people[1])["gone"]
    back = busy.post(f"/api/classes/{night}/events/{hurt['events'][0]['id']}/strike").json()
    assert person(back, people[1]) == person(before, people[1])
    ready = busy.get(f"/api/trainees/{people[1]}/floor", params={"day": BEGINS.date().isoformat()}).json()
    assert ready["aches"] == []


def test_taps_of_two_coaches_at_once_are_all_kept(busy: TestClient, night: str) -> None:
    """Eight changes sent at the same moment come one after the other, and none replaces another."""
    with ThreadPoolExecutor(4) as coaches:
        answers = list(coaches.map(lambda _: happen(busy, night, "longer", minutes=5), range(8)))
    assert {a.status_code for a in answers} == {201}
    assert page_of(busy, night)["minutes"] == 100
    assert_sound(busy, night)


def test_a_letter_that_comes_late_leaves_what_has_begun_since(
    busy: TestClient, night: str, people: list[str]
) -> None:
    """A device without the server tells of minute 5 at minute 30: what began until then stays where it is."""
    began = datetime.now(UTC) - timedelta(minutes=30)
    assert happen(busy, night, "begin", begins=began).status_code == 201
    before = page_of(busy, night)["told"]["people"]
    told = happen(busy, night, "ready", minute=5, begins=began, trainee=people[0])
    assert told.status_code == 201
    for was, now in zip(before, told.json()["told"]["people"], strict=True):
        for n, slot in enumerate(s for s in was["slots"] if s["start_min"] <= 29.5):
            if (was["trainee"], n) != (people[0], 0):
                assert now["slots"][n] == slot
    assert_sound(busy, night, minute=31)
    # what ran over at minute 5 has somebody after it by now
    late = happen(busy, night, "over", minute=5, begins=began, trainee=people[1], minutes=20)
    assert late.status_code == 409
    assert "already" in late.json()["detail"]


def test_who_is_erased_leaves_no_name_in_the_evenings(
    busy: TestClient, night: str, people: list[str]
) -> None:
    """Their place stays, so that the others' evening is as it was; their name and what hurt are gone."""
    assert happen(busy, night, "begin").status_code == 201
    assert (
        happen(busy, night, "pain", minute=12, trainee=people[1], joint="left wrist", level=6).status_code
        == 201
    )
    assert busy.post(f"/api/trainees/{people[1]}/put-away").status_code in (200, 204)
    receipt = {"receipt": str(uuid7()), "name": "Halvard Nes", "present": PASSWORD}
    assert busy.post(f"/api/trainees/{people[1]}/erase", json=receipt).status_code == 200
    text = json.dumps(page_of(busy, night)) + busy.get(f"/api/classes/{night}/evening.json").text
    for gone in ("Halvard", people[1], "left wrist"):
        assert gone not in text.replace(json.dumps(page_of(busy, night)["joints"]), "")
    assert len(page_of(busy, night)["told"]["people"]) == 5


def test_one_more_comes_and_two_coaches_share_the_evening(busy: TestClient, night: str) -> None:
    """Who was not expected is taken in with a session, and a second coach has a ribbon too."""
    assert happen(busy, night, "begin").status_code == 201
    id = str(uuid7())
    assert busy.post("/api/trainees", json={"id": id, "name": "Orm Lindvik"}).status_code == 201
    assert happen(busy, night, "join", minute=6, trainee=id).status_code == 201
    late = person(page_of(busy, night), id)
    assert late["slots"][0]["start_min"] >= 6
    assert_sound(busy, night, minute=6)
    assert happen(busy, night, "join", minute=7, trainee=id).status_code == 409
    both = ["Hedda Kvam", "Oskar Brandt"]
    assert happen(busy, night, "coaches", minute=8, coaches=both).status_code == 201
    assert {h["coach"] for h in page_of(busy, night)["told"]["hands"]} == {0, 1}
    assert_sound(busy, night, minute=8)


def test_the_display_tells_places_and_nothing_else(busy: TestClient, fresh: Any, night: str) -> None:
    """By its secret address, without a sign-in: first names, places, clocks; the address before it no longer
    works.
    """
    path = busy.post(f"/api/classes/{night}/display").json()["path"]
    anybody = fresh()
    shown = anybody.get(f"/api{path}")
    assert shown.status_code == 200
    assert [p["name"] for p in shown.json()["people"]][:2] == ["Tove", "Halvard"]
    text = shown.text
    for secret in ("Brenna", "pain", "wrist", "hands", "joint", "evidence", "trainee"):
        assert secret not in text
    busy.post(f"/api/classes/{night}/display")
    assert anybody.get(f"/api{path}").status_code == 404
    assert anybody.get(f"/api/classes/{night}").status_code == 401


def test_an_evening_is_taken_along(busy: TestClient, night: str, tmp_path: Path) -> None:
    """As JSON that the door takes again, as CSV and as a calendar: each has every slot."""
    told = busy.get(f"/api/classes/{night}/evening.json").json()
    slots = told["rotation"]["slots"]
    file = tmp_path / "class.json"
    file.write_text(json.dumps(told), "utf-8")
    assert len(class_file(file)["slots"]) == len(slots)
    rows = list(csv.DictReader(io.StringIO(busy.get(f"/api/classes/{night}/evening.csv").text)))
    assert [r["block"] for r in rows] == [s["block"] for s in slots]
    made = icalendar.Calendar.from_ical(busy.get(f"/api/classes/{night}/evening.ics").text)
    events = made.walk("VEVENT")
    assert len(events) == len(slots)
    assert min(e.decoded("dtstart") for e in events).hour in range(24)


def test_afterwards_nobody_is_forgotten(busy: TestClient, night: str, people: list[str], room: str) -> None:
    """Done against planned and whose the hands were; who had none for nights is named for next time."""
    assert happen(busy, night, "begin").status_code == 201
    assert happen(busy, night, "end", minute=60).status_code == 201
    after = busy.get(f"/api/classes/{night}/after").json()
    assert [p["trainee"] for p in after["people"]] == people
    by_hand = {
        p["trainee"]: sum(s["hands"][1] - s["hands"][0] for s in p["slots"] if s["hands"])
        for p in page_of(busy, night)["told"]["people"]
    }
    assert {p["trainee"]: p["hands_min"] for p in after["people"]} == pytest.approx(by_hand)
    listed = busy.get("/api/classes").json()
    assert [(c["id"], c["state"]) for c in listed] == [(night, "over")]


def test_rooms_are_kept_changed_and_struck_out(busy: TestClient, room: str) -> None:
    """A name stands once, a kind that is not known is refused, and what is struck out comes back."""
    again = busy.post("/api/rooms", json={"id": str(uuid7()), "name": "long TRACK", "stations": {}})
    assert again.status_code == 409
    strange = busy.put(f"/api/rooms/{room}", json={"name": "Long track", "stations": {"trapeze": 1}})
    assert strange.status_code == 422
    assert "trapeze" in strange.json()["detail"]
    body = {"name": "Yard", "stations": {"wall": 3}, "heights": {"box": "45 cm"}, "day_out": True}
    assert busy.put(f"/api/rooms/{room}", json=body).json()["stations"]["wall"] == 3
    assert busy.post(f"/api/rooms/{room}/strike").status_code == 204
    assert busy.get("/api/rooms").json()["rooms"] == []
    assert busy.post(f"/api/rooms/{room}/restore").json()["name"] == "Yard"


def test_a_class_of_nobody_or_elsewhere_is_refused(busy: TestClient, room: str, people: list[str]) -> None:
    """A room that is not there, a stranger, who would leave before coming: a sentence, nothing is kept."""
    stranger = new_class(room, [str(uuid7())])
    assert busy.post("/api/classes", json=stranger).status_code == 404
    nowhere = new_class(str(uuid7()), people)
    assert busy.post("/api/classes", json=nowhere).status_code == 404
    backwards = {
        **new_class(room, people[:1]),
        "people": [{"trainee": people[0], "from_min": 20, "to_min": 10}],
    }
    assert busy.post("/api/classes", json=backwards).status_code == 422
    assert busy.get("/api/classes").json() == []
