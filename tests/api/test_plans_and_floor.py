"""Plans, sessions and secret addresses through the api, as a coach and a trainee would use them."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, date, datetime, timedelta
from typing import Any

import icalendar
import pytest
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from tests.api.conftest import PASSWORD, Bench, now
from tests.conftest import add_coach
from wise_perch.core.week.week_plan import monday_of
from wise_perch.syllabus.shipped import built_in

Fresh = Callable[[], TestClient]
TODAY = datetime.now(UTC).date()
NEXT = monday_of(TODAY) + timedelta(weeks=1)


def wish(*days: date, minutes: int = 55, **more: Any) -> dict[str, Any]:
    week = monday_of(days[0])
    asked = [{"day": d.isoformat(), "place": "hall", "minutes": minutes, "time": "18:00"} for d in days]
    kit = {
        "hall": ["wall", "mat", "box", "bench", "pads", "plates", "parallettes", "bar", "ball", "spotter"],
        "home": ["mat"],
    }
    return {"week": week.isoformat(), "days": asked, "kit": kit, **more}


class Planner(Bench):
    """Short words for planning and running."""

    def look(self, **more: Any) -> Any:
        return self.client.post(
            f"/api/trainees/{self.trainee}/plan/look", json=wish(NEXT, NEXT + timedelta(days=3), **more)
        )

    def keep(self, *days: date, id: str | None = None, **more: Any) -> Any:
        body = {
            **wish(*(days or (NEXT, NEXT + timedelta(days=3))), **more),
            "id": id or str(uuid7()),
            "at": now(),
        }
        return self.client.post(f"/api/trainees/{self.trainee}/plans", json=body)

    def sheet(self) -> dict[str, Any]:
        return self.client.get(f"/api/trainees/{self.trainee}/floor").json()["sheet"]

    def begin(self, sheet: dict[str, Any]) -> str:
        id = str(uuid7())
        answer = self.client.post(
            f"/api/trainees/{self.trainee}/sessions", json={"id": id, "started_at": now(), "sheet": sheet}
        )
        assert answer.status_code == 201, answer.text
        return id

    def event(self, session: str, *, id: str | None = None, **what: Any) -> Any:
        return self.client.post(
            f"/api/sessions/{session}/events", json={"id": id or str(uuid7()), "at": now(), **what}
        )

    def evidence(self) -> list[dict[str, str]]:
        lines = (
            self.client.get("/api/evidence.csv", params={"trainee": self.trainee})
            .text.lstrip("\ufeff")
            .splitlines()
        )
        return [dict(zip(lines[0].split(","), line.split(","), strict=False)) for line in lines[1:]]


@pytest.fixture
def planner(client: TestClient) -> Planner:
    return Planner(client)


def names(page: dict[str, Any]) -> list[str]:
    return [b["drill"] for d in page["planned"]["days"] for b in d["blocks"] if b["kind"] == "work"]


def test_a_week_is_looked_at_kept_and_versioned(planner: Planner) -> None:
    """Looking keeps nothing; keeping makes a version that stays as it was when a newer one is kept; the same
    id again changes nothing.
    """
    looked = planner.look().json()
    assert looked["kept"] is None
    assert looked["versions"] == []
    first = str(uuid7())
    kept = planner.keep(id=first, fingerprint=looked["fingerprint"])
    assert kept.status_code == 201, kept.text
    assert (kept.json()["kept"], kept.json()["planned"]) == (first, looked["planned"])
    assert len(planner.keep(id=first).json()["versions"]) == 1
    drill = names(looked)[0]
    changed = planner.look(drops=[{"drill": drill, "day": None}]).json()
    assert any("went out" in line for line in changed["changed"])
    second = planner.keep(drops=[{"drill": drill, "day": None}]).json()
    assert [v["id"] for v in second["versions"]] == [second["kept"], first]
    assert drill in names(planner.client.get(f"/api/plans/{first}").json())
    page = planner.client.get(
        f"/api/trainees/{planner.trainee}/plan", params={"week": NEXT.isoformat()}
    ).json()
    assert page["kept"] == second["kept"]
    assert drill not in names(page)


def test_a_plan_that_is_no_longer_what_was_looked_at_is_not_kept(planner: Planner) -> None:
    """With another fingerprint than the present one keeping is refused, and says that what was set by hand
    stands.
    """
    planner.look()
    refused = planner.keep(fingerprint="0123456789abcdef")
    assert refused.status_code == 409
    assert "Look again" in refused.json()["detail"]


def test_pins_that_cannot_be_had_are_named(planner: Planner) -> None:
    """A closed drill pinned: no plan, the reason in its place, and keeping it is refused with the same
    words.
    """
    pins = [{"day": NEXT.isoformat(), "drill": "free-hold-30", "sets": None}]
    looked = planner.look(pins=pins).json()
    assert looked["planned"] is None
    assert "Closed until" in looked["refused"][0]["text"]
    refused = planner.keep(pins=pins)
    assert refused.status_code == 409
    assert "Closed until" in refused.json()["detail"]


@pytest.mark.parametrize(
    ("spoilt", "said"),
    [
        ({"week": (NEXT + timedelta(days=1)).isoformat()}, "begins on a Monday"),
        ({"kit": {"barn": []}}, "no place named hall"),
        ({"kit": {"hall": ["trampoline"]}}, "no kit named trampoline"),
        ({"days": [{"day": NEXT.isoformat(), "place": "hall", "minutes": 30}] * 2}, "stands twice"),
        (
            {"days": [{"day": (NEXT + timedelta(days=9)).isoformat(), "place": "hall", "minutes": 30}]},
            "outside the week",
        ),
        ({"days": [{"day": NEXT.isoformat(), "place": "hall", "minutes": 3}]}, "minutes"),
    ],
)
def test_a_wish_that_makes_no_sense_is_refused(planner: Planner, spoilt: dict[str, Any], said: str) -> None:
    """Each fault of a wish is named."""
    answer = planner.client.post(f"/api/trainees/{planner.trainee}/plan/look", json={**wish(NEXT), **spoilt})
    assert answer.status_code == 422
    assert said in answer.json()["detail"]


def test_plans_come_as_json_csv_and_calendar(planner: Planner) -> None:
    """Each file holds the kept week: JSON with the trainee, CSV a line a block, a calendar an event a day."""
    kept = planner.keep().json()
    files = {
        kind: planner.client.get(f"/api/plans/{kept['kept']}/plan.{kind}") for kind in ("json", "csv", "ics")
    }
    assert files["json"].json()["trainee"] == "Tilda Moor"
    assert files["json"].json()["days"] == kept["planned"]["days"]
    lines = files["csv"].text.lstrip("\ufeff").splitlines()
    assert lines[0].startswith("day,place,time,start_min,minutes,kind,drill,title,dose")
    assert len(lines) - 1 == sum(len(d["blocks"]) for d in kept["planned"]["days"])
    events = icalendar.Calendar.from_ical(files["ics"].content).walk("VEVENT")
    assert [e.decoded("DTSTART").date() for e in events] == [NEXT, NEXT + timedelta(days=3)]


def test_a_feed_and_an_own_page_work_until_they_are_taken_back(
    planner: Planner, fresh: Callable[[], TestClient]
) -> None:
    """A secret address opens without sign-in what it is for and nothing else, is kept as a hash only, and
    ends when taken back.
    """
    planner.keep(TODAY)
    made = {
        kind: (
            planner.client.post(
                f"/api/trainees/{planner.trainee}/links", json={"id": str(uuid7()), "kind": kind}
            ).json()
        )
        for kind in ("calendar", "page")
    }
    nobody = fresh()
    feed = nobody.get(made["calendar"]["path"])
    assert feed.status_code == 200
    assert feed.headers["content-type"].startswith("text/calendar")
    assert len(list(icalendar.Calendar.from_ical(feed.content).walk("VEVENT"))) == 1
    token = made["page"]["path"].removeprefix("/shared/")
    page = nobody.get(f"/api/shared/{token}").json()
    assert page["name"] == "Tilda Moor"
    assert [d["day"] for d in page["days"]] == [TODAY.isoformat()]
    drills = [b["drill"] for b in page["days"][0]["blocks"] if b["drill"]]
    drawn = nobody.get(f"/api/shared/{token}/drawings", params={"drill": drills})
    assert {d["drill"] for d in drawn.json()} == set(drills)
    assert nobody.get(f"/api/shared/{token[::-1]}/drawings?drill=hang").status_code == 404
    assert nobody.get(f"/api/feeds/{token}.ics").status_code == 404, "a page's address is no calendar"
    assert nobody.get("/api/trainees").status_code == 401
    listed = planner.client.get(f"/api/trainees/{planner.trainee}/links").json()
    assert {x["kind"] for x in listed} == {"calendar", "page"}
    assert token not in str(listed)
    for link in made.values():
        assert planner.client.post(f"/api/links/{link['id']}/revoke").status_code == 200
    assert nobody.get(made["calendar"]["path"]).status_code == 404
    answer = nobody.get(f"/api/shared/{token}")
    assert answer.status_code == 404
    assert "Ask your coach" in answer.json()["detail"]


def test_what_a_trainee_sends_back_is_self_reported_and_meets_no_gate(
    planner: Planner, fresh: Callable[[], TestClient]
) -> None:
    """Numbers sent by the own page are kept once, marked, loose, and shown as done; a second telling of the
    day is refused.
    """
    pins = [{"day": TODAY.isoformat(), "drill": "forearm-plank", "sets": 2}]
    planner.keep(TODAY, pins=pins)
    path = planner.client.post(
        f"/api/trainees/{planner.trainee}/links", json={"id": str(uuid7()), "kind": "page"}
    ).json()["path"]
    nobody, token = fresh(), path.removeprefix("/shared/")
    blocks = nobody.get(f"/api/shared/{token}").json()["days"][0]["blocks"]
    plank = next(b for b in blocks if b["title"].startswith("Forearm plank"))
    body = {
        "id": str(uuid7()),
        "at": now(),
        "day": TODAY.isoformat(),
        "blocks": [{"number": plank["number"], "values": [40, 45]}],
    }
    for _ in range(2):
        answer = nobody.post(f"/api/shared/{token}/done", json=body)
        assert answer.status_code == 201, answer.text
    assert answer.json()["days"][0]["sent"] == {str(plank["number"]): [40, 45]}
    rows = [r for r in planner.evidence() if r["drill"] == "forearm-plank"]
    assert [(float(r["value"]), r["form"], r["source"], r["note"]) for r in rows] == [
        (40, "loose", "self", "self-reported"),
        (45, "loose", "self", "self-reported"),
    ]
    # the first set was open, the second asked for the dose
    assert [bool(r["asked"]) for r in rows] == [False, True]
    stands = planner.client.get(f"/api/trainees/{planner.trainee}/drills/forearm-plank").json()["standing"]
    assert stands["state"] == "not yet"
    assert nobody.post(f"/api/shared/{token}/done", json={**body, "id": str(uuid7())}).status_code == 409
    page = planner.client.get(f"/api/trainees/{planner.trainee}/plan").json()
    assert [(s["source"], s["ended_as"]) for s in page["sessions"]] == [("self", "finished")]


def test_sets_that_two_devices_send_at_once_all_count(planner: Planner) -> None:
    """Single tries come to one k of n; each of many that arrive at the same moment is in it."""
    waive(planner, "wall-side-step", "wall-side-step-down", "scissor-at-wall")
    planner.keep(TODAY, pins=[{"day": TODAY.isoformat(), "drill": "step-down-30", "sets": 10}])
    sheet = planner.sheet()
    n = next(
        k for k, s in enumerate(sheet["slots"]) if sheet["variants"][s["planned"]]["drill"] == "step-down-30"
    )
    session = planner.begin(sheet)
    what = {"kind": "set", "slot": n, "key": sheet["slots"][n]["planned"], "value": 1, "form": "clean"}
    with ThreadPoolExecutor(8) as devices:
        answers = list(devices.map(lambda _: planner.event(session, **what), range(8)))
    assert {a.status_code for a in answers} == {201}, answers[0].text
    told = [(r["value"], r["n"]) for r in planner.evidence() if r["drill"] == "step-down-30"]
    assert told == [("8", "8")]


def test_averages_of_three_that_two_devices_send_at_once_all_count(planner: Planner) -> None:
    """Floats come to averages of three in the order of their moments; sent at once from several devices they
    come to the same as one after the other.
    """
    waive(planner, "wall-side-step", "wall-side-step-down", "press-and-release", "wall-kick-up")
    kept = planner.keep(TODAY, pins=[{"day": TODAY.isoformat(), "drill": "heel-float", "sets": 6}])
    assert kept.status_code == 201, kept.text
    sheet = planner.sheet()
    n = next(
        k for k, s in enumerate(sheet["slots"]) if sheet["variants"][s["planned"]]["drill"] == "heel-float"
    )
    what = {"kind": "set", "slot": n, "key": sheet["slots"][n]["planned"], "form": "clean"}
    begun = datetime.now(UTC) - timedelta(minutes=5)
    tries = [
        {"id": str(uuid7()), "at": (begun + timedelta(seconds=40 * k)).isoformat(), "value": 2.0 + k, **what}
        for k in range(6)
    ]
    found = []
    for at_once in (False, True):
        session = planner.begin(sheet)
        path = f"/api/sessions/{session}/events"
        own = [{**body, "id": str(uuid7())} for body in tries]
        if at_once:
            with ThreadPoolExecutor(6) as devices:
                answers = list(devices.map(lambda b, p=path: planner.client.post(p, json=b), own))
        else:
            answers = [planner.client.post(path, json=body) for body in own]
        assert {a.status_code for a in answers} == {201}, answers[0].text
        found.append(sorted((r["value"], r["n"]) for r in planner.evidence() if r["drill"] == "heel-float"))
    assert found[0]
    assert found[1] == sorted(found[0] * 2), "as one after the other, and nothing beside"


def waive(planner: Planner, *drills: str) -> None:
    """Let these gates pass."""
    for drill in drills:
        waiver = {"id": str(uuid7()), "at": now(), "drill": drill, "reason": "did it for years"}
        answer = planner.client.post(f"/api/trainees/{planner.trainee}/waivers", json=waiver)
        assert answer.status_code == 201, answer.text


def test_a_day_told_from_three_devices_at_once_is_one_session(planner: Planner, fresh: Fresh) -> None:
    """The own page open on three phones, told at the same moment: one telling is kept, the others are told
    so.
    """
    planner.keep(TODAY, pins=[{"day": TODAY.isoformat(), "drill": "forearm-plank", "sets": 2}])
    made = planner.client.post(
        f"/api/trainees/{planner.trainee}/links", json={"id": str(uuid7()), "kind": "page"}
    ).json()
    token = made["path"].removeprefix("/shared/")
    nobody = fresh()
    blocks = nobody.get(f"/api/shared/{token}").json()["days"][0]["blocks"]
    number = next(b["number"] for b in blocks if b["title"].startswith("Forearm plank"))
    told = [
        {
            "id": str(uuid7()),
            "at": now(),
            "day": TODAY.isoformat(),
            "blocks": [{"number": number, "values": [40 + k]}],
        }
        for k in range(3)
    ]
    with ThreadPoolExecutor(3) as phones:
        answers = list(phones.map(lambda b: nobody.post(f"/api/shared/{token}/done", json=b), told))
    assert sorted(a.status_code for a in answers) == [201, 409, 409]
    page = planner.client.get(f"/api/trainees/{planner.trainee}/plan").json()
    assert [s["source"] for s in page["sessions"]] == ["self"]
    assert len([r for r in planner.evidence() if r["drill"] == "forearm-plank"]) == 1


def test_what_a_set_asked_for_is_kept_beside_what_was_done(planner: Planner) -> None:
    """From the floor and from the drill's form; an open set asks for nothing; the sheet marks it; what nobody
    asks for is refused, and the drill's page says the best known.
    """
    planner.keep(TODAY, pins=[{"day": TODAY.isoformat(), "drill": "forearm-plank", "sets": 2}])
    sheet = planner.sheet()
    n = next(
        k for k, s in enumerate(sheet["slots"]) if sheet["variants"][s["planned"]]["drill"] == "forearm-plank"
    )
    dose = sheet["variants"][sheet["slots"][n]["planned"]]["dose"]
    assert (dose["open_set"], dose["first"]) == (True, None)
    assert dose["ceiling"] >= 30
    assert dose["first_words"].startswith("as long as stays clean, at most ")
    session = planner.begin(sheet)
    what = {"kind": "set", "slot": n, "key": sheet["slots"][n]["planned"], "form": "clean"}
    assert planner.event(session, **what, value=24).status_code == 201
    assert planner.event(session, **what, value=12, asked=12).status_code == 201
    path = f"/api/trainees/{planner.trainee}/drills/forearm-plank"
    own = {"id": str(uuid7()), "at": now(), "value": 20, "asked": 21, "form": "clean"}
    assert planner.client.post(f"{path}/sets", json=own).status_code == 201
    assert (
        planner.client.post(f"{path}/sets", json={**own, "id": str(uuid7()), "asked": -5}).status_code == 422
    )
    rows = sorted((r["value"], r["asked"]) for r in planner.evidence() if r["drill"] == "forearm-plank")
    assert rows == [("12", "12"), ("20", "21"), ("24", "")]
    assert planner.client.get(path).json()["best_known"].startswith("24 s on ")


def test_why_a_set_failed_and_the_cue_that_worked_are_kept(planner: Planner) -> None:
    """Said after a miss it stands with the set; said again it is replaced, taken back it is gone; the cue
    stands first on the next sheet until it is taken back; what makes no sense is refused.
    """
    planner.keep(TODAY, pins=[{"day": TODAY.isoformat(), "drill": "forearm-plank", "sets": 2}])
    sheet = planner.sheet()
    n, key = next(
        (k, s["planned"])
        for k, s in enumerate(sheet["slots"])
        if sheet["variants"][s["planned"]]["drill"] == "forearm-plank"
    )
    cues = sheet["variants"][key]["cues"]
    session = planner.begin(sheet)
    why = {"kind": "why", "slot": n, "key": key}
    assert planner.event(session, **why, reason="balance").status_code == 422, "no set yet"
    miss = {"kind": "set", "slot": n, "key": key, "form": "lost", "value": 5, "asked": 20}
    planner.event(session, **miss)
    assert planner.event(session, **why).status_code == 422, "without a reason"
    assert planner.event(session, **why, reason="boredom").status_code == 422

    def reasons() -> list[str]:
        return [r["reason"] for r in planner.evidence() if r["drill"] == "forearm-plank"]

    assert planner.event(session, **why, reason="balance").status_code == 201
    told = str(uuid7())
    assert planner.event(session, id=told, **why, reason="strength").status_code == 201
    assert reasons() == ["strength"]
    assert planner.client.post(f"/api/sessions/{session}/events/{told}/strike").status_code == 200
    assert reasons() == ["balance"]
    page = planner.client.get(f"/api/sessions/{session}").json()
    assert page["now"]["slots"][n]["done"] == 1, "saying why moves nothing"

    cue = {"kind": "cue", "slot": n, "key": key}
    assert planner.event(session, **cue, how="Think of nothing.").status_code == 422
    id = str(uuid7())
    for _ in range(2):
        assert planner.event(session, id=id, **cue, how=cues[-1]).status_code == 201

    def first() -> tuple[str, str]:
        now_planned = planner.sheet()
        variant = next(v for v in now_planned["variants"].values() if v["drill"] == "forearm-plank")
        return variant["worked_cue"], variant["cues"][0]

    assert first() == (cues[-1], cues[-1])
    planner.client.post(f"/api/sessions/{session}/events/{id}/strike")
    assert first()[0] == ""


def test_a_session_is_kept_event_by_event_and_comes_to_evidence(planner: Planner) -> None:
    """Sets are evidence as they are kept, the same event again changes nothing, one taken back is gone from
    it, and the end tells the story.
    """
    planner.keep(TODAY, pins=[{"day": TODAY.isoformat(), "drill": "forearm-plank", "sets": 2}])
    sheet = planner.sheet()
    session = planner.begin(sheet)
    n = next(
        k for k, s in enumerate(sheet["slots"]) if sheet["variants"][s["planned"]]["drill"] == "forearm-plank"
    )
    assert planner.event(session, kind="ready", energy=3, confidence=4).status_code == 201
    ids = [str(uuid7()) for _ in range(2)]
    what = {"kind": "set", "slot": n, "key": sheet["slots"][n]["planned"], "value": 31.5, "form": "clean"}
    for id in (ids[0], ids[0], ids[1]):
        assert planner.event(session, id=id, **what).status_code == 201
    assert planner.event(session, id=ids[0], **{**what, "value": 3}).status_code == 409
    assert [(r["value"], r["confidence"]) for r in planner.evidence()] == [("31.5", "4"), ("31.5", "4")]
    assert planner.client.post(f"/api/sessions/{session}/events/{ids[1]}/strike").status_code == 200
    assert len(planner.evidence()) == 1
    page = planner.client.get(f"/api/sessions/{session}").json()
    assert page["now"]["slots"][n]["done"] == 1
    assert page["story"] is None
    ended = {"ended_at": now(), "ended_as": "finished", "note": ""}
    story = planner.client.post(f"/api/sessions/{session}/end", json=ended).json()["story"]
    assert planner.client.post(f"/api/sessions/{session}/end", json=ended).status_code == 200
    assert story["blocks"][n]["done"] == "31.5 s"
    assert any("Forearm plank" in c["sentence"] for c in story["changes"]), "a gate met now is told"
    assert any(
        "becomes" not in x["now"] and x["title"].startswith("Forearm plank") for x in story["next_time"]
    )
    assert not story["poor"]


def test_what_a_coach_struck_out_stays_so_and_no_event_takes_anothers_id(planner: Planner) -> None:
    """A set of the floor that was struck out on the drill's sheet does not come back with the next set of its
    block; one taken back and away on the floor comes and goes with it. An event whose id is that of another
    piece is refused, and the piece stays.
    """
    planner.keep(TODAY, pins=[{"day": TODAY.isoformat(), "drill": "forearm-plank", "sets": 2}])
    sheet = planner.sheet()
    n = next(
        k for k, s in enumerate(sheet["slots"]) if sheet["variants"][s["planned"]]["drill"] == "forearm-plank"
    )
    session = planner.begin(sheet)
    what = {"kind": "set", "slot": n, "key": sheet["slots"][n]["planned"], "form": "clean"}
    first, second = str(uuid7()), str(uuid7())
    assert planner.event(session, id=first, **what, value=11).status_code == 201
    assert planner.client.post(f"/api/evidence/{first}/strike").status_code == 204
    assert planner.event(session, id=second, **what, value=12).status_code == 201
    assert [r["value"] for r in planner.evidence()] == ["12"]
    own = {"id": str(uuid7()), "at": now(), "value": 20, "form": "clean"}
    path = f"/api/trainees/{planner.trainee}/drills/forearm-plank/sets"
    assert planner.client.post(path, json=own).status_code == 201
    assert planner.event(session, id=own["id"], **what, value=40).status_code == 409
    assert sorted(r["value"] for r in planner.evidence()) == ["12", "20"]
    assert planner.client.post(f"/api/sessions/{session}/events/{second}/strike").status_code == 200
    assert [r["value"] for r in planner.evidence()] == ["20"]


def test_today_asks_for_the_same_once_it_is_done_and_files_say_what_the_page_says(planner: Planner) -> None:
    """What a session brought changes the days to come and not what it had asked for; JSON, CSV, calendar and
    own page say what the page says.
    """
    week = planner.keep(TODAY, pins=[{"day": TODAY.isoformat(), "drill": "forearm-plank", "sets": 2}]).json()
    sheet = planner.sheet()
    n = next(
        k for k, s in enumerate(sheet["slots"]) if sheet["variants"][s["planned"]]["drill"] == "forearm-plank"
    )
    session = planner.begin(sheet)
    what = {"kind": "set", "slot": n, "key": sheet["slots"][n]["planned"], "form": "clean"}
    for _ in range(2):
        assert planner.event(session, **what, value=44, asked=sheet["variants"][what["key"]]["dose"]["each"])

    def asked(page: Any) -> dict[str, Any]:
        blocks = page["planned"]["days"][0]["blocks"] if "planned" in page else page["days"][0]["blocks"]
        return next(b["dose"] for b in blocks if b["drill"] == "forearm-plank")

    def page() -> Any:
        return planner.client.get(f"/api/trainees/{planner.trainee}/plan").json()

    assert asked(page()) == asked(week), "while it goes on"
    ended = {"ended_at": now(), "ended_as": "finished", "note": ""}
    assert planner.client.post(f"/api/sessions/{session}/end", json=ended).status_code == 200
    assert asked(page()) == asked(week), "and once it is over"
    own = {k: planner.client.get(f"/api/plans/{week['kept']}/plan.{k}") for k in ("json", "csv", "ics")}
    assert asked(own["json"].json()) == asked(page())
    for kind in ("csv", "ics"):
        text = own[kind].text.replace("\r\n ", "").replace("\\,", ",")
        assert asked(week)["amount"] in text


def test_what_was_looked_at_before_a_session_is_kept_with_it(planner: Planner) -> None:
    """The room, the cold checks and the warm-up stand in the event that begins the day, and come back."""
    sheet = planner.sheet()
    before = sheet["before"]
    assert before["warm_ups"][0]["warm_up"] == "steps"
    said = {
        "room": before["room"][:2],
        "checks": {c["check"]: False for c in before["checks"]},
        "warm_up": "head-to-toe",
    }
    session = planner.begin(sheet)
    assert planner.event(session, kind="ready", energy=3, **said).status_code == 201
    (event,) = planner.client.get(f"/api/sessions/{session}").json()["session"]["events"]
    assert {k: event["what"][k] for k in said} == said


def test_a_sheet_from_before_there_were_checks_is_still_walked(planner: Planner) -> None:
    """A device that has kept an older sheet begins with it, and nothing is asked."""
    sheet = {k: v for k, v in planner.sheet().items() if k != "before"}
    session = planner.begin(sheet)
    assert planner.event(session, kind="ready", energy=3).status_code == 201


def test_habits_are_told_by_the_day_and_seen_by_the_coach(planner: Planner) -> None:
    """Minutes on the own page, the newest word of a day; seven days back and no further; nothing unknown."""
    made = planner.client.post(
        f"/api/trainees/{planner.trainee}/links", json={"id": str(uuid7()), "kind": "page"}
    ).json()
    path = "/api" + made["path"]

    def tell(habit: str, minutes: float, ago: int = 0) -> Any:
        day = (TODAY - timedelta(days=ago)).isoformat()
        body = {"at": now(), "day": day, "habit": habit, "minutes": minutes}
        return planner.client.post(f"{path}/habits", json=body)

    assert tell("hang", 3).status_code == 201
    assert tell("hang", 4).status_code == 201
    assert tell("reach", 2, ago=6).status_code == 201
    assert tell("wrists", 5).status_code == 201
    page = tell("wrists", 0).json()
    assert {h["habit"]: (h["today"], h["week"]) for h in page["habits"]} == {
        "reach": (0, 2),
        "hang": (4, 4),
        "wrists": (0, 0),
        "pancake": (0, 0),
    }
    for refused in (tell("hang", 3, ago=7), tell("hang", 3, ago=-1), tell("naps", 3), tell("hang", 999)):
        assert refused.status_code == 422
    coach = planner.client.get(f"/api/trainees/{planner.trainee}").json()
    assert coach["habits_said"] == "At home this week: reach overhead 2 min and hang 4 min."


def test_pain_told_in_a_session_changes_the_next_plan(planner: Planner) -> None:
    """Pain of 6 leaves nothing that loads the joint in the week planned next, and says so; told with 0 it is
    well again.
    """
    session = planner.begin(planner.sheet())
    told = str(uuid7())
    planner.event(session, id=told, kind="pain", pains=[{"joint": "left wrist", "level": 6}])
    looked = planner.look().json()
    assert [(a["joint"], a["level"]) for a in looked["aches"]] == [("left wrist", 6)]
    assert not any("wrist" in b["joints"] for d in looked["planned"]["days"] for b in d["blocks"])
    assert any("Left wrist 6 of 10" in x["because"] for x in looked["planned"]["left_out"])
    first, *_ = planner.client.get("/api/today").json()[0]["brief"]["matters"]
    assert (first["kind"], first["sentence"][:19]) == ("pain", "Left wrist 6 of 10 ")
    planner.event(session, kind="pain", pains=[{"joint": "left wrist", "level": 0}])
    assert planner.look().json()["aches"] == []
    assert all(m["kind"] != "pain" for m in planner.client.get("/api/today").json()[0]["brief"]["matters"])


@pytest.mark.parametrize(
    "what",
    [
        {"kind": "set", "slot": 99, "key": "x", "value": 3},
        {"kind": "set", "slot": 0, "key": "no such drill", "value": 3},
        {"kind": "choose", "slot": 0, "key": "no such drill"},
        {"kind": "pain", "pains": []},
        {"kind": "next"},
        {"kind": "ready", "key": "\x00"},
        {"kind": "ready", "energy": 9},
        {"kind": "ready", "warm_up": "a nap"},
        {"kind": "ready", "checks": {"flying": True}},
        {"kind": "ready", "room": ["The roof is on."]},
        {"kind": "dance"},
        {"kind": "next", "slot": 0, "value": "NaN"},
    ],
)
def test_what_cannot_have_happened_is_refused(planner: Planner, what: dict[str, Any]) -> None:
    """A block, drill or figure that is not there is refused with a reason, and nothing of it is kept."""
    session = planner.begin(planner.sheet())
    answer = planner.event(session, **what)
    assert answer.status_code == 422, answer.text
    assert answer.json()["detail"]
    assert planner.client.get(f"/api/sessions/{session}").json()["session"]["events"] == []


def test_taking_pain_back_takes_it_out_of_the_plan(planner: Planner) -> None:
    """A slip of the finger taken back leaves no ache behind."""
    session = planner.begin(planner.sheet())
    told = str(uuid7())
    planner.event(session, id=told, kind="pain", pains=[{"joint": "neck", "level": 5}])
    planner.client.post(f"/api/sessions/{session}/events/{told}/strike")
    assert planner.look().json()["aches"] == []


def test_nothing_upside_down_before_the_clearance(planner: Planner) -> None:
    """With a caution answered yes neither a plan nor a session has an inverted drill; once confirmed they
    may.
    """
    cautions = {q.caution: q.caution == "eyes" for q in built_in().intake.cautions}
    body = {
        "id": str(uuid7()),
        "at": now(),
        "stature_cm": 170,
        "lengths_cm": {},
        "cautions": cautions,
        "experience": [],
        "kit": [],
        "history": "",
    }
    kept = planner.client.post(f"/api/trainees/{planner.trainee}/intake", json=body)
    assert kept.status_code in (200, 201), kept.text
    page = planner.look().json()
    assert not page["cleared"]
    sheet = planner.sheet()
    used = {k for s in sheet["slots"] for k in (s["planned"], s["back"], s["ahead"], *s["swaps"]) if k}
    assert used
    assert not [k for k in used if sheet["variants"][k]["inverted"]]


def test_another_coach_reaches_nothing_of_it(
    planner: Planner, fresh: Callable[[], TestClient], client: TestClient
) -> None:
    """Plans, sessions and addresses of one coach answer another with 404."""
    kept = planner.keep(TODAY).json()["kept"]
    session = planner.begin(planner.sheet())
    link = planner.client.post(
        f"/api/trainees/{planner.trainee}/links", json={"id": str(uuid7()), "kind": "page"}
    ).json()["id"]
    other = second_coach(client, fresh)
    for path in (
        f"/api/plans/{kept}",
        f"/api/sessions/{session}",
        f"/api/trainees/{planner.trainee}/floor",
        f"/api/trainees/{planner.trainee}/links",
    ):
        assert other.get(path).status_code == 404, path
    assert other.post(f"/api/links/{link}/revoke").status_code == 404
    assert (
        other.post(
            f"/api/sessions/{session}/events",
            json={"id": str(uuid7()), "at": now(), "kind": "next", "slot": 0},
        ).status_code
        == 404
    )


def second_coach(client: TestClient, fresh: Callable[[], TestClient]) -> TestClient:
    """Another coach, put into the database as the first one's api does not offer it, and signed in."""
    from wise_perch.api.auth import hasher

    pool = client.app.state.perch.pool  # type: ignore[attr-defined]
    add_coach(pool, "b@hall.example", password_hash=hasher().hash(PASSWORD))
    made = fresh()
    assert made.post("/api/sign-in", json={"email": "b@hall.example", "password": PASSWORD}).status_code in (
        200,
        204,
    )
    return made
