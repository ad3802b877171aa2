"""The long view: ways, sides and limits over time, events, load, the road, firsts, what is told early, where
somebody is, and the words of a report.
"""

from dataclasses import replace
from datetime import date, timedelta
from uuid import uuid4

import pytest

from tests.core.planning import SYLLABUS, TODAY, a_case
from tests.core.test_goals import ready_for
from tests.core.test_standing import done, proven_below
from tests.core.test_standing_still import held
from wise_perch.core.progress.events import CourseChange, Event, IntakeOn, Told, gather_events, pauses_in
from wise_perch.core.progress.firsts import every_first, since_we_began
from wise_perch.core.progress.group import GroupRow, sort_group
from wise_perch.core.progress.load import kind_of, load_weeks, say_load_of, support_of
from wise_perch.core.progress.measure import tell_measure
from wise_perch.core.progress.measure_words import say_about, way_key
from wise_perch.core.progress.report import TITLES, last_day_of, with_words, write_report
from wise_perch.core.progress.road import find_road
from wise_perch.core.progress.series import every_series, gate_series, make_series
from wise_perch.core.progress.small import small_measures
from wise_perch.core.progress.wrong_turns import find_wrong_turns
from wise_perch.core.trade.evidence import Evidence, Form, Measure, Side
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.course_brief import find_course
from wise_perch.core.trainee.early import WrongTurn
from wise_perch.core.trainee.hand_load import loads_by_day
from wise_perch.core.trainee.limits import find_limits
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.practice import practice_of
from wise_perch.core.trainee.standing_still import find_standstills
from wise_perch.core.trainee.to_decide import find_matters

GOAL = "freestanding-hold"
DRILLS = SYLLABUS.drills
MONTH = TODAY.replace(day=1)


def ago(days: int) -> date:
    return TODAY - timedelta(days=days)


def told_alone(piece: Evidence) -> Evidence:
    """The same as the trainee tells it: nobody saw the form."""
    return replace(piece, by="self", form=Form.LOOSE)


# --- series -------------------------------------------------------------------------------------------------


def test_each_way_and_side_is_a_series_of_its_own() -> None:
    """Modes are never mixed, sides stand apart, and without a side it is the one that is less far."""
    float_ = DRILLS["heel-float"]
    pieces = [
        done("heel-float", 6, ago=9),
        done("heel-float", 4, ago=9, measure=Measure.TOUCHES, window_s=15),
    ]
    ways = every_series(float_, SYLLABUS.ways("heel-float"), pieces, stature_cm=170)
    assert [(s.gate.measure, [r.value for r in s.readings]) for s in ways] == [
        (Measure.HOLD, [6]),
        (Measure.TOUCHES, [4]),
    ]
    hops = DRILLS["side-hops"]
    sides = [done(hops, 9, ago=5, side=Side.LEFT), done(hops, 4, ago=5, side=Side.RIGHT)]
    both = every_series(hops, SYLLABUS.ways(hops.drill), sides, stature_cm=170)
    assert [(s.side, s.readings[0].value) for s in both] == [(Side.LEFT, 9), (Side.RIGHT, 4)]
    assert make_series(hops, sides).side is Side.RIGHT
    assert make_series(hops, sides[:1]).side is Side.RIGHT, "a side without any reading is less far still"


def test_what_is_told_alone_is_marked_and_never_lowers() -> None:
    """A set told as asked is a bound though nobody saw its form; told open it is a value, marked; neither is
    clean, so neither meets a gate.
    """
    hold = DRILLS["free-hold-30"]
    pieces = [
        told_alone(done(hold, 40, ago=4, asked=40)),
        told_alone(done(hold, 35, ago=3)),
        done(hold, 20, ago=2),
    ]
    series = make_series(hold, pieces)
    assert [(r.value, r.bound, r.by, r.clean) for r in series.readings] == [
        (40, True, "self", False),
        (35, False, "self", False),
        (20, False, "set", True),
    ]
    assert not any(series.reaches(r) for r in series.readings)


