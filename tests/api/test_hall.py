"""A hall with several coaches over the api: who may do what, how one comes in and goes, what others see."""

import importlib
import pkgutil
import re
from collections.abc import Callable, Iterator
from typing import Any
from uuid import UUID

import psycopg
import pytest
from fastapi import FastAPI
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from tests.api.conftest import PASSWORD, now
from tests.conftest import add_coach, add_member
from wise_perch.api import auth, members, routes
from wise_perch.core.trainee.hall import Member, Role
from wise_perch.store import trainees
from wise_perch.store.pool import transaction

OWNER_ONLY = {
    ("GET", "/api/archive"),
    ("POST", "/api/archive"),
    ("POST", "/api/trainees/{id}/erase"),
    ("POST", "/api/syllabus/versions"),
    ("POST", "/api/syllabus/go-back"),
    ("POST", "/api/syllabus.yaml"),
    ("POST", "/api/hall/invitations"),
    ("POST", "/api/hall/invitations/{id}/revoke"),
    ("POST", "/api/hall/people/{coach}/role"),
    ("POST", "/api/hall/people/{coach}/take-out"),
    ("POST", "/api/hall/people/{coach}/hand-over"),
    ("POST", "/api/hall/people/{coach}/reset"),
}
"""The hall's people, its syllabus, erasing. The archive of one trainee alone is for every coach."""
FOR_ASSISTANTS = {
    ("POST", "/api/trainees/{id}/runs"),
    ("POST", "/api/runs/{run}/tries"),
    ("POST", "/api/runs/{run}/tries/{tried}/correct"),
    ("POST", "/api/runs/{run}/end"),
    ("POST", "/api/evidence/{id}/strike"),
    ("POST", "/api/evidence/{id}/restore"),
    ("POST", "/api/trainees/{id}/sessions"),
    ("POST", "/api/sessions/{id}/events"),
    ("POST", "/api/sessions/{id}/events/{event}/strike"),
    ("POST", "/api/sessions/{id}/end"),
    ("POST", "/api/trainees/{id}/drills/{drill}/seen"),
    ("POST", "/api/classes/{id}/events"),
    ("POST", "/api/classes/{id}/events/{event}/strike"),
}
"""What an assistant writes: Bench, Floor and a class night that runs, and from where a line was seen."""
ONES_OWN = {
    ("PATCH", "/api/me"),
    ("POST", "/api/me/told"),
    ("POST", "/api/me/tokens"),
    ("POST", "/api/me/tokens/{token}/revoke"),
    ("POST", "/api/hall/leave"),
    ("POST", "/api/hall/device-link"),
}
"""What anybody in a hall does with their own sign-in."""
ONLY_ASKS = re.compile(r"/(look|try|at|along|ladder|over-under|judge|film|read)$|/breakdown")
"""What is sent with a body and keeps nothing."""
READ_BY_COACHES = {
    ("GET", "/api/trainees/{id}/contact"),
    ("GET", "/api/trainees/{id}/links"),
    ("GET", "/api/hall/links"),
}
LEAST: dict[Callable[..., Any], Role] = {
    members.assistant_of: "assistant",
    members.assistant_in_person: "assistant",
    members.trainer_of: "coach",
    members.owner_of: "owner",
    members.owner_in_person: "owner",
}


def operations() -> Iterator[tuple[str, str, Role]]:
    """Every operation inside a hall with the least role it asks for."""
    for room in pkgutil.iter_modules(routes.__path__):
        router = importlib.import_module(f"{routes.__name__}.{room.name}").router
        for route in router.routes:
            assert isinstance(route, APIRoute)
            asked = {LEAST[d.call] for d in route.dependant.dependencies if d.call in LEAST}
            for method in sorted(route.methods or ()):
                if len(asked) == 1:
                    yield method, f"/api{route.path}", next(iter(asked))


