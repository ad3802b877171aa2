"""Goals, waivers, schools, the intake, a coach's own syllabus and evidence files, through the api."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import psycopg
import pytest
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from tests.api.conftest import Bench, now
from wise_perch.syllabus.shipped import built_in, our_text

INTAKE = built_in().intake
NO = {q.caution: False for q in INTAKE.cautions}


def page(bench: Bench) -> Any:
    return bench.client.get(f"/api/trainees/{bench.trainee}").json()


def drill(bench: Bench, name: str) -> Any:
    answer = bench.client.get(f"/api/trainees/{bench.trainee}/drills/{name}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def add_set(bench: Bench, name: str, value: float, **more: Any) -> Any:
    body = {"id": str(uuid7()), "at": now(), "value": value, "form": "clean", **more}
    return bench.client.post(f"/api/trainees/{bench.trainee}/drills/{name}/sets", json=body)


def intake(bench: Bench, **more: Any) -> Any:
    body = {"id": str(uuid7()), "at": now(), "stature_cm": 170, "cautions": NO, **more}
    return bench.client.post(f"/api/trainees/{bench.trainee}/intake", json=body)


# --- goals and waivers --------------------------------------------------------------------------------------


def test_goals_are_chosen_in_order_and_dropped(bench: Bench) -> None:
    """The first goal leads; a goal left out goes and may come back; an unknown one is refused and nothing
    changes.
    """
    url = f"/api/trainees/{bench.trainee}/goals"
    assert bench.client.put(url, json={"goals": ["hand-walk", "strict-push"]}).status_code == 204
    assert [g["goal"] for g in page(bench)["goals"]] == ["hand-walk", "strict-push"]
    assert bench.client.put(url, json={"goals": ["fly"]}).status_code == 422
    assert bench.client.put(url, json={"goals": ["strict-push"]}).status_code == 204
    shown = page(bench)
    assert [g["goal"] for g in shown["goals"]] == ["strict-push"]
    assert shown["next_steps"][0]["label"] == "Work on now"
    assert bench.client.put(url, json={"goals": ["hand-walk", "strict-push"]}).status_code == 204
    assert [g["goal"] for g in page(bench)["goals"]] == ["hand-walk", "strict-push"]


def test_a_waiver_counts_is_shown_and_is_taken_back(bench: Bench, owner: psycopg.Connection) -> None:
    """Waiving opens the rung above, needs a reason, is kept once, and stays on record when taken back."""
    url = f"/api/trainees/{bench.trainee}/waivers"
    body = {"id": str(uuid7()), "at": now(), "drill": "low-surface-hold", "reason": "seen elsewhere"}
    assert bench.client.post(url, json={**body, "reason": " "}).status_code == 422
    assert [bench.client.post(url, json=body).status_code for _ in range(2)] == [201, 201]
    assert bench.client.post(url, json={**body, "id": str(uuid7())}).status_code == 409
    assert bench.client.post(url, json={**body, "id": str(uuid7()), "drill": "no-such"}).status_code == 404
    shown = drill(bench, "low-surface-hold")
    assert (shown["standing"]["state"], shown["waiver"]["reason"]) == ("waived", "seen elsewhere")
    assert drill(bench, "shoulder-rocks")["standing"]["open"] is True
    assert bench.client.post(f"/api/waivers/{body['id']}/take-back").status_code == 204
    assert drill(bench, "shoulder-rocks")["standing"]["open"] is False
    assert owner.execute("select reason, struck_at is not null from waiver").fetchall() == [
        ("seen elsewhere", True)
    ]


def test_a_drill_is_recorded_in_each_of_its_ways(bench: Bench) -> None:
    """A wall walk takes reps and a hold, a float takes touches in a window; another measure is refused."""
    assert add_set(bench, "wall-walk", 3).status_code == 201
    assert drill(bench, "wall-walk")["standing"]["state"] == "not yet"
    assert add_set(bench, "wall-walk", 21, measure="hold").status_code == 201
    assert drill(bench, "wall-walk")["standing"]["state"] == "met"
    assert add_set(bench, "heel-float", 4, measure="touches", window_s=15).status_code == 201
    assert [s["reached"] for s in drill(bench, "heel-float")["standing"]["stages"]] == [
        True,
        True,
        False,
        False,
    ]
    refused = add_set(bench, "heel-float", 4, measure="angle")
    assert (refused.status_code, "not measured so" in refused.json()["detail"]) == (422, True)
    assert add_set(bench, "lowering-to-floor", 6, dial_value=-2).status_code == 201
    assert drill(bench, "lowering-to-floor")["standing"]["state"] == "met"


# --- intake and schools -------------------------------------------------------------------------------------


def test_the_intake_is_kept_whole_and_every_one_of_them(bench: Bench, owner: psycopg.Connection) -> None:
    """Lengths are estimates until measured, first tests follow, and a second intake does not write over the
    first.
    """
    url = f"/api/trainees/{bench.trainee}/intake"
    assert bench.client.get(url).json()["first_tests"] is None
    assert intake(bench, experience=["wall-hold"], kit=["wall"], confidence=2).status_code == 201
    shown = bench.client.get(url).json()
    assert {x["length"]: x["estimated"] for x in shown["lengths"]}["arm"] is True
    assert "Wall hold" in [t["title"] for t in shown["first_tests"]["one_day"]["tests"]]
    assert intake(bench, stature_cm=171, lengths_cm={"arm": 75.0}).status_code == 201
    assert {x["length"]: x["estimated"] for x in bench.client.get(url).json()["lengths"]}["arm"] is False
    assert owner.execute("select count(*) from intake").fetchone() == (2,)


@pytest.mark.parametrize(
    ("more", "said"),
    [
        ({"stature_cm": 1.72}, "looks like metres"),
        ({"stature_cm": 400}, "outside 90 to 230 cm"),
        ({"mass_kg": 1}, "outside 20 to 200 kg"),
        ({"cautions": {}}, "Not answered yet: High blood pressure?"),
        ({"cautions": {**NO, "luck": True}}, "no caution named luck"),
        ({"kit": ["trampoline"]}, "no kit named trampoline"),
        ({"experience": ["flight"]}, "no experience named flight"),
        ({"lengths_cm": {"tail": 9}}, "no length named tail"),
    ],
)
def test_an_intake_that_cannot_be_is_refused_with_a_reason(
    bench: Bench, more: dict[str, Any], said: str
) -> None:
    """Metres for centimetres, questions left open, names that are not there: a sentence for each, and nothing
    kept.
    """
    refused = intake(bench, **more)
    assert (refused.status_code, said in refused.json()["detail"]) == (422, True), refused.text
    assert bench.client.get(f"/api/trainees/{bench.trainee}/intake").json()["profile"] is None


def test_nothing_upside_down_until_the_coach_confirms(bench: Bench) -> None:
    """A yes closes every inverted drill, on the page, on Today and on the bench; the confirmation opens
    them.
    """
    assert intake(bench, cautions={**NO, "reflux": True}).status_code == 201
    assert drill(bench, "low-surface-hold")["standing"]["open"] is False
    assert "clinician" in drill(bench, "low-surface-hold")["why_not"]
    assert drill(bench, "tuck-hollow-hold")["standing"]["open"] is True
    assert [q["caution"] for q in page(bench)["uncleared"]] == ["reflux"]
    matter = bench.client.get("/api/today").json()[0]["brief"]["matters"][0]
    assert (matter["kind"], "reflux" in matter["sentence"]) == ("cleared", True)
    assert bench.client.get(f"/api/trainees/{bench.trainee}/bench/free-tries").json()["uncleared"]
    assert intake(bench, cautions={**NO, "reflux": True}, cleared=True).status_code == 201
    assert drill(bench, "low-surface-hold")["standing"]["open"] is True
    assert bench.client.get("/api/today").json()[0]["brief"]["matters"][0]["kind"] == "next"


def test_schools_hold_for_all_with_exceptions(bench: Bench) -> None:
    """The coach's school turns the order for everybody; an exception turns it back for one; a strange one is
    refused.
    """

    def rungs() -> list[str]:
        (line,) = [x for x in page(bench)["standing"]["lines"] if x["line"] == "inversion"]
        return [d["drill"] for rung in line["rungs"] for d in rung]

    usual = rungs()
    assert usual.index("back-to-wall-hold") > usual.index("chest-to-wall-hold")
    assert bench.client.patch("/api/me", json={"schools": {"wall-first": "back-first"}}).json()[
        "schools"
    ] == {"wall-first": "back-first"}
    turned = rungs()
    assert turned.index("back-to-wall-hold") < turned.index("chest-to-wall-hold")
    own = f"/api/trainees/{bench.trainee}/schools"
    assert bench.client.put(own, json={"schools": {"wall-first": "chest-first"}}).status_code == 204
    assert rungs() == usual
    assert bench.client.put(own, json={"schools": {"wall-first": "none"}}).status_code == 422
    assert bench.client.patch("/api/me", json={"schools": {"diet": "any"}}).status_code == 422
    assert bench.client.get(own).json()["trainee"] == {"wall-first": "chest-first"}


# --- a coach's own syllabus ---------------------------------------------------------------------------------


def harder(name: str, value: float) -> dict[str, Any]:
    return {
        "drill": name,
        "change": {"drill": name, "gate": {"measure": "hold", "value": value, "origin": "ours"}},
    }


def try_out(bench: Bench, *edits: dict[str, Any]) -> Any:
    answer = bench.client.post("/api/syllabus/try", json={"edits": edits})
    assert answer.status_code == 200, answer.text
    return answer.json()


def keep(bench: Bench, *edits: dict[str, Any], base: str | None = None, id: str | None = None) -> Any:
    return bench.client.post(
        "/api/syllabus/versions",
        json={"id": id or str(uuid7()), "base": base, "edits": edits, "note": "test"},
    )


def test_an_edit_is_tried_before_it_is_kept(bench: Bench) -> None:
    """The trial says what changes for whom and keeps nothing; kept, the trainee's page follows."""
    assert add_set(bench, "low-surface-hold", 32).status_code == 201
    trial = try_out(bench, harder("low-surface-hold", 40))
    assert trial["problems"] == []
    assert [e["name"] for e in trial["effects"]] == ["Tilda Moor"]
    assert "Low-surface hold: met becomes not yet" in trial["effects"][0]["changes"][0]["sentence"]
    assert drill(bench, "low-surface-hold")["standing"]["state"] == "met"
    assert keep(bench, harder("low-surface-hold", 40)).status_code == 201
    assert drill(bench, "low-surface-hold")["standing"]["state"] == "not yet"
    assert bench.client.get("/api/today").json()[0]["brief"]["matters"][0]["kind"] == "next"
    assert [
        (d["drill"], d["part"], d["before"], d["after"])
        for d in bench.client.get("/api/syllabus/compare").json()
    ] == [("low-surface-hold", "gate", "30 s", "40 s")]


