"""Where a trainee stands: states of gates, open and closed with reasons, perches, shortfalls."""

import math
from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wise_perch.core.trade.checks import gate_setting
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Evidence, Form, Measure, Side
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trade.session_lookup import joints_of
from wise_perch.core.trainee.changes import find_changes
from wise_perch.core.trainee.marks import mark_evidence
from wise_perch.core.trainee.standing import DrillStanding, Standing, shut_by_cautions, standing
from wise_perch.core.trainee.stored import Waiver
from wise_perch.core.trainee.wall import State
from wise_perch.syllabus.shipped import in_use

SYLLABUS = in_use()
TODAY = date(2026, 5, 31)


def done(
    drill: str | Drill,
    value: float,
    *,
    ago: int = 0,
    form: Form = Form.CLEAN,
    side: Side | None = None,
    n: int | None = None,
    cm: float | None = None,
    confidence: int | None = None,
    measure: Measure | None = None,
    window_s: float | None = None,
    asked: float | None = None,
) -> Evidence:
    """One piece of evidence, measured as the drill's gate asks unless another measure is named."""
    d = drill if isinstance(drill, Drill) else SYLLABUS.drills[drill]
    gate = d.gate
    return Evidence(
        drill=d.drill,
        day=TODAY - timedelta(days=ago),
        measure=measure or gate.measure,
        value=value,
        asked=asked,
        n=n if n is not None or measure else gate.of,
        form=form,
        side=side,
        mode=None if measure else gate.mode,
        window_s=window_s if measure else gate.window_s,
        confidence=confidence,
        dial={d.dial.name: cm} if d.dial and cm is not None else {},
    )


def passing(d: Drill, *, ago: int = 0, times: float = 1.0) -> list[Evidence]:
    """Just enough to pass a drill's gate, or `times` as much where more is possible."""
    sides: tuple[Side | None, ...] = (Side.LEFT, Side.RIGHT) if d.gate.each_side else (None,)
    cm = gate_setting(d.gate)
    value = (
        d.gate.value if times == 1 or d.gate.of else -5 if d.gate.fewer else math.ceil(times * d.gate.value)
    )
    own = [done(d, value, ago=ago, side=side, cm=cm) for side in sides]
    return own + [replace(own[0], measure=g.measure, value=g.value, n=g.of, mode=g.mode) for g in d.gate.also]


def proven_below(drill: str) -> list[list[Evidence]]:
    """For every drill that a drill waits for, directly or not, two days of passing."""
    seen: dict[str, list[Evidence]] = {}
    todo = [w for need in SYLLABUS.needs[drill] for w in need.any_of]
    while todo:
        name = todo.pop()
        if name not in seen:
            seen[name] = [p for ago in (3, 0) for p in passing(SYLLABUS.drills[name], ago=ago)]
            todo += [w for need in SYLLABUS.needs[name] for w in need.any_of]
    return list(seen.values())


def stands(*pieces: Evidence, on: date = TODAY) -> Standing:
    return standing(mark_evidence(pieces, SYLLABUS), SYLLABUS, on=on)


def stand(drill: str, *pieces: Evidence, on: date = TODAY) -> DrillStanding:
    return stands(*pieces, on=on).drill(drill)


@pytest.mark.parametrize(
    ("ago", "state"),
    [
        ([], State.NOT_YET),
        ([0], State.MET),
        ([0, 0], State.MET),
        ([28, 0], State.PROVEN),
        ([29, 0], State.MET),
        ([56], State.MET),
        ([57], State.STALE),
        ([70, 60], State.STALE),
        ([80, 70, 0], State.MET),
        ([80, 70, 40, 0], State.PROVEN),
    ],
)
def test_met_proven_stale(ago: list[int], state: State) -> None:
    """Met is one clean pass, proven two days within 28, stale more than 56 days ago; after a lapse proving
    starts again.
    """
    assert stand("low-surface-hold", *[done("low-surface-hold", 30, ago=a) for a in ago]).state is state


@pytest.mark.parametrize("form", [Form.LOOSE, Form.LOST])
def test_only_clean_meets_a_gate(form: Form) -> None:
    """Loose and lost sets are shown, but fill nothing and meet nothing."""
    d = stand("low-surface-hold", done("low-surface-hold", 45, form=form))
    assert (d.state, d.fill) == (State.NOT_YET, 0)
    assert d.shortfall == f"45 s on 31 May, {form.value}. Only clean counts. Needs 30 s"