def test_every_operation_is_for_the_role_it_should_be_for() -> None:
    """Reading is for everybody in the hall; writing for coaches; the few that are named for others."""
    for method, path, least in operations():
        one = (method, path)
        if one == ("GET", "/api/archive"):
            # one trainee's is for every coach: which of the two it is the request says
            expected: Role = "coach"
        elif one in OWNER_ONLY:
            expected = "owner"
        elif (
            one in FOR_ASSISTANTS | ONES_OWN
            or (method == "GET" and one not in READ_BY_COACHES)
            or ONLY_ASKS.search(path)
        ):
            expected = "assistant"
        else:
            expected = "coach"
        assert least == expected, one
    there = {(method, path) for method, path, _ in operations()}
    assert there >= OWNER_ONLY | FOR_ASSISTANTS | ONES_OWN | READ_BY_COACHES, "each named one is there"
    assert len(there) > 100


@pytest.fixture
def people(client: TestClient, fresh: Callable[[], TestClient]) -> dict[str, TestClient]:
    """An owner, a coach and an assistant of one hall, and the owner of another, all signed in."""
    pool = client.app.state.perch.pool  # type: ignore[attr-defined]
    me = client.get("/api/me").json()
    owner = Member(coach=UUID(me["id"]), hall=UUID(me["hall"]["id"]), role="owner")
    hashed = auth.hasher().hash(PASSWORD)
    for role in ("coach", "assistant"):
        add_member(pool, owner, f"{role}@hall.example", role, password_hash=hashed)
    add_coach(pool, "other@hall.example", password_hash=hashed)
    found = {"owner": client}
    for name in ("coach", "assistant", "other"):
        found[name] = fresh()
        answer = found[name].post(
            "/api/sign-in", json={"email": f"{name}@hall.example", "password": PASSWORD}
        )
        assert answer.status_code == 200, answer.text
    return found


NEEDED = {"drill": "pike-hold"}
"""What some questions cannot be asked without."""
RANK = {"assistant": 0, "coach": 1, "owner": 2}


def test_every_operation_against_every_role_and_another_hall(
    people: dict[str, TestClient], application: tuple[FastAPI, Any]
) -> None:
    """Whoever is below an operation's role is told so before anything else is looked at, whoever is in
    another hall finds nothing of this one, and whoever is signed out is asked to sign in.
    """
    trainee = str(uuid7())
    assert (
        people["owner"].post("/api/trainees", json={"id": trainee, "name": "Tilda Moor"}).status_code == 201
    )
    nobody = TestClient(application[0], base_url="http://127.0.0.1", raise_server_exceptions=False)
    tried = 0
    for method, path, least in operations():
        if path == "/api/changes":
            continue
        address = re.sub(r"\{[a-z_]+\}", trainee, path)
        for role in ("assistant", "coach", "owner"):
            if RANK[role] < RANK[least]:
                answer = people[role].request(method, address, json={})
                assert answer.status_code == 403, (method, path, role, answer.text)
                assert "of the hall" in answer.json()["detail"]
                tried += 1
        assert nobody.request(method, address, json={}).status_code == 401, (method, path)
        if "{id}" in path and "trainees" in path and method == "GET" and "{" not in path.replace("{id}", ""):
            assert people["other"].get(address, params=NEEDED).status_code == 404, path
            if least != "owner":
                assert people["coach"].get(address, params=NEEDED).status_code in (200, 404), path
        tried += 1
    assert tried > 150
    assert people["other"].get("/api/trainees").json() == []
    assert [t["name"] for t in people["assistant"].get("/api/trainees").json()] == ["Tilda Moor"]