def test_a_failing_check_keeps_an_edit_out(bench: Bench) -> None:
    """Retiring a drill that others wait for fails with the line it breaks, in the trial and at keeping."""
    edit = {"drill": "shoulder-rocks", "retired": True}
    assert try_out(bench, edit)["problems"] == []
    edit = {"drill": "free-exit", "retired": True}
    trial = try_out(bench, edit)
    assert trial["problems"]
    first = trial["problems"][0]
    assert "free-exit" in trial["excerpts"][str(first["line"])] or "free-exit" in first["what"]
    refused = keep(bench, edit)
    assert (refused.status_code, "Nothing was kept" in refused.json()["detail"]) == (422, True)
    assert bench.client.get("/api/syllabus").json()["own"] is False


def test_two_desks_do_not_overwrite_one_another(bench: Bench) -> None:
    """Edits made on an older version are refused as such; sending a kept version again changes nothing."""
    first = str(uuid7())
    assert [keep(bench, harder("pike-hold", 40), id=first).status_code for _ in range(2)] == [201, 201]
    assert keep(bench, harder("pike-hold", 50)).status_code == 409
    assert keep(bench, harder("pike-hold", 50), base=first).status_code == 201
    assert len(bench.client.get("/api/syllabus").json()["versions"]) == 2


