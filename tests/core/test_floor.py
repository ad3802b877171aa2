"""A session as it runs: how it changes with the day, with pain and by hand, what it comes to, and the same in
the browser.
"""

import json
import subprocess
from dataclasses import asdict
from datetime import UTC, datetime, timedelta
from pathlib import Path
from random import Random
from uuid import UUID, uuid5

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.planning import SYLLABUS, TODAY, advanced, asked_for, done, planned, somebody, wished
from tests.core.test_protocol import node
from tests.core.test_standing import proven_below
from wise_perch.core.dose.dose import asked_of
from wise_perch.core.floor.kept_session import KeptEvent
from wise_perch.core.floor.session_sheet import lay_out_session
from wise_perch.core.floor.story import tell_blocks
from wise_perch.core.floor.to_evidence import evidence_of_block
from wise_perch.core.floor.walk import FloorEvent, FloorSheet, Pain, walk_session
from wise_perch.core.trade.evidence import Form, Measure
from wise_perch.core.trade.session_lookup import joint_kind
from wise_perch.core.week.week_plan import Pin, monday_of
from wise_perch.machine.browser_side import ensure_packages
from wise_perch.machine.places import WEB

SESSION = UUID("01a211c7-0ad1-7510-8161-549717496ebd")


def sheet_for(
    *pieces: object,
    goals: tuple[str, ...] = ("freestanding-hold", "strict-push"),
    pins: tuple[str, ...] = (),
    minutes: int = 60,
) -> FloorSheet:
    asked = asked_for(*pieces, goals=goals)  # type: ignore[arg-type]
    day = monday_of(TODAY) + timedelta(weeks=1)
    week = planned(asked, wished(minutes, days=(0,), pins=[Pin(day=day, drill=p) for p in pins]))
    return lay_out_session(week.days[0], asked.case)  # type: ignore[arg-type]


SHEET = sheet_for(*advanced(), done("raised-pike-push-up", 5, ago=2, cm=30))


def slot_of(sheet: FloorSheet, kind: str = "work", *, way: str = "") -> int:
    return next(
        n
        for n, s in enumerate(sheet.slots)
        if s.kind == kind and (not way or ((d := sheet.variants[s.planned].dose) and d.way == way))
    )


def one_set(
    n: int, value: float = 5, form: Form = Form.CLEAN, sheet: FloorSheet = SHEET, **more: object
) -> FloorEvent:
    key = more.pop("key", "") or sheet.slots[n].planned
    return FloorEvent(kind="set", slot=n, key=str(key), value=value, form=form, **more)  # type: ignore[arg-type]


def test_a_session_goes_block_by_block_as_sets_are_done() -> None:
    """Each block waits for its sets; once they are done the next one is under way, and at the end none is."""
    events: list[FloorEvent] = []
    for n, slot in enumerate(SHEET.slots):
        assert walk_session(SHEET, events).present == n
        dose = SHEET.variants[slot.planned].dose
        events += (
            [one_set(n) for _ in range(dose.sets * dose.sides)] if dose else [FloorEvent(kind="next", slot=n)]
        )
    now = walk_session(SHEET, events)
    assert now.present is None
    assert {s.status for s in now.slots} == {"done"}


def test_a_poor_day_goes_to_the_rung_behind_and_says_so() -> None:
    """Energy of 2 puts the rung behind in every working block, in the fewest sets; 3 changes nothing; 5
    offers the rung ahead.
    """
    poor, usual, good = (walk_session(SHEET, [FloorEvent(kind="ready", energy=e)]) for e in (2, 3, 5))
    assert usual == walk_session(SHEET, [])
    for slot, now in zip(SHEET.slots, poor.slots, strict=True):
        if slot.kind == "work":
            assert now.key == (slot.back or slot.planned)
            dose = SHEET.variants[now.key].dose
            assert dose is not None
            assert now.sets == dose.least * dose.sides
            assert now.why == (SHEET.changes.poor if slot.back else SHEET.changes.fewer)
        else:
            assert now.why == ""
    assert [n.key for n in good.slots] == [s.planned for s in SHEET.slots]
    assert all(
        (now.why == SHEET.changes.good) == bool(slot.kind == "work" and slot.ahead)
        for slot, now in zip(SHEET.slots, good.slots, strict=True)
    )