def test_shortfall_speaks_the_gates_own_unit() -> None:
    """What is missing is said in the gate's unit, with the day of the best."""
    assert (
        stand("low-surface-hold", done("low-surface-hold", 18, ago=28)).shortfall
        == "18 s, best on 3 May. Needs 30 s"
    )
    assert stand("wall-kick-up", done("wall-kick-up", 6)).shortfall == "6 of 10, best on 31 May. Needs 7"
    assert stand("shoulder-rocks").shortfall == "not tried yet. Needs 15"
    assert stand("low-surface-hold", done("low-surface-hold", 29.96)).figure == "29.9 of 30 s"


def test_a_dial_setting_is_part_of_the_gate() -> None:
    """A chest-to-wall hold counts only at 15 cm or less, and not where the distance was not written down."""
    for cm, state in ((15, State.MET), (15.5, State.NOT_YET), (None, State.NOT_YET)):
        assert stand("chest-to-wall-hold", done("chest-to-wall-hold", 40, cm=cm)).state is state
    far = stand("chest-to-wall-hold", done("chest-to-wall-hold", 40, cm=30)).shortfall
    assert far == "40 s at 30 cm on 31 May. Needs 30 s at 15 cm or less"


def test_other_modes_never_mix() -> None:
    """A single long float is not an average of three."""
    single = Evidence(drill="heel-float", day=TODAY, measure=Measure.HOLD, value=10, form=Form.CLEAN)
    assert stand("heel-float", single).shortfall.startswith("not tried yet")


def test_a_one_sided_gate_is_as_good_as_its_weaker_side() -> None:
    """Five to the left alone leave the gate open, and the sentence names the side that is missing."""
    left = done("lunge-to-t", 5, side=Side.LEFT)
    assert stand("lunge-to-t", left).shortfall.startswith("right side: not tried yet")
    assert stand("lunge-to-t", left, done("lunge-to-t", 5, side=Side.RIGHT)).state is State.MET


@pytest.mark.parametrize(
    ("k", "n", "met"),
    [
        (7, 10, True),
        (6, 10, False),
        (7, 7, False),
        (5, 5, False),
        (8, 11, True),
        (7, 11, False),
        (14, 20, True),
    ],
)
def test_a_rate_needs_its_tries_and_its_share(k: int, n: int, met: bool) -> None:
    """7 of 10 is met by at least ten tries of which at least seven tenths succeed."""
    assert (stand("soft-wall-landing", done("soft-wall-landing", k, n=n)).state is State.MET) is met


def test_open_and_closed_with_reasons() -> None:
    """A rung opens on met; a drill away from the wall only on proven, and the wait says so in words."""
    assert stand("shoulder-rocks").open is False
    assert stand("shoulder-rocks", done("low-surface-hold", 30)).open is True
    exits = [p for name in ("step-down-30", "cartwheel") for p in passing(SYLLABUS.drills[name])]
    closed = stand("free-exit", *exits)
    assert [w.sentence for w in closed.waits] == [
        "Step-down from 30 cm out (5 of 5 at 30 cm or more), proven",
        "Cartwheel (5), proven",
    ]
    again = [p for name in ("step-down-30", "cartwheel") for p in passing(SYLLABUS.drills[name], ago=3)]
    assert stand("free-exit", *exits, *again).open is True


def test_a_stale_exit_closes_the_open_floor_but_lowers_no_perch() -> None:
    """Stale still holds up the rungs above it, except where proven is asked."""
    exits = [
        p
        for name in ("wall-side-step", "wall-side-step-down", "step-down-30", "cartwheel", "free-exit")
        for a in (3, 0)
        for p in passing(SYLLABUS.drills[name], ago=a)
    ]
    fresh, later = stands(*exits), stands(*exits, on=TODAY + timedelta(days=60))
    waits = [w.sentence for w in later.drill("free-kick-up").waits]
    assert "Free exit (5 of 5), proven" in waits
    assert "Free exit (5 of 5), proven" not in [w.sentence for w in fresh.drill("free-kick-up").waits]
    assert [line.perch for line in fresh.lines] == [line.perch for line in later.lines]
    assert "last passed 31 May" in later.drill("free-exit").shortfall