def test_a_gate_with_a_setting_has_its_own_days_and_all_days() -> None:
    """At the test setting it is the gate's; at others it stands apart and foretells nothing."""
    wall = DRILLS["chest-to-wall-hold"]
    far = [done(wall, 20 + n, ago=40 - 5 * n, cm=40) for n in range(7)]
    case = a_case(*(p for own in proven_below(wall.drill) for p in own), *far)
    story = tell_measure(wall, case)
    assert [w.words for w in story.ways] == ["held, at any setting"]
    assert (story.moves, story.headline) == ("not known", "Not at the test setting yet.")
    assert len(story.points) == 7
    assert not story.chances
    near = [done(wall, 12, ago=3, cm=15)]
    story = tell_measure(wall, a_case(*far, *near))
    assert [p.value for p in story.points] == [12]
    assert [p.value for p in tell_measure(wall, a_case(*far, *near), way=story.ways[1].key).points][-1] == 12


def test_a_dials_limit_climbs_day_by_day() -> None:
    """The hardest setting passed of each day: clean, and as asked or enough; nearer is harder."""
    wall = DRILLS["chest-to-wall-hold"]
    pieces = [
        done(wall, 30, ago=9, cm=40),
        done(wall, 31, ago=9, cm=30),
        done(wall, 20, ago=5, cm=20, asked=20),
        done(wall, 12, ago=4, cm=15),
        done(wall, 40, ago=3, cm=10, form=Form.LOOSE),
    ]
    assert [(limit.day, limit.setting) for limit in find_limits(wall, pieces)] == [(ago(9), 30), (ago(5), 20)]
    assert find_limits(DRILLS["hollow-hold"], pieces) == ()


# --- measures -----------------------------------------------------------------------------------------------


def rising(drill: str, *, weeks: int = 12, start: float = 4.0, step: float = 0.35) -> list[Evidence]:
    """Open sets on two days a week that grow."""
    wobble = (0.3, -0.2, 0.1, -0.3, 0.2)
    days = [7 * w + d for w in range(weeks) for d in (1, 4)]
    return [done(drill, round(start + step * (weeks - a / 7) + wobble[a % 5], 1), ago=a) for a in days]


def test_a_riser_is_said_to_move_with_chances_rays_and_a_month() -> None:
    case = a_case(*ready_for("free-hold-10"), *rising("free-hold-30", start=8, step=1.0), goals=("hold-30",))
    story = tell_measure(DRILLS["free-hold-30"], case)
    assert story.moves == "moves"
    assert story.headline.startswith("It moves. Better than even by ")
    assert list(story.chances) == [4, 8, 12, 26]
    assert all(story.twice[w].chance <= story.chances[w].chance for w in story.chances), (
        "two days are never likelier than one"
    )
    assert [r.week for r in story.rays] == list(range(1, 13))
    assert all(list(r.shares) == sorted(r.shares) for r in story.rays)
    assert story.level_words.startswith("now ")
    assert "measured days in" in story.model
    assert [t.said for t in story.ticks] == ["8 s", "15 s", "22 s"]


def test_as_it_stood_on_an_earlier_day() -> None:
    """Nothing of later is known then; the later part alone begins there."""
    case = a_case(*ready_for("free-hold-10"), *rising("free-hold-30", start=8, step=1.0))
    drill = DRILLS["free-hold-30"]
    before, since = tell_measure(drill, case, on=ago(30)), tell_measure(drill, case, since=ago(30))
    assert max(p.day for p in before.points) <= ago(30) <= min(p.day for p in since.points)
    assert len(before.points) + len(since.points) == len(tell_measure(drill, case).points)


def test_a_proven_measure_is_there() -> None:
    case = a_case(*ready_for("free-hold-10"))
    story = tell_measure(DRILLS["heel-float"], case)
    assert (story.moves, story.headline) == ("there", "Proven.")