def test_low_confidence_takes_the_setting_for_the_shy() -> None:
    """Confidence of 2 goes lower or farther out where a drill upside down has such a setting."""
    sheet = sheet_for(
        *[p for own in proven_below("chest-to-wall-hold") for p in own], pins=("chest-to-wall-hold",)
    )
    n = next(
        n
        for n, s in enumerate(sheet.slots)
        if sheet.variants[s.planned].drill == "chest-to-wall-hold" and s.kind == "work"
    )
    now = walk_session(sheet, [FloorEvent(kind="ready", confidence=2)]).slots[n]
    dose = sheet.variants[now.key].dose
    assert dose is not None
    assert dose.dial is not None
    assert dose.dial.setting == 60
    assert now.why == sheet.changes.shy


def test_low_confidence_today_counts_whatever_was_told_before() -> None:
    """A good word of last week does not keep a drill at its setting when today's is low."""
    before = [p for own in proven_below("chest-to-wall-hold") for p in own]
    sheet = sheet_for(
        *before,
        done("chest-to-wall-hold", 30, ago=4, cm=40, confidence=5),
        done("chest-to-wall-hold", 30, ago=2, cm=30, confidence=5),
        pins=("chest-to-wall-hold",),
    )
    n = next(
        n
        for n, s in enumerate(sheet.slots)
        if sheet.variants[s.planned].drill == "chest-to-wall-hold" and s.kind == "work"
    )
    usual = sheet.variants[sheet.slots[n].planned].dose
    now = walk_session(sheet, [FloorEvent(kind="ready", confidence=2)]).slots[n]
    dose = sheet.variants[now.key].dose
    assert usual
    assert usual.dial
    assert dose
    assert dose.dial
    assert usual.dial.setting < dose.dial.setting < 60
    assert now.why == sheet.changes.shy


@pytest.mark.parametrize(("level", "sharp"), [(4, False), (9, False), (1, True)])
def test_much_or_sharp_pain_leaves_nothing_that_loads_the_joint(level: int, sharp: bool) -> None:
    """From 4 on, or where it is sharp, every waiting block that loads the joint is dropped with its reason;
    what is done stays done.
    """
    n = slot_of(SHEET)
    before = [FloorEvent(kind="next", slot=k) for k in range(n)]
    now = walk_session(
        SHEET,
        [*before, FloorEvent(kind="pain", pains=(Pain(joint="right wrist", level=level, sharp=sharp),))],
    )
    for k, state in enumerate(now.slots):
        loads = "wrist" in SHEET.variants[state.key].joints
        assert state.status == ("done" if k < n else "dropped" if loads else "waiting")
        if state.status == "dropped":
            assert SHEET.changes.much in state.why


def test_some_pain_puts_less_weight_on_the_hands() -> None:
    """Pain of 2 puts the lighter variant in place where there is one, and drops what has none; nothing
    lighter stands twice.
    """
    now = walk_session(SHEET, [FloorEvent(kind="pain", pains=(Pain(joint="left wrist", level=2),))])
    keys = [
        s.key
        for slot, s in zip(SHEET.slots, now.slots, strict=True)
        if slot.kind == "work" and s.status == "waiting" and "wrist" in SHEET.variants[s.key].joints
    ]
    assert keys
    assert len(keys) == len(set(keys))
    for slot, state in zip(SHEET.slots, now.slots, strict=True):
        planned_ = SHEET.variants[slot.planned]
        if slot.kind == "work" and "wrist" in planned_.joints:
            assert state.key == planned_.lighter or state.status == "dropped"
            assert "Left wrist 2 of 10" in state.why