def test_perch_ahead_and_siblings() -> None:
    """The perch is the highest rung met with all below it; siblings must both be met, and both are ahead
    until then.
    """
    below = [
        p
        for name in (
            "low-surface-hold",
            "shoulder-rocks",
            "pike-hold",
            "raised-pike-hold",
            "right-angle-hold",
            "low-wall-climb",
            "wall-walk",
        )
        for p in passing(SYLLABUS.drills[name])
    ]
    line = stands(*below).lines[1]
    assert (line.perch, line.ahead, line.behind) == (
        "wall-walk",
        ("chest-to-wall-hold",),
        ("low-wall-climb",),
    )
    half = stands(*passing(SYLLABUS.drills["tuck-hollow-hold"])).lines[0]
    assert (half.perch, half.ahead) == (None, ("forearm-plank",))
    assert stands().lines[0].ahead == ("tuck-hollow-hold", "forearm-plank")


def test_a_later_rung_passed_first_is_shown_as_such() -> None:
    """Somebody may pass a later rung and fail an earlier one; it is shown, and the perch stays where it
    is.
    """
    result = stands(*passing(SYLLABUS.drills["low-surface-hold"]), *passing(SYLLABUS.drills["wall-walk"]))
    assert result.drill("wall-walk").out_of_order is True
    assert result.drill("low-surface-hold").out_of_order is False
    assert result.lines[1].perch == "low-surface-hold"


drill_names = st.sampled_from(sorted(SYLLABUS.drills))
pieces = st.builds(
    lambda name, share, ago, form, side, confidence: done(
        name,
        (
            round(SYLLABUS.drills[name].gate.value * share, 1)
            if SYLLABUS.drills[name].gate.of is None
            else min(round(SYLLABUS.drills[name].gate.value * share), SYLLABUS.drills[name].gate.of or 1)
        ),
        ago=ago,
        form=form,
        side=side if SYLLABUS.drills[name].gate.each_side else None,
        cm=12,
        confidence=confidence,
    ),
    drill_names,
    st.floats(0, 1.5),
    st.integers(0, 200),
    st.sampled_from(list(Form)),
    st.sampled_from(list(Side)),
    st.sampled_from([None, 1, 2, 3, 4, 5]),
)


@settings(max_examples=60)
@given(st.lists(pieces, max_size=40), drill_names, st.integers(0, 100))
def test_more_passing_evidence_never_closes_or_lowers(history: list[Evidence], drill: str, ago: int) -> None:
    """A pass more never closes a drill, never lowers a perch and never weakens a gate."""
    before = stands(*history)
    after = stands(*history, *passing(SYLLABUS.drills[drill], ago=ago))
    rank = [State.NOT_YET, State.STALE, State.MET, State.PROVEN]
    for was_line, line in zip(before.lines, after.lines, strict=True):
        assert line.perch_rung >= was_line.perch_rung
        for was, now in zip(
            [d for r in was_line.rungs for d in r], [d for r in line.rungs for d in r], strict=True
        ):
            assert now.open or not was.open
            assert rank.index(now.state) >= rank.index(was.state)
            assert now.fill >= was.fill


def seen(d: DrillStanding) -> tuple[object, ...]:
    return d.state, d.fill, d.open, d.figure, d.shortfall, [s.reached for s in d.stages]


@settings(max_examples=40)
@given(st.lists(pieces, max_size=30), st.randoms())
def test_the_order_of_evidence_does_not_matter(history: list[Evidence], dice: object) -> None:
    """Standing depends on what was done, not on the order it is read in."""
    shuffled = list(history)
    dice.shuffle(shuffled)  # type: ignore[attr-defined]
    assert [seen(d) for d in stands(*history).every().values()] == [
        seen(d) for d in stands(*shuffled).every().values()
    ]


def test_every_drill_can_be_opened() -> None:
    """Passing everything on two days opens and proves every drill there is."""
    everything = [p for d in SYLLABUS.drills.values() for ago in (5, 0) for p in passing(d, ago=ago)]
    for d in [d for line in stands(*everything).lines for rung in line.rungs for d in rung]:
        assert (d.state, d.open) == (State.PROVEN, True), d.drill