def test_saves_of_one_base_at_the_same_moment_leave_one(bench: Bench) -> None:
    """Of edits, a way back and a file that were all looked at on the same version one is kept, and each other
    is told what differs.
    """
    first = str(uuid7())
    assert keep(bench, harder("pike-hold", 40), id=first).status_code == 201
    other = our_text().replace("title: Pike hold\n", "title: Pike hold of the depot\n", 1)

    def back() -> Any:
        wanted = {"id": str(uuid7()), "base": first, "to": None}
        return bench.client.post("/api/syllabus/go-back", json=wanted)

    ways: list[Callable[[], Any]] = [
        lambda: keep(bench, harder("pike-hold", 50), base=first),
        lambda: keep(bench, harder("pike-hold", 60), base=first),
        back,
        lambda: send_yaml(bench, other, keep=str(uuid7()), base=first),
    ]
    with ThreadPoolExecutor(4) as many:
        answers = list(many.map(lambda way: way(), ways))
    codes = sorted(a.status_code for a in answers)
    assert codes[1:] == [409] * 3
    assert codes[0] in (200, 201)
    refused = next(a.json() for a in answers if a.status_code == 409)
    assert next(p["where"].split(", ")[0] for p in refused["problems"]).startswith("Pike hold")
    assert len(bench.client.get("/api/syllabus").json()["versions"]) == 2