def test_pain_of_nothing_changes_nothing() -> None:
    """A joint told with 0 is well."""
    assert walk_session(
        SHEET, [FloorEvent(kind="pain", pains=(Pain(joint="left wrist", level=0),))]
    ) == walk_session(SHEET, [])


def test_the_staircase_moves_within_the_session() -> None:
    """Two clean reps move the dial a step harder for the next set, a miss a step easier, and it stays within
    its settings.
    """
    sheet = sheet_for(
        *[p for own in proven_below("partial-press-wall") for p in own],
        goals=("straddle-press",),
        pins=("partial-press-wall",),
    )
    n = slot_of(sheet, way="staircase")
    at = walk_session(sheet, []).slots[n].at
    assert at is not None
    up = walk_session(sheet, [one_set(n, 2, sheet=sheet)]).slots[n].at
    down = (
        walk_session(sheet, [one_set(n, 2, sheet=sheet), one_set(n, 0, Form.LOST, sheet=sheet)]).slots[n].at
    )
    assert (up, down) == (at + 1, at)
    low = walk_session(sheet, [one_set(n, 0, Form.LOST, sheet=sheet) for _ in range(20)]).slots[n].at
    assert low == 0


def test_a_rung_ahead_only_where_it_is_open() -> None:
    """The rung ahead is an open drill, or empty with the sentence that says what opens it; a rung back is
    always open.
    """
    every = asked_for(*advanced(), goals=("freestanding-hold",)).case.drills
    for slot in SHEET.slots:
        if slot.kind == "work":
            assert bool(slot.ahead) != bool(slot.ahead_closed) or not slot.ahead
            for key in filter(None, (slot.ahead, slot.back, *slot.swaps)):
                assert every[SHEET.variants[key].drill].open


def test_nothing_leaves_the_wall_in_a_session_that_showed_no_exit() -> None:
    """With no exit in the day no block goes over to open floor, and the rung ahead says that exits come
    first.
    """
    sheet = sheet_for(*advanced(), goals=("strict-push",), minutes=30)
    assert not any(sheet.variants[s.planned].drill in SYLLABUS.sessions.rehearsal.drills for s in sheet.slots)
    ways = [k for s in sheet.slots for k in (s.back, s.ahead, *s.swaps) if k]
    assert ways
    assert not any(SYLLABUS.drills[sheet.variants[k].drill].away for k in ways)


def test_swapping_keeps_what_was_done() -> None:
    """After one set another drill takes the rest of the block; a block that is done is not chosen again."""
    n = slot_of(SHEET)
    other = SHEET.slots[n].back or SHEET.slots[n].swaps[0]
    now = walk_session(
        SHEET, [one_set(n), FloorEvent(kind="choose", slot=n, key=other, how="Swapped.")]
    ).slots[n]
    assert (now.key, now.done, now.status, now.why) == (other, 1, "waiting", "Swapped.")
    over = walk_session(
        SHEET, [FloorEvent(kind="skip", slot=n), FloorEvent(kind="choose", slot=n, key=other)]
    ).slots[n]
    assert over.status == "skipped"
    assert over.key == SHEET.slots[n].planned


def test_the_story_tells_planned_and_done() -> None:
    """Sets, tries, skipped and dropped blocks are each told in their own words."""
    n = slot_of(SHEET)
    events = [
        one_set(n, 7),
        one_set(n, 6, Form.LOOSE),
        FloorEvent(kind="next", slot=n),
        FloorEvent(kind="skip", slot=n + 1),
    ]
    story = tell_blocks(SHEET, events)
    single = SHEET.variants[SHEET.slots[n].planned].dose
    assert single is not None
    assert story[n].done == {"stretch": "2 sets", "singles": "13 of 2"}.get(single.way, "7, 6 loose")
    assert story[n + 1].done == "left out"
    assert story[0].done == "not begun"