@pytest.mark.parametrize(
    ("day", "said"),
    [
        (date(2026, 2, 3), "early February"),
        (date(2026, 2, 15), "mid February"),
        (date(2026, 2, 27), "late February"),
    ],
)
def test_a_day_is_said_no_more_exactly_than_it_is_known(day: date, said: str) -> None:
    assert say_about(day) == said


def test_small_measures_stand_on_one_scale() -> None:
    """Each is a share of its own gate, what is worked on first."""
    case = a_case(*ready_for("free-hold-10"), done("free-hold-10", 3, ago=2, n=10), goals=(GOAL,))
    small = small_measures(case.goals[0], case)
    assert small[0].drill == "free-hold-10"
    assert small[0].points[-1].share == pytest.approx(3 / 7)
    assert small_measures(None, case) == ()


# --- events -------------------------------------------------------------------------------------------------


def test_events_in_their_order_and_words() -> None:
    """Pain of days running is one event with its worst word; cautions are named once and cleared once; the
    first goal is a beginning, what comes after it a change.
    """
    caution = SYLLABUS.intake.cautions[0]
    intake = Profile(lengths_cm={}, cautions={caution.caution: True})
    asked = SYLLABUS.content.schools[0]
    told = Told(
        aches=[
            Ache(joint="left wrist", level=2, day=ago(20)),
            Ache(joint="left wrist", level=4, day=ago(18), sharp=True),
            Ache(joint="left wrist", level=0, day=ago(15)),
            Ache(joint="left wrist", level=1, day=ago(3)),
        ],
        intakes=[
            IntakeOn(day=ago(60), profile=intake),
            IntakeOn(day=ago(50), profile=replace(intake, cleared=True)),
            IntakeOn(day=ago(40), profile=replace(intake, cleared=True)),
        ],
        changes=[
            CourseChange(day=ago(59), kind="goal-chosen", what=GOAL),
            CourseChange(day=ago(30), kind="goal-first", what="strict-push"),
            CourseChange(day=ago(29), kind="school", what=asked.question, now=asked.schools[1].school),
            CourseChange(day=ago(-3), kind="syllabus", what="later"),
        ],
    )
    found = gather_events(told, SYLLABUS, on=TODAY)
    assert [(e.day, e.kind) for e in found] == [
        (ago(60), "caution"),
        (ago(50), "cleared"),
        (ago(30), "goal"),
        (ago(29), "school"),
        (ago(20), "pain"),
        (ago(3), "pain"),
    ]
    spell = found[4]
    assert (spell.until, spell.level, spell.words) == (ago(18), 4, "left wrist 4 of 10, sharp or tingling")
    assert found[2].words == "goal put first: strict wall handstand push-up"
    assert asked.schools[1].title.lower() in found[3].words


def test_a_pause_is_longer_than_a_gap() -> None:
    days = [ago(60), ago(30), ago(28)]
    assert [(e.day, e.until, e.words) for e in pauses_in(days, gap_days=14)] == [
        (ago(60), ago(30), "away for 4 weeks")
    ]


# --- load ---------------------------------------------------------------------------------------------------