def test_going_back_keeps_every_version(bench: Bench) -> None:
    """Back to an earlier version and back to ours are new versions; nothing is written over."""
    first = str(uuid7())
    keep(bench, harder("pike-hold", 40), id=first)
    keep(bench, harder("pike-hold", 50), base=first)

    def back(to: str | None) -> int:
        base = bench.client.get("/api/syllabus").json()["version"]
        wanted = {"id": str(uuid7()), "base": base, "to": to}
        return bench.client.post("/api/syllabus/go-back", json=wanted).status_code

    assert back(first) == 201
    assert drill(bench, "pike-hold")["standing"]["gate"] == "40 s"
    assert back(None) == 201
    assert drill(bench, "pike-hold")["standing"]["gate"] == "30 s"
    assert back(str(uuid7())) == 404
    assert [v["ours"] for v in bench.client.get("/api/syllabus").json()["versions"]] == [
        True,
        False,
        False,
        False,
    ]


def send_yaml(bench: Bench, text: str | bytes, keep: str | None = None, base: str | None = None) -> Any:
    data = text.encode() if isinstance(text, str) else text
    asked = {k: v for k, v in (("keep", keep), ("base", base)) if v}
    return bench.client.post("/api/syllabus.yaml", files={"file": ("own.yaml", data)}, params=asked)


def test_a_syllabus_goes_out_and_comes_in_as_yaml(bench: Bench) -> None:
    """What is exported is imported unchanged; a changed one is tried, then kept."""
    text = bench.client.get("/api/syllabus.yaml").text
    assert text == our_text()
    changed = text.replace("title: Pike hold\n", "title: Pike hold of the depot\n", 1)
    assert send_yaml(bench, changed).json()["problems"] == []
    assert bench.client.get("/api/syllabus").json()["own"] is False
    assert send_yaml(bench, changed, keep=str(uuid7())).json()["kept"] is True
    assert drill(bench, "pike-hold")["standing"]["title"] == "Pike hold of the depot"
    assert "Pike hold of the depot" in bench.client.get("/api/syllabus.yaml").text