def test_a_block_that_another_drill_took_over_tells_both() -> None:
    """One set of the planned drill, then one of another: each stands with its own name and figure, and no
    gate is asked of what stands in.
    """
    n = next(
        k
        for k, s in enumerate(SHEET.slots)
        if s.kind == "work" and s.back and (d := SHEET.variants[s.planned].dose) and d.way in ("hold", "reps")
    )
    other = SHEET.slots[n].back
    events = [
        one_set(n, 7),
        FloorEvent(kind="choose", slot=n, key=other, how="One rung back."),
        one_set(n, 4, key=other),
    ]
    titles = [SHEET.variants[k].title.lower() for k in (SHEET.slots[n].planned, other)]
    assert tell_blocks(SHEET, events)[n].done.startswith(f"{titles[0]} 7 s, {titles[1]} ")
    stand_ins = {k for s in SHEET.slots for k in (s.back, s.ahead, *s.swaps) if k and " " not in k}
    assert all(v.dose is None or v.dose.first is None for k, v in SHEET.variants.items() if k in stand_ins)


# --- evidence -----------------------------------------------------------------------------------------------


def kept(*events: FloorEvent, struck: tuple[int, ...] = ()) -> list[KeptEvent]:
    moment = datetime(2026, 6, 1, 17, tzinfo=UTC)
    return [
        KeptEvent(
            id=uuid5(SESSION, str(n)),
            at=moment + timedelta(minutes=n),
            what=e,
            struck_at=moment if n in struck else None,
        )
        for n, e in enumerate(events)
    ]


def test_single_tries_come_to_k_of_n_and_are_counted_again_when_one_is_taken_back() -> None:
    """Three good of four is one piece of evidence; with a miss taken back it is three of three, under the
    same id.
    """
    sheet = sheet_for(*[p for own in proven_below("wall-kick-up") for p in own], pins=("wall-kick-up",))
    n = next(k for k, s in enumerate(sheet.slots) if sheet.variants[s.planned].drill == "wall-kick-up")
    events = [one_set(n, v, sheet=sheet) for v in (1, 0, 1, 1)]
    whole = evidence_of_block(sheet, kept(*events), n, session=SESSION, syllabus=SYLLABUS)
    assert [(p.value, p.n, p.measure) for p in whole.pieces] == [(3, 4, Measure.RATE)]
    assert whole.pieces[0].id not in whole.gone
    less = evidence_of_block(sheet, kept(*events, struck=(1,)), n, session=SESSION, syllabus=SYLLABUS)
    assert [(p.id, p.value, p.n) for p in less.pieces] == [(whole.pieces[0].id, 3, 3)]
    none = evidence_of_block(sheet, kept(*events, struck=(0, 1, 2, 3)), n, session=SESSION, syllabus=SYLLABUS)
    assert none.pieces == ()
    assert whole.pieces[0].id in none.gone


def test_a_float_needs_three_for_its_average_and_ten_seconds_are_the_ceiling() -> None:
    """Two holds come to nothing; three to their average, credited to 10 s each, as clean as the worst of
    them.
    """
    sheet = sheet_for(
        *[p for own in proven_below("heel-float") for p in own],
        done("heel-float", 6, ago=2),
        pins=("heel-float",),
    )
    n = next(k for k, s in enumerate(sheet.slots) if sheet.variants[s.planned].drill == "heel-float")
    two = evidence_of_block(
        sheet,
        kept(one_set(n, 8, sheet=sheet), one_set(n, 9, sheet=sheet)),
        n,
        session=SESSION,
        syllabus=SYLLABUS,
    )
    assert two.pieces == ()
    events = kept(
        one_set(n, 8, sheet=sheet), one_set(n, 14, sheet=sheet), one_set(n, 9.1, Form.LOOSE, sheet=sheet)
    )
    (piece,) = evidence_of_block(sheet, events, n, session=SESSION, syllabus=SYLLABUS).pieces
    assert (piece.value, piece.mode, piece.form) == (9.0, "average of three", Form.LOOSE)