def test_changes_name_what_rose() -> None:
    """Between two standings the new perch, the state, the openings and the fuller bars are named, and nothing
    else.
    """
    before = stands(done("low-surface-hold", 18, ago=3))
    sentences = [c.sentence for c in find_changes(before, stands(done("low-surface-hold", 31)))]
    assert sentences == [
        "The inversion clip moves up to low-surface hold.",
        "Low-surface hold is met: 31 s.",
        "Shoulder rocks is open now.",
    ]
    assert [c.kind for c in find_changes(before, stands(done("low-surface-hold", 24)))] == ["closer"]
    assert find_changes(before, before) == []


# --- waivers, confidence, clearance -------------------------------------------------------------------------


def waived(*drills: str) -> dict[str, Waiver]:
    return {name: Waiver(drill=name, reason="seen elsewhere", day=TODAY) for name in drills}


@settings(max_examples=60)
@given(st.lists(pieces, max_size=25), drill_names)
def test_a_waived_gate_equals_a_met_one_downstream(history: list[Evidence], drill: str) -> None:
    """What a waiver opens, and the perches it lifts, are those of passing the gate once; nothing else
    changes, but that what was passed itself at the wall is open from then on.
    """
    without = [p for p in history if p.drill != drill]
    by_waiver = standing(mark_evidence(without, SYLLABUS), SYLLABUS, on=TODAY, waivers=waived(drill))
    by_pass = stands(*without, *passing(SYLLABUS.drills[drill]))
    for was, now in zip(by_waiver.lines, by_pass.lines, strict=True):
        assert (was.perch_rung, was.ahead) == (now.perch_rung, now.ahead)
    for name, d in by_pass.every().items():
        assert by_waiver.every()[name].open == d.open or (name == drill and d.open), name


def test_a_waiver_is_shown_and_never_proves() -> None:
    """A waived gate says by whom and why, counts as met, and does not open what asks for proof."""
    by = waived("free-exit", "free-hold-10")
    result = standing({}, SYLLABUS, on=TODAY, waivers=by)
    d = result.drill("free-exit")
    assert (d.state, d.shortfall) == (
        State.WAIVED,
        "waived on 31 May: seen elsewhere; not tried yet. Needs 5 of 5",
    )
    assert not result.drill("free-kick-up").open
    shown = standing(
        mark_evidence(passing(SYLLABUS.drills["free-exit"]), SYLLABUS), SYLLABUS, on=TODAY, waivers=by
    ).drill("free-exit")
    assert (shown.state, shown.waiver) == (State.MET, by["free-exit"])


def test_little_confidence_meets_but_does_not_prove() -> None:
    """Two clean days at confidence 2 leave a gate met; a third at 3 does not prove alone, a fourth does."""
    shy = [done("low-surface-hold", 32, ago=ago, confidence=2) for ago in (9, 6)]
    d = stand("low-surface-hold", *shy)
    assert (d.state, d.confidence) == (State.MET, 2)
    assert d.shortfall.endswith("Proven asks for confidence 3 or more on both days")
    assert d.prove_by is None, "a second day would not prove it"
    one = done("low-surface-hold", 32, ago=3, confidence=3)
    assert stand("low-surface-hold", *shy, one).state is State.MET
    assert stand("low-surface-hold", *shy, one).prove_by == TODAY + timedelta(days=25)
    assert (
        stand("low-surface-hold", *shy, one, done("low-surface-hold", 32, confidence=4)).state is State.PROVEN
    )


def asked_yes(*cautions: str, cleared: bool = False) -> Profile:
    return Profile(lengths_cm={}, cautions=dict.fromkeys(cautions, True), cleared=cleared)


@pytest.mark.parametrize("joint", ["wrist", "shoulder", "neck"])
def test_an_uncleared_joint_closes_all_that_loads_it(joint: str) -> None:
    """Before the word, nothing that loads the joint is open, also the right way up; the word opens it."""
    everything = [p for d in SYLLABUS.drills.values() for ago in (5, 0) for p in passing(d, ago=ago)]
    marks = mark_evidence(everything, SYLLABUS)
    shut = shut_by_cautions(SYLLABUS, asked_yes(joint))
    found = standing(marks, SYLLABUS, on=TODAY, shut=shut).every()
    loads = {n for n, d in SYLLABUS.drills.items() if joint in joints_of(SYLLABUS, d)}
    assert loads
    assert not any(found[n].open for n in loads)
    assert any(d.open for d in found.values())
    assert shut_by_cautions(SYLLABUS, asked_yes(joint, cleared=True)) == {}