@pytest.mark.parametrize(
    ("text", "said"),
    [
        (our_text().replace("drill: pike-hold", "drill: pike hold"), "small letters"),
        (our_text().replace("measure: hold", "measure: held", 1), "gate.measure"),
        ("nonsense", "should be a dictionary"),
        ("a: &a [*a]", "aliases"),
    ],
)
def test_a_bad_file_is_refused_with_its_lines(bench: Bench, text: str, said: str) -> None:
    """Every problem has its line, and nothing is kept even if asked to."""
    found = send_yaml(bench, text, keep=str(uuid7())).json()
    assert found["kept"] is False
    assert any(said in p["what"] and p["line"] >= 1 for p in found["problems"]), found["problems"]
    assert bench.client.get("/api/syllabus").json()["own"] is False


def test_a_file_that_is_no_text_is_refused(bench: Bench) -> None:
    """Bytes that are no UTF-8 get a sentence."""
    assert send_yaml(bench, b"\xff\xfe\x00").status_code == 422


def test_an_own_syllabus_is_the_coachs_alone(bench: Bench, owner: psycopg.Connection) -> None:
    """The row belongs to its coach, and an earlier version stays readable after a later one."""
    assert keep(bench, harder("pike-hold", 40)).status_code == 201
    assert owner.execute(
        "select count(*) from syllabus_version join hall on hall.id = hall_id"
    ).fetchone() == (1,)


# --- evidence files -----------------------------------------------------------------------------------------


def send_csv(client: TestClient, text: str, *, keep: bool) -> Any:
    return client.post(
        "/api/evidence.csv",
        files={"file": ("e.csv", text.encode())},
        params={"keep": keep, "intake_follows": True},
    )


def test_evidence_goes_out_and_comes_back_once(bench: Bench) -> None:
    """Recorded sets and what a test run says are exported; importing the same file again adds nothing."""
    add_set(bench, "low-surface-hold", 32, confidence=4, dial_value=20)
    add_set(bench, "low-surface-hold", 32, confidence=4, dial_value=20)
    run = bench.start()
    for number in range(1, 11):
        assert bench.send(run, bench.body(number, 10.5)).status_code == 201
    assert bench.end(run).status_code == 200
    text = bench.client.get("/api/evidence.csv").content.decode("utf-8-sig")
    assert text.count("low-surface-hold") == 2
    assert ",free-hold-10,rate,10,10," in text
    before = page(bench)["standing"]
    plan = send_csv(bench.client, text, keep=True).json()
    assert (plan["kept"], plan["pieces"], plan["already_kept"]) == (True, 0, text.count("\n") - 1)
    assert page(bench)["standing"] == before
    other = send_csv(bench.client, text.replace("Tilda Moor", "Orin Vale"), keep=True).json()
    assert (other["new_trainees"], other["pieces"]) == (["Orin Vale"], text.count("\n") - 1)
    (orin,) = [t for t in bench.client.get("/api/trainees").json() if t["name"] == "Orin Vale"]
    there = bench.client.get(f"/api/trainees/{orin['id']}").json()["standing"]
    assert there["lines"] == before["lines"], "the file carries the whole standing"


def test_a_file_sent_four_times_at_once_is_kept_once(bench: Bench) -> None:
    """One import of a coach after the other: each knows what the one before it has kept."""
    head = bench.client.get("/api/evidence.csv").content.decode("utf-8-sig").strip()
    rows = "".join(f"Tilda Moor,2026-05-03,pike-hold,hold,{20 + n},,,,,,clean,,,,,,\n" for n in range(40))
    with ThreadPoolExecutor(4) as many:
        plans = list(many.map(lambda _: send_csv(bench.client, f"{head}\n{rows}", keep=True), range(4)))
    assert [p.status_code for p in plans] == [200] * 4
    assert sorted(p.json()["pieces"] for p in plans) == [0, 0, 0, 40]
    assert bench.client.get("/api/evidence.csv").text.count("pike-hold") == 40