def test_a_set_carries_its_setting_side_and_the_days_confidence() -> None:
    """One set is one piece under the event's own id; a round's wall hold is a piece beside it."""
    ready = FloorEvent(kind="ready", confidence=4)
    sheet = sheet_for(
        *advanced(), done("raised-pike-push-up", 6, ago=2, cm=30), pins=("raised-pike-push-up",)
    )
    n = slot_of(sheet, way="rounds")
    events = kept(ready, one_set(n, 5, sheet=sheet, setting=35.0, then_value=30.0))
    found = evidence_of_block(sheet, events, n, session=SESSION, syllabus=SYLLABUS).pieces
    assert [(p.drill, p.value, p.confidence) for p in found] == [
        ("raised-pike-push-up", 5, 4),
        ("back-to-wall-hold", 30, 4),
    ]
    assert found[0].id == events[1].id
    assert found[0].dial == {"surface-height": 35.0}
    assert len({p.id for p in found}) == 2


# --- any session --------------------------------------------------------------------------------------------

JOINTS = SYLLABUS.rules.joints


def any_events(sheet: FloorSheet, dice: Random, most: int = 14) -> list[FloorEvent]:
    """What may happen, in any order, now and then about a block that is not there."""
    found: list[FloorEvent] = []
    for _ in range(dice.randrange(0, most)):
        n = dice.randrange(0, len(sheet.slots) + 1)
        key = dice.choice([*sheet.variants, "no such"])
        pains = tuple(
            Pain(joint=j, level=dice.randrange(0, 11), sharp=dice.random() < 0.1)
            for j in dice.sample(JOINTS, dice.randrange(0, 3))
        )
        kind = dice.choice(["set", "set", "set", "set", "ready", "choose", "skip", "next", "pain"])
        found.append(
            FloorEvent(
                kind=kind,  # type: ignore[arg-type]
                slot=n,
                key=key,
                how=dice.choice(["", "Swapped."]),
                value=dice.choice([None, 0, 1, 2, 5.5]),
                form=dice.choice([None, *Form]),
                energy=dice.choice([None, 1, 2, 3, 5]),
                confidence=dice.choice([None, 1, 3]),
                pains=pains,
            )
        )
    return found


SHEETS = [
    SHEET,
    *(
        sheet_for(*somebody(Random(s)), goals=(goal,))
        for s, goal in enumerate(("straddle-press", "linked-kip", "hand-walk"))
    ),
]


@settings(max_examples=60, database=None)
@given(seed=st.integers(0, 10_000))
def test_nothing_that_happens_undoes_what_was_done_or_loads_a_joint_that_hurts(seed: int) -> None:
    """Sets done never fall, dials stay on their settings, and after much pain nothing that waits loads the
    joint until it is told to be well.
    """
    dice = Random(seed)
    sheet = dice.choice(SHEETS)
    events = any_events(sheet, dice)
    before, stopped = walk_session(sheet, []), set[str]()
    for n in range(1, len(events) + 1):
        now = walk_session(sheet, events[:n])
        for was, state in zip(before.slots, now.slots, strict=True):
            assert state.done >= was.done or events[n - 1].kind in ("ready", "pain")
            dose = sheet.variants[state.key].dose
            if state.at is not None:
                assert dose is not None
                assert dose.dial is not None
                assert 0 <= state.at < len(dose.dial.steps)
        last = events[n - 1]
        for pain in last.pains if last.kind in ("pain", "ready") else ():
            if pain.level >= sheet.changes.stops_at or pain.sharp:
                stopped.add(joint_kind(pain.joint))
            elif pain.level == 0:
                stopped.discard(joint_kind(pain.joint))
        assert set(now.spared) == stopped
        assert not any(
            stopped & set(sheet.variants[s.key].joints) for s in now.slots if s.status == "waiting"
        )
        before = now