def test_an_assistant_runs_a_test_and_strikes_out_only_their_own(people: dict[str, TestClient]) -> None:
    """The Bench is theirs; what a coach recorded is not theirs to take back."""
    trainee, run = str(uuid7()), str(uuid7())
    people["owner"].post("/api/trainees", json={"id": trainee, "name": "Tilda Moor"})
    helps = people["assistant"]
    begun = {"id": run, "test": "free-tries", "started_at": now(), "rest_s": 45}
    assert helps.post(f"/api/trainees/{trainee}/runs", json=begun).status_code == 201
    made = [str(uuid7()), str(uuid7())]
    for n, (who, id) in enumerate(zip(("assistant", "coach"), made, strict=True), 1):
        tried = {"id": id, "number": n, "at": now(), "outcome": "overshot", "fell": "over"}
        answer = people[who].post(f"/api/runs/{run}/tries", json=tried)
        assert answer.status_code == 201, answer.text
    assert helps.post(f"/api/evidence/{made[1]}/strike").status_code == 403, "the coach's"
    assert helps.post(f"/api/evidence/{made[0]}/strike").status_code == 204, "their own"
    assert people["coach"].post(f"/api/evidence/{made[1]}/strike").status_code == 204


def invite(owner: TestClient, role: str) -> str:
    made = owner.post("/api/hall/invitations", json={"id": str(uuid7()), "role": role, "name": "Bo"})
    assert made.status_code == 201, made.text
    assert made.json()["qr"].startswith("<svg")
    return str(made.json()["path"]).rpartition("/")[2]


def test_an_invitation_lets_one_person_in_once(
    people: dict[str, TestClient], fresh: Callable[[], TestClient]
) -> None:
    """It says which hall and who invites before it is used; used, taken back or too old it opens nothing."""
    owner, new = people["owner"], fresh()
    token = invite(owner, "coach")
    shown = new.get(f"/api/join/{token}").json()
    assert (shown["kind"], shown["role"], shown["invited_by"]) == ("invitation", "coach", "Coach A")
    body = {"email": "bo@hall.example", "name": "Bo Vik", "password": PASSWORD}
    joined = new.post(f"/api/join/{token}/new", json=body)
    assert joined.status_code == 201, joined.text
    assert joined.json()["role"] == "coach"
    assert new.get("/api/trainees").status_code == 200
    again = fresh().post(f"/api/join/{token}/new", json={**body, "email": "two@hall.example"})
    assert again.status_code == 404
    assert "works once" in again.json()["detail"]
    assert [p["name"] for p in owner.get("/api/hall").json()["people"] if p["role"] == "coach"] == [
        "Bo Vik",
        "Coach",
    ]
    # taken back
    token = invite(owner, "assistant")
    kept = owner.get("/api/hall").json()["invitations"]
    assert owner.post(f"/api/hall/invitations/{kept[0]['id']}/revoke").status_code == 204
    assert fresh().get(f"/api/join/{token}").status_code == 404
    # a name that is taken keeps the link for somebody else
    token = invite(owner, "assistant")
    assert fresh().post(f"/api/join/{token}/new", json=body).status_code == 409
    assert fresh().get(f"/api/join/{token}").status_code == 200