def test_load_is_summed_by_week_kind_and_support() -> None:
    """What the weeks carry is what the days carry; push, press and the rest are all of it; the ramp stands on
    the weeks before; pain stands in its week.
    """
    pieces = [
        *[done("chest-to-wall-hold", 60, ago=n, cm=15) for n in (30, 23, 16)],
        *[done("chest-to-wall-hold", 60, ago=2, cm=15) for _ in range(20)],
        done("strict-wall-hspu", 5, ago=2),
        done("free-hold-30", 20, ago=2),
        done("straddle-press", 3, ago=2),
        done("low-surface-hold", 30, ago=2),
    ]
    case = a_case(*pieces)
    weeks = load_weeks(case, [Ache(joint="left wrist", level=3, day=ago(2))], weeks=8)
    assert len(weeks) == 8
    now = weeks[-1]
    by_day = loads_by_day(case, since=weeks[0].week)
    assert sum(w.load_s for w in weeks) == pytest.approx(sum(by_day.values()), abs=1)
    assert now.push_s == pytest.approx(5 * SYLLABUS.mechanics.rep_s.value)
    assert now.press_s == pytest.approx(3 * SYLLABUS.mechanics.rep_s.value)
    assert now.on_hands_s["wall"] == pytest.approx(20 * 60 + now.push_s)
    assert now.on_hands_s["free"] == pytest.approx(20 + now.press_s)
    assert now.on_hands_s["surface"] >= 0
    assert now.beyond
    assert now.most_s == SYLLABUS.sessions.least_week_load_s.value
    assert (now.pain, now.joint, now.running) == (3, "left wrist", True)
    assert "Pain was told in 1 week, 1 of them beyond the ramp" in say_load_of(weeks, ramp=0.15)
    assert say_load_of(load_weeks(a_case(), [], weeks=4), ramp=0.15).startswith("Nothing was carried")


@pytest.mark.parametrize(
    ("drill", "support", "kind"),
    [
        ("pike-push-up", "surface", "push"),
        ("chest-to-wall-hold", "wall", "other"),
        ("heel-float", "wall", "other"),
        ("free-hold-30", "free", "other"),
        ("strict-wall-hspu", "wall", "push"),
        ("straddle-press", "free", "press"),
        ("l-sit", "free", "other"),
        ("planche-lean", "surface", "press"),
    ],
)
def test_what_carries_beside_the_hands(drill: str, support: str, kind: str) -> None:
    assert (support_of(DRILLS[drill], SYLLABUS), kind_of(DRILLS[drill], SYLLABUS)) == (support, kind)


# --- road and firsts ----------------------------------------------------------------------------------------


def test_the_road_has_what_fell_when_and_what_remains() -> None:
    case = a_case(*ready_for("free-hold-10"), done("free-hold-10", 3, ago=2, n=10), goals=(GOAL,))
    road = find_road(case.goals[0], case)
    assert [a.drill for a in road.ahead] == [s.drill for s in case.goals[0].path]
    assert {f.drill for f in road.fallen} & {a.drill for a in road.ahead} == set()
    days = [f.day for f in road.fallen]
    assert days == sorted(days)
    assert all(f.proven_on is None or f.proven_on >= f.day for f in road.fallen)
    assert f"{len(road.fallen)} passed, {len(road.ahead)} step" in road.sentence
    assert all(a.because for a in road.ahead if not a.chances), "what is not known says why"


def test_firsts_stand_on_the_first_day_of_passing() -> None:
    hold = DRILLS["hollow-hold"]
    case = a_case(done(hold, 31, ago=40), done(hold, 45, ago=9), done(hold, 20, ago=60))
    assert [(f.drill, f.day) for f in every_first(case)] == [("hollow-hold", ago(40))]
    card = since_we_began(case)
    assert (card.since, card.days, card.many, card.weeks) == (ago(60), 3, 1, 8)
    assert since_we_began(a_case()).since is None


def test_both_sides_must_fall() -> None:
    hops = DRILLS["side-hops"]
    left = done(hops, 10, ago=20, side=Side.LEFT)
    assert every_first(a_case(left)) == ()
    both = every_first(a_case(left, done(hops, 10, ago=6, side=Side.RIGHT)))
    assert [f.day for f in both] == [ago(6)]


# --- what is told early -------------------------------------------------------------------------------------


def turns(case: JudgedCase, **more: object) -> list[WrongTurn]:
    return list(find_wrong_turns(case, **more))  # type: ignore[arg-type]