@pytest.mark.parametrize("joint", ["left wrist", "right shoulder", "left elbow"])
def test_the_same_drill_stands_in_only_once(joint: str) -> None:
    """Where a joint aches, what is lighter stands in one block; another that would get it too is dropped and
    says so.
    """
    now = walk_session(SHEET, [FloorEvent(kind="ready", energy=3, pains=(Pain(joint=joint, level=2),))])
    changed = [
        (n, s) for n, s in enumerate(now.slots) if s.status == "waiting" and s.key != SHEET.slots[n].planned
    ]
    assert changed
    waiting = [SHEET.variants[s.key].drill for s in now.slots if s.status == "waiting" and s.key]
    for n, s in changed:
        drill = SHEET.variants[s.key].drill
        assert waiting.count(drill) == 1, (n, drill)
    dropped = [s.why for s in now.slots if s.status == "dropped"]
    assert any("what would be lighter stands in the session already" in why for why in dropped)


# --- the same in the browser --------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def walker(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The browser's own walker, compiled as it stands, with a few lines around it that read sessions and
    write where they stand.
    """
    ensure_packages()
    folder = tmp_path_factory.mktemp("floor")
    source = WEB / "src/live/floor.ts"
    made = [
        *node(),
        str(WEB / "node_modules/typescript/bin/tsc"),
        str(source),
        "--outDir",
        str(folder),
        "--module",
        "es2022",
        "--target",
        "es2022",
    ]
    subprocess.run(
        [*made, "--skipLibCheck", "--moduleResolution", "bundler"], check=False, capture_output=True
    )
    (found,) = folder.rglob("floor.js")
    (folder / "package.json").write_text('{"type": "module"}')
    ask = folder / "ask.js"
    ask.write_text(
        f"import {{ askedOf, walkFloor }} from {json.dumps(str(found))};\n"
        "let text = ''; for await (const chunk of"
        " process.stdin) text += chunk;\nconst { sheets, asked } = JSON.parse(text);\nconst said ="
        " asked.map(({ sheet, events }) => {\n  const now = walkFloor(sheets[sheet], events);\n  return"
        " [now.present, now.spared, now.slots.map((s) => [s.key, s.sets, s.done, s.status, s.at,"
        " s.why])];\n});\nconst doses = sheets.map((sheet) => Object.values(sheet.variants).flatMap((v) =>"
        " v.dose ? [[v.key, [0, 1, 2].map((n) => askedOf(v.dose, n))]] : []));\n"
        "console.log(JSON.stringify([said, doses]));\n"
    )
    return ask


def test_the_browser_walks_a_session_as_the_core_does(walker: Path) -> None:
    """Eight hundred sessions, walked here and by the browser's own code, stand at the same place for the same
    reasons; and every dose asks the same of its sets.
    """
    dice = Random(11)
    asked = [(n, any_events(sheet, dice)) for n, sheet in enumerate(SHEETS) for _ in range(200)]
    expected = []
    for n, events in asked:
        now = walk_session(SHEETS[n], events)
        expected.append(
            [
                now.present,
                list(now.spared),
                [[s.key, s.sets, s.done, s.status, s.at, s.why] for s in now.slots],
            ]
        )
    sent = {
        "sheets": [asdict(s) for s in SHEETS],
        "asked": [{"sheet": n, "events": [asdict(e) for e in events]} for n, events in asked],
    }
    text = json.dumps(sent, default=str)
    answer = subprocess.run([*node(), str(walker)], input=text, capture_output=True, text=True, check=True)
    doses = [
        [[v.key, [asked_of(v.dose, done=n) for n in range(3)]] for v in sheet.variants.values() if v.dose]
        for sheet in SHEETS
    ]
    assert len({str(asked) for sheet in doses for _, asked in sheet}) > 5, "of several kinds"
    said, same = json.loads(answer.stdout)
    assert said == expected
    assert same == doses