def test_hypermobile_shoulders_are_never_opened_passively() -> None:
    """A yes closes the openers whatever the word, and says what comes instead; nothing else is closed."""
    shut = shut_by_cautions(SYLLABUS, asked_yes("hypermobile", cleared=True))
    assert set(shut) == {"overhead-reach", "shoulder-openers"}
    assert all("ontrol instead" in w.sentence for w in shut.values())


def test_nothing_upside_down_is_open_before_the_coach_confirms() -> None:
    """Until then every inverted drill is closed and says why; what is the right way up stays open."""
    everything = [p for d in SYLLABUS.drills.values() for ago in (5, 0) for p in passing(d, ago=ago)]
    shut = shut_by_cautions(SYLLABUS, asked_yes("eyes"))
    found = standing(mark_evidence(everything, SYLLABUS), SYLLABUS, on=TODAY, shut=shut).every()
    for name, d in found.items():
        assert d.open is not d.inverted, name
        assert d.inverted is (name in SYLLABUS.inverted)
        if d.inverted:
            assert d.waits[0].state == "cleared"
    assert {
        "chest-to-wall-hold",
        "free-hold-10",
        "strict-wall-hspu",
        "straddle-press",
        "see-saw-hop",
    } <= SYLLABUS.inverted
    assert (
        not {"hollow-hold", "push-up", "pancake", "l-sit", "lunge-to-t", "straddle-l-sit"} & SYLLABUS.inverted
    )


def test_modes_and_windows_are_never_mixed() -> None:
    """Seconds off the wall, touches in a window and light-foot seconds are three measures; none fills
    another's gate.
    """
    light = done("heel-float", 60, measure=Measure.HOLD)
    touches = done("heel-float", 1, measure=Measure.TOUCHES, window_s=15)
    other_window = done("heel-float", 1, measure=Measure.TOUCHES, window_s=30)
    d = stand("heel-float", light, touches, other_window)
    assert (d.state, d.fill, d.best) == (State.NOT_YET, 0, None)
    assert [s.reached for s in stand("heel-float", other_window).stages] == [False] * 4


def test_a_setting_short_of_the_gates_says_how_far() -> None:
    """Enough at an easier setting fills nothing, and the sentence says which it needs."""
    d = stand("partial-wall-hspu", done("partial-wall-hspu", 3, cm=12))
    assert (d.state, d.fill) == (State.NOT_YET, 0)
    assert d.shortfall == "3 at 12 cm on 31 May. Needs 2 at 5 cm or less"
    assert stand("partial-stalder", done("partial-stalder", 2, cm=20)).shortfall.endswith(
        "2 at 20 cm on 31 May. Needs 2 at 25 cm or more"
    )


@pytest.mark.parametrize(("cm", "fill"), [(60, 0.0), (35, 0.5), (10, 1.0), (-2, 1.0)])
def test_a_gate_of_fewer_fills_downward(cm: float, fill: float) -> None:
    """A pancake fills from 60 cm down to its gate of 10, and further down is still met."""
    assert stand("pancake", done("pancake", cm)).fill == pytest.approx(fill)


def test_a_weaker_value_opens_what_asks_for_it() -> None:
    """The back-to-wall hold asks for 20 s of the chest-to-wall hold, not for its whole gate."""
    assert not stand("back-to-wall-hold", done("chest-to-wall-hold", 19, cm=15)).open
    assert stand("back-to-wall-hold", done("chest-to-wall-hold", 20, cm=15)).open


@pytest.mark.parametrize(
    ("question", "school"), [(q.question, s.school) for q in SYLLABUS.content.schools for s in q.schools]
)
def test_every_drill_can_be_opened_by_every_school(question: str, school: str) -> None:
    """Whatever the school, some evidence opens every drill, with a straight line kept where one is asked."""
    taught = in_use(schools={question: school})
    everything = [p for d in taught.drills.values() for ago in (5, 0) for p in passing(d, ago=ago, times=1.5)]
    straight = {d.drill: 0.0 for d in taught.drills.values() if d.gate.line_within}
    stands = standing(mark_evidence(everything, taught), taught, on=TODAY, lines=straight)
    assert all(d.open for d in stands.every().values())