def test_a_plan_kept_and_not_done() -> None:
    """Told from three planned days on, when fewer than half of them were done; silenced it is not told."""
    planned = [ago(13), ago(10), ago(6), ago(3)]
    (turn,) = turns(a_case(), planned=planned, done={ago(13)})
    assert turn.sentence == "1 of 4 planned days done in the last 2 weeks."
    assert turns(a_case(), planned=planned, done={ago(13), ago(10)}) == []
    assert turns(a_case(), planned=planned[:2]) == []
    assert turns(a_case(), planned=[*planned[:2], TODAY, ago(-2)]) == [], (
        "what is still to come is not missed"
    )
    assert turns(a_case(), planned=planned, silenced={turn.turn}) == []


def test_a_gate_about_to_go_stale_is_told_before_it_is() -> None:
    below = [p for own in proven_below("free-hold-10") for p in own]
    old = [replace(p, day=ago(50 if p.day == max(q.day for q in below) else 55)) for p in below]
    case = a_case(*old, goals=(GOAL,))
    found = [t for t in turns(case) if t.kind == "goes stale"]
    assert found
    for t in found:
        stands = case.drills[t.drill]
        assert stands.stale_on is not None
        assert 0 <= (stands.stale_on - TODAY).days <= 14
        assert "last shown on" in t.sentence
    fresh = a_case(*below, goals=(GOAL,))
    assert [t for t in turns(fresh) if t.kind == "goes stale"] == []


def test_a_changed_programme_is_left_to_work() -> None:
    event = Event(day=ago(20), kind="goal", words="goal put first: straddle press")
    (turn,) = turns(a_case(), events=[event])
    assert turn.because == "Give it 6 weeks: changing now is the common loss."
    assert turns(a_case(), events=[replace(event, day=ago(43))]) == []
    assert turns(a_case(), events=[replace(event, kind="pain")]) == []


def test_a_load_beyond_the_ramp_is_told_for_this_week_and_the_last() -> None:
    pieces = [done("chest-to-wall-hold", 60, ago=2, cm=15) for _ in range(20)]
    pieces += [done("chest-to-wall-hold", 60, ago=n, cm=15) for n in (16, 23)]
    case = a_case(*pieces)
    (turn,) = turns(case, weeks=load_weeks(case, [], weeks=6))
    assert turn.kind == "load"
    assert "The ramp was 900 s." in turn.sentence
    later = replace(case, on=TODAY + timedelta(days=21))
    assert turns(later, weeks=load_weeks(later, [], weeks=6)) == []


# --- where somebody is --------------------------------------------------------------------------------------


def course(
    *pieces: Evidence, days: tuple[date, ...] = (), goals: tuple[str, ...] = (GOAL,)
) -> tuple[str, str]:
    case = a_case(*pieces, goals=goals)
    found = find_course(case, find_standstills(case), days)
    return found.kind, found.sentence


def test_where_somebody_is() -> None:
    assert course() == ("new", "Nothing recorded yet.")
    old = [done("hollow-hold", 12, ago=40)]
    assert course(*old) == ("away", f"Not seen for 5 weeks, last on {ago(40).day} {ago(40):%b}.")
    again = [*old, done("hollow-hold", 12, ago=2)]
    assert course(*again, days=(ago(40), ago(2)))[0] == "back"
    assert course(*held(13, start=18))[0] == "still"
    assert course(done("hollow-hold", 31, ago=3))[0] == "moves"
    moved = [done("chest-to-wall-hold", 12, ago=40, cm=15), done("chest-to-wall-hold", 20, ago=5, cm=15)]
    assert course(*moved)[0] == "moves"