def test_two_at_once_with_one_invitation_and_one_comes_in(
    people: dict[str, TestClient], fresh: Callable[[], TestClient]
) -> None:
    """The link is used up in the transaction that lets somebody in."""
    from threading import Barrier, Thread

    token, gate, said = invite(people["owner"], "coach"), Barrier(2), []

    def come(n: int) -> None:
        one = fresh()
        gate.wait()
        body = {"email": f"n{n}@hall.example", "name": f"N {n}", "password": PASSWORD}
        said.append(one.post(f"/api/join/{token}/new", json=body).status_code)

    threads = [Thread(target=come, args=(n,)) for n in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(said) in ([201, 404], [201, 409])


def test_a_person_in_two_halls_chooses(
    people: dict[str, TestClient], fresh: Callable[[], TestClient]
) -> None:
    """Signed in anew nothing of either shows until one is chosen; a page of the one writes nothing into the
    other.
    """
    other = people["other"]
    token = invite(people["owner"], "assistant")
    came = other.post(f"/api/join/{token}/me")
    assert came.status_code == 201, came.text
    both = fresh()
    me = both.post("/api/sign-in", json={"email": "other@hall.example", "password": PASSWORD}).json()
    assert (me["hall"], me["role"], len(me["halls"])) == (None, None, 2)
    refused = both.get("/api/trainees")
    assert refused.status_code == 403
    assert "Choose" in refused.json()["detail"]
    own = next(h for h in me["halls"] if h["role"] == "owner")
    there = next(h for h in me["halls"] if h["role"] == "assistant")
    assert both.post("/api/hall/choose", json={"hall": own["id"]}).json()["role"] == "owner"
    meant = {"Perch-Hall": there["id"]}
    stale = both.post("/api/trainees", json={"id": str(uuid7()), "name": "Stray"}, headers=meant)
    assert stale.status_code == 412
    assert both.post("/api/hall/choose", json={"hall": there["id"]}).json()["role"] == "assistant"
    assert both.post("/api/trainees", json={"id": str(uuid7()), "name": "Stray"}).status_code == 403
    assert both.post("/api/hall/choose", json={"hall": str(uuid7())}).status_code == 404
    # a hall of one's own is begun once, however often it is sent
    begun = {"id": str(uuid7()), "name": "Second Hall", "time_zone": "UTC"}
    for _ in range(2):
        assert both.post("/api/hall/new", json=begun).json()["hall"]["name"] == "Second Hall"
    assert len(both.get("/api/me").json()["halls"]) == 3


def test_a_hall_keeps_an_owner(people: dict[str, TestClient]) -> None:
    """The last owner neither leaves nor steps down; handing over is one step; who left sees nothing, and what
    they did stays with their name.
    """
    owner, coach = people["owner"], people["coach"]
    page = owner.get("/api/hall").json()
    ids = {p["role"]: p["id"] for p in page["people"]}
    assert owner.post("/api/hall/leave").status_code == 409
    assert owner.post(f"/api/hall/people/{ids['owner']}/role", json={"role": "coach"}).status_code == 409
    hand = f"/api/hall/people/{ids['coach']}/hand-over"
    assert owner.post(hand, json={"present": "wrong"}).status_code == 403
    assert owner.post(hand, json={"present": PASSWORD}).status_code == 204
    assert (owner.get("/api/me").json()["role"], coach.get("/api/me").json()["role"]) == ("coach", "owner")
    trainee = str(uuid7())
    assert owner.post("/api/trainees", json={"id": trainee, "name": "Tilda Moor"}).status_code == 201
    assert coach.post(f"/api/hall/people/{ids['owner']}/take-out").status_code == 204
    assert owner.get("/api/trainees").status_code == 403
    assert owner.get("/api/me").json()["hall"] is None
    deeds = coach.get("/api/hall/history").json()["deeds"]
    said = [(d["by"], d["what"]) for d in deeds]
    assert ("Coach A", "added a trainee") in said
    assert ("Coach A", "handed the hall over to Coach") in said
    assert ("Coach", "took Coach A out of the hall") in said


def test_an_owner_helps_with_a_password_but_opens_no_other_hall(
    people: dict[str, TestClient], fresh: Callable[[], TestClient]
) -> None:
    """A link by which a member chooses a password works once and signs them out elsewhere; for somebody of
    another hall too there is none.
    """
    owner, coach = people["owner"], people["coach"]
    ids = {p["role"]: p["id"] for p in owner.get("/api/hall").json()["people"]}
    path = f"/api/hall/people/{ids['coach']}/reset"
    assert owner.post(path, json={"present": "wrong"}).status_code == 403
    made = owner.post(path, json={"present": PASSWORD})
    assert made.status_code == 201, made.text
    token = made.json()["path"].rpartition("/")[2]
    new = fresh()
    assert new.get(f"/api/join/{token}").json()["email"] == "coach@hall.example"
    assert new.post(f"/api/join/{token}/reset", json={"password": "another long password"}).status_code == 201
    assert coach.get("/api/me").status_code == 401, "signed out everywhere else"
    assert new.get("/api/me").json()["role"] == "coach"
    assert fresh().get(f"/api/join/{token}").status_code == 404
    # in another hall too: no link
    assert (
        new.post("/api/hall/new", json={"id": str(uuid7()), "name": "Own", "time_zone": "UTC"}).status_code
        == 201
    )
    refused = owner.post(path, json={"present": PASSWORD})
    assert refused.status_code == 409
    assert "another hall" in refused.json()["detail"]


def test_a_link_signs_another_device_in_once(
    people: dict[str, TestClient], fresh: Callable[[], TestClient]
) -> None:
    """Open on a phone: the same coach in the same hall, once, and not for a script's token."""
    made = people["assistant"].post("/api/hall/device-link").json()
    token, phone = made["path"].rpartition("/")[2], fresh()
    assert phone.get(f"/api/join/{token}").json()["email"] == "", "whose it is is said by name alone"
    assert phone.post(f"/api/join/{token}/device").json()["role"] == "assistant"
    assert fresh().post(f"/api/join/{token}/device").status_code == 404
    assert made["reachable"] is False, "on loopback alone"


def test_what_one_coach_does_another_is_told(people: dict[str, TestClient]) -> None:
    """A change is told to its hall's listeners alone, as whose data to ask for again."""
    import asyncio

    app = people["owner"].app.state.perch  # type: ignore[attr-defined]
    hall = people["owner"].get("/api/me").json()["hall"]["id"]
    other = people["other"].get("/api/me").json()["hall"]["id"]
    trainee = str(uuid7())

    async def hear() -> tuple[str | None, int]:
        with app.listener.hears(hall) as told, app.listener.hears(other) as elsewhere:
            await asyncio.to_thread(
                people["coach"].post, "/api/trainees", json={"id": trainee, "name": "Tilda Moor"}
            )
            return await asyncio.wait_for(told.get(), 60), elsewhere.qsize()

    loop = app.listener._loop
    assert loop is not None
    said, elsewhere = asyncio.run_coroutine_threadsafe(hear(), loop).result(60)
    assert (said, elsewhere) == (f"trainee {trainee} elsewhere", 0)


def test_schools_are_a_coachs_own(people: dict[str, TestClient]) -> None:
    """Two coaches of one hall teach by different schools, and each one's Today is judged by their own."""
    trainee = str(uuid7())
    people["owner"].post("/api/trainees", json={"id": trainee, "name": "Tilda Moor"})
    first = people["coach"].get("/api/today").json()
    assert people["owner"].patch("/api/me", json={"schools": {"kip": "after-gates"}}).status_code == 200
    assert people["coach"].get("/api/me").json()["schools"] == {}
    assert people["coach"].get("/api/today").json() == first
    assert people["owner"].get("/api/today").status_code == 200
    pool = people["owner"].app.state.perch.pool  # type: ignore[attr-defined]
    me = people["owner"].get("/api/me").json()
    with transaction(pool, member=Member(coach=UUID(me["id"]), hall=UUID(me["hall"]["id"]))) as db:
        assert db.execute("select count(distinct coach_id) from trainee_brief").fetchone() == (2,)
        assert trainees.one(db, UUID(trainee)).name == "Tilda Moor"


def test_groups_and_contacts(people: dict[str, TestClient]) -> None:
    """A group has its evenings and its people, once however often it is sent; contacts are for coaches."""
    ids = [str(uuid7()) for _ in range(3)]
    for n, id in enumerate(ids):
        people["owner"].post("/api/trainees", json={"id": id, "name": f"Trainee {n}"})
    coach, group = people["coach"], str(uuid7())
    body = {"id": group, "name": "Tuesday", "evenings": [{"weekday": 1, "time": "18:30"}], "members": ids[:2]}
    for _ in range(2):
        assert coach.post("/api/groups", json=body).status_code == 201
    changed = coach.put(f"/api/groups/{group}", json={"name": "Late", "evenings": [], "members": ids[1:]})
    assert set(changed.json()["members"]) == set(ids[1:])
    assert coach.put(f"/api/groups/{group}", json={"name": "X", "members": [str(uuid7())]}).status_code == 404
    assert coach.post("/api/groups", json={**body, "id": str(uuid7()), "name": "late"}).status_code == 409
    assert (
        coach.post("/api/groups", json={**body, "evenings": [{"weekday": 9, "time": "25:00"}]}).status_code
        == 422
    )
    assert coach.post(f"/api/groups/{group}/strike").status_code == 204
    assert coach.get("/api/groups").json() == []
    assert coach.post(f"/api/groups/{group}/restore").json()["name"] == "Late"
    told = {"contact": "0700 12", "guardian": "A. Moor", "consent_day": "2026-05-01"}
    assert coach.put(f"/api/trainees/{ids[0]}/contact", json=told).json() == told
    assert people["assistant"].get(f"/api/trainees/{ids[0]}/contact").status_code == 403


def test_the_first_evening_leads_on_and_can_be_put_off(people: dict[str, TestClient]) -> None:
    """Each step says where it is done; done or put off it is behind; the sample counts for nothing."""
    owner, at = people["owner"], "/api/hall/first-evening"
    steps = {s["step"]: s for s in owner.get(at).json()["guide"]["steps"]}
    assert [s for s in steps if steps[s]["done"]] == []
    assert steps["intake"]["to"] == "", "nobody to ask yet"
    assert sum(s["minutes"] for s in steps.values()) < 15
    kit = {"id": str(uuid7()), "kind": "pad", "thickness_cm": 3, "count": 2}
    assert owner.post("/api/kit", json=kit).status_code == 201
    trainee = str(uuid7())
    owner.post("/api/trainees", json={"id": trainee, "name": "Tilda Moor"})
    steps = {s["step"]: s for s in owner.get(at).json()["guide"]["steps"]}
    assert [s for s in steps if steps[s]["done"]] == ["kit", "trainee"]
    assert steps["intake"]["to"] == f"/trainees/{trainee}/intake"
    off = owner.post(at, json={"step": "test"}).json()["guide"]["steps"]
    assert [s["step"] for s in off if s["left"]] == ["test"]
    back = owner.post(at, json={"step": "test", "off": False}).json()["guide"]["steps"]
    assert [s for s in back if s["left"]] == []
    for _ in range(2):
        sample = owner.post("/api/hall/sample").json()
    assert sample["sample"]
    assert len(owner.get("/api/trainees").json()) == 2
    assert not {s["step"]: s for s in sample["guide"]["steps"]}["intake"]["done"], (
        "the sample's does not count"
    )
    assert owner.post("/api/hall/sample/take-away").json()["sample"] is None
    assert [t["name"] for t in owner.get("/api/trainees").json()] == ["Tilda Moor"]


def test_one_calendar_for_the_whole_hall(
    people: dict[str, TestClient], fresh: Callable[[], TestClient]
) -> None:
    """Everybody's kept weeks by one secret address, which a coach makes and takes back."""
    made = people["coach"].post("/api/hall/links", json={"id": str(uuid7())})
    assert made.status_code == 201, made.text
    feed = fresh().get(made.json()["path"])
    assert feed.status_code == 200
    assert b"X-WR-CALNAME" in feed.content
    link = people["coach"].get("/api/hall/links").json()[0]
    assert people["coach"].post(f"/api/links/{link['id']}/revoke").status_code == 200
    assert fresh().get(made.json()["path"]).status_code == 404


def test_a_hall_that_is_another_ones_is_not_begun_again(people: dict[str, TestClient]) -> None:
    """An id that stands for somebody's hall opens nothing, and one's own hall makes nobody its owner."""
    hall = people["owner"].get("/api/me").json()["hall"]["id"]
    # ids of halls are of version 7, as a caller makes them
    body = {"id": hall, "name": "Mine now", "time_zone": "UTC"}
    assert people["other"].post("/api/hall/new", json=body).status_code == 409
    assert people["other"].get("/api/trainees").json() == []
    answer = people["assistant"].post("/api/hall/new", json=body)
    assert (answer.status_code, answer.json()["role"]) == (201, "assistant")
    assert people["assistant"].get("/api/me").json()["hall"]["name"] != "Mine now"


def test_who_is_no_owner_any_more_changes_nobody(people: dict[str, TestClient]) -> None:
    """A request that was on its way while its owner was made a coach is asked again under the lock."""
    from wise_perch.store import halls
    from wise_perch.store.errors import Conflict

    pool = people["owner"].app.state.perch.pool  # type: ignore[attr-defined]
    me = people["owner"].get("/api/me").json()
    ids = {p["role"]: p["id"] for p in people["owner"].get("/api/hall").json()["people"]}
    assert (
        people["owner"]
        .post(f"/api/hall/people/{ids['coach']}/hand-over", json={"present": PASSWORD})
        .status_code
        == 204
    )
    was = Member(coach=UUID(me["id"]), hall=UUID(me["hall"]["id"]), role="owner")
    with pytest.raises(Conflict, match="no owner"), transaction(pool, member=was) as db:
        halls.hold_as_owner(db, was.coach)


def test_who_is_taken_out_hears_no_more(people: dict[str, TestClient]) -> None:
    """The stream of changes ends with the membership: who may listen is asked again as people change."""
    import asyncio

    from wise_perch.api.auth import known_coach
    from wise_perch.api.routes.changes import _tell

    app = people["owner"].app.state.perch  # type: ignore[attr-defined]
    hall = people["owner"].get("/api/me").json()["hall"]["id"]
    ids = {p["role"]: p["id"] for p in people["owner"].get("/api/hall").json()["people"]}
    cookie = people["coach"].cookies[auth.COOKIE]

    class Connected:
        async def is_disconnected(self) -> bool:
            return False

    def may_still() -> bool:
        return known_coach(app, cookie, None).hall is not None

    async def hear() -> list[str]:
        told = _tell(Connected(), app, hall, may_still)  # type: ignore[arg-type]
        heard = [await anext(told)]
        await asyncio.to_thread(people["owner"].post, f"/api/hall/people/{ids['coach']}/take-out")
        heard += [said async for said in told]
        return heard

    loop = app.listener._loop
    assert loop is not None
    assert asyncio.run_coroutine_threadsafe(hear(), loop).result(60) == ["retry: 2000\n\n"]


def test_the_history_says_what_the_trainee_told_and_what_it_leaves_out(
    people: dict[str, TestClient], owner: psycopg.Connection, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A session told on the own page is the trainee's; a week that holds more than is shown says so."""
    from wise_perch.store import halls

    trainee = str(uuid7())
    people["owner"].post("/api/trainees", json={"id": trainee, "name": "Tilda Moor"})
    owner.execute(
        "insert into floor_session (hall_id, id, trainee_id, day, started_at, source, sheet, author_id)"
        " select hall_id, gen_random_uuid(), id, current_date, now(), 'self', '{}', author_id from trainee"
    )
    page = people["coach"].get("/api/hall/history").json()
    assert ("Tilda Moor", "told of a session on the own page") in [
        (d["by"], d["what"]) for d in page["deeds"]
    ]
    assert page["more"] is False
    monkeypatch.setattr(halls, "MOST_DEEDS", 1)
    page = people["coach"].get("/api/hall/history").json()
    assert (len(page["deeds"]), page["more"]) == (1, True)
    assert people["coach"].get("/api/hall/history?last=9999-12-31").status_code == 422