def test_one_bad_line_keeps_a_file_of_evidence_out(bench: Bench) -> None:
    """All or nothing: every bad line is named, and nothing of the good ones is kept."""
    head = bench.client.get("/api/evidence.csv").content.decode("utf-8-sig").strip()
    rows = (
        "Tilda Moor,2026-05-03,pike-hold,hold,31,,,,,,clean,,,,,,\nTilda"
        " Moor,2099-01-01,pike-hold,hold,31,,,,,,clean,,,,,,\n"
    )
    looked = send_csv(bench.client, f"{head}\n{rows}", keep=False).json()
    assert [(p["line"], "future" in p["what"]) for p in looked["problems"]] == [(3, True)]
    assert send_csv(bench.client, f"{head}\n{rows}", keep=True).status_code == 422
    assert drill(bench, "pike-hold")["standing"]["best"] is None


# --- distances ----------------------------------------------------------------------------------------------


def test_what_was_shown_by_hand_is_asked_once_and_kept(bench: Bench) -> None:
    """A distance is kept in cm and said in the trainee's own lengths; another intake and other measures leave
    it, and sending either again changes nothing; what cannot be is refused.
    """
    url = f"/api/trainees/{bench.trainee}/measures"
    first = {"id": str(uuid7()), "at": now(), "stature_cm": 170, "cautions": NO}
    assert bench.client.post(f"/api/trainees/{bench.trainee}/intake", json=first).status_code == 201

    def measures(**more: Any) -> Any:
        body = {"id": str(uuid7()), "at": now(), "stature_cm": 170, "lengths_cm": {}, **more}
        return bench.client.post(url, json=body)

    assert measures(distances_cm={"thumb-gap": 27.5}).json() == {"kept": True, "doubts": []}
    assert measures(lengths_cm={"hand": 18.4}).json()["kept"]
    assert intake(bench).status_code == 201
    assert bench.client.post(f"/api/trainees/{bench.trainee}/intake", json=first).status_code == 201
    asked = {d["distance"]: d["cm"] for d in bench.client.get(url).json()["distances"]}
    assert asked == {"thumb-gap": 27.5, "wall-float": None, "reach-feet": None}
    assert page(bench)["distances_said"] == ["Thumbs 27.5 cm apart, about 1 and a half hands."]
    assert measures(distances_cm={"nose": 3}).status_code == 422
    assert "outside 0 to 60" in measures(distances_cm={"thumb-gap": 90}).json()["detail"]
    assert measures(distances_cm={}).json()["kept"]
    assert page(bench)["distances_said"] == []


def test_a_distance_is_not_lost_to_an_intake_of_the_same_moment(bench: Bench) -> None:
    """Whichever of them comes last, what the other kept is carried over."""
    assert intake(bench).status_code == 201
    url = f"/api/trainees/{bench.trainee}/measures"
    gap = {"stature_cm": 170, "lengths_cm": {}, "distances_cm": {"thumb-gap": 12}}
    for _ in range(5):
        cleared = {"id": str(uuid7()), "at": now(), "stature_cm": 170, "distances_cm": {}}
        assert bench.client.post(url, json=cleared).status_code == 200

        def send(k: int) -> int:
            if k:
                return int(intake(bench).status_code)
            return int(bench.client.post(url, json={"id": str(uuid7()), "at": now(), **gap}).status_code)

        with ThreadPoolExecutor(6) as many:
            assert set(many.map(send, [1, 1, 0, 1, 1, 1])) == {200, 201}
        kept = {d["distance"]: d["cm"] for d in bench.client.get(url).json()["distances"]}
        assert kept["thumb-gap"] == 12