def test_a_harder_setting_is_a_move() -> None:
    """Nearer to the wall by a step or more, though the gate's own setting is not reached yet."""
    below = [
        replace(p, day=p.day - timedelta(days=60)) for own in proven_below("chest-to-wall-hold") for p in own
    ]
    far = done("chest-to-wall-hold", 30, ago=40, cm=60)
    assert course(*below, far, done("chest-to-wall-hold", 30, ago=5, cm=58))[0] == "unmoved"
    kind, sentence = course(*below, far, done("chest-to-wall-hold", 30, ago=5, cm=34))
    assert (kind, sentence) == ("moves", "Chest-to-wall hold: hands to wall from 60 to 34 cm on 26 May.")


def test_a_gate_of_two_parts_is_told_by_the_one_that_is_less_full() -> None:
    walk = DRILLS["wall-walk"]
    hold = next(g for g in walk.gate.also if g.measure is Measure.HOLD)
    reps = done(walk, 3, ago=3)
    held_for = replace(done(walk, 12, ago=3), measure=Measure.HOLD, mode=hold.mode, n=None)
    assert gate_series(walk, [reps, held_for]).gate == hold
    assert gate_series(walk, [replace(reps, value=1), replace(held_for, value=19)]).gate == walk.gate


def test_the_luck_of_a_day_is_no_move() -> None:
    """A new best within a tenth of the one before moves nothing, nor does one good try more."""
    below = [replace(p, day=p.day - timedelta(days=60)) for own in proven_below("heel-float") for p in own]
    slight = [done("heel-float", 7, ago=50), done("heel-float", 7.3, ago=5)]
    assert course(*below, *slight)[0] == "unmoved"
    tries = [done("free-hold-10", 0, ago=50, n=10), done("free-hold-10", 2, ago=5, n=15)]
    ready = [replace(p, day=p.day - timedelta(days=60)) for p in ready_for("free-hold-10")]
    assert course(*ready, *tries)[0] == "unmoved"
    many = [done("free-hold-10", 0, ago=50, n=10), done("free-hold-10", 5, ago=5, n=10)]
    assert course(*ready, *many)[0] == "moves"


def test_single_tries_of_monthly_tests_stand_still_too() -> None:
    """One of ten month after month is no trend, however seldom it is tested."""
    tests = [done("free-hold-10", 1, ago=a, n=10) for a in (150, 122, 94, 66, 38, 10)]
    case = a_case(*ready_for("free-hold-10"), *tests, goals=(GOAL,))
    (still,) = [s for s in find_standstills(case) if s.drill == "free-hold-10"]
    assert still.firm
    assert "no trend" in still.sentence
    assert any("Too little practice" in c.text for c in still.causes)


@pytest.mark.parametrize(
    ("share", "words"),
    [(1.0, "ask too little"), (0.4, "ask too much"), (0.8, "")],
    ids=["easy", "hard", "right"],
)
def test_sets_say_why_it_stands_still(share: float, words: str) -> None:
    """Nearly all done as asked: they ask too little; hardly any: too much."""
    asked = [
        done("chest-to-wall-hold", 12 if n < 10 * share else 9, ago=3 + 7 * n, asked=12, cm=15)
        for n in range(10)
    ]
    case = a_case(*held(13, start=18), *asked, goals=(GOAL,))
    found = practice_of(DRILLS["chest-to-wall-hold"], case, since=ago(91))
    assert found.share == pytest.approx(share)
    (still,) = [s for s in find_standstills(case) if s.drill == "chest-to-wall-hold"]
    said = [c.text for c in still.causes]
    assert any(words in s for s in said) if words else said == []


def test_today_says_standing_still_in_the_same_words() -> None:
    case = a_case(*held(13, start=18), goals=(GOAL,))
    (still,) = [s for s in find_standstills(case) if s.drill == "chest-to-wall-hold"]
    said = [m.sentence for m in find_matters(case) if m.kind == "still"]
    assert said
    assert said[0].startswith(still.sentence)


def test_a_group_is_sorted_by_what_wants_a_word() -> None:
    def row(name: str, *pieces: Evidence, told: bool = False) -> GroupRow:
        case = a_case(*pieces, goals=(GOAL,))
        turn = WrongTurn(turn="x", kind="load", sentence="x.", because="y.")
        return GroupRow(
            id=uuid4(),
            name=name,
            course=find_course(case, find_standstills(case)),
            turns=(turn,) if told else (),
        )

    group = sort_group(
        [
            row("Moves", done("hollow-hold", 31, ago=3)),
            row("Told", done("hollow-hold", 31, ago=3), told=True),
            row("Away", done("hollow-hold", 31, ago=60)),
            row("Still", *held(13, start=18)),
            GroupRow(id=uuid4(), name="Later", course=None, turns=()),
        ]
    )
    assert [r.name for r in group.rows] == ["Still", "Away", "Told", "Moves", "Later"]
    assert (group.counts["moves"], group.counts["still"], group.counts["new"]) == (2, 1, 0)
    assert group.fell == sum(len(r.course.fell) for r in group.rows if r.course) >= 2


# --- report -------------------------------------------------------------------------------------------------


def report_of(case: JudgedCase) -> dict[str, str]:
    goal = case.goals[0]
    made = write_report(
        "Tilda Moor",
        case,
        month=MONTH,
        road=find_road(goal, case),
        events=[Event(day=TODAY, kind="pain", words="left wrist 3 of 10", level=3)],
        weeks=load_weeks(case, [], weeks=6),
    )
    return {s.section: s.words for s in made.sections}


def test_a_report_says_what_was_recorded_and_nothing_else() -> None:
    case = a_case(
        *ready_for("free-hold-10"),
        done("free-hold-10", 3, ago=1, n=10),
        done("hollow-hold", 31, ago=2),
        goals=(GOAL,),
    )
    said = report_of(case)
    assert list(said) == [s for s in TITLES if s in said]
    assert said["pain"] == "You told of pain: left wrist 3 of 10 on 31 May."
    assert said["goal"].startswith("Freestanding hold")
    firsts = [f for f in every_first(case) if f.day >= MONTH]
    assert all(f.title.lower() in said["new"].lower() for f in firsts)
    assert "ahead" not in said, "one measured day foretells nothing"


def test_a_report_in_the_coachs_words() -> None:
    """What is changed stands, what is emptied is left out, the rest is as it was."""
    case = a_case(*ready_for("free-hold-10"), goals=(GOAL,))
    made = write_report("Tilda", case, month=MONTH, road=None, events=[], weeks=[])
    changed = with_words(made, {"practice": "Well done.", "next": ""})
    said = {s.section: s.words for s in changed.sections}
    assert said["practice"] == "Well done."
    assert "next" not in said
    assert said["new"] == {s.section: s.words for s in made.sections}["new"]
    assert (changed.edited, made.edited) == (True, False)


def test_an_empty_month_says_so() -> None:
    case = a_case(goals=(GOAL,))
    said = {
        s.section: s.words
        for s in write_report("Tilda", case, month=MONTH, road=None, events=[], weeks=[]).sections
    }
    assert said["practice"] == "Nothing was recorded this month."
    assert said["new"] == "No step was passed for the first time this month."


@pytest.mark.parametrize(
    ("month", "last"), [(date(2026, 2, 1), 28), (date(2028, 2, 1), 29), (date(2026, 12, 1), 31)]
)
def test_the_last_day_of_a_month(month: date, last: int) -> None:
    assert last_day_of(month).day == last


def test_a_way_has_one_name() -> None:
    """No two ways or sides of any drill share a key."""
    for d in DRILLS.values():
        sides: tuple[Side | None, ...] = (Side.LEFT, Side.RIGHT) if d.gate.each_side else (None,)
        keys = [
            way_key(make_series(d, [], way=w, side=s, any_setting=anywhere))
            for w in SYLLABUS.ways(d.drill)
            for s in (sides if w.each_side else (None,))
            for anywhere in (False, True)
        ]
        assert len(keys) == len(set(keys)), d.drill
