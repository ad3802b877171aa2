"""The rules of doses, sessions and weeks as data, each figure with its origin."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from wise_perch.core.trade.decision import Figure, Origin
from wise_perch.core.trade.evidence import Reason
from wise_perch.core.trade.gates import Range


@dataclass(frozen=True, slots=True, kw_only=True)
class Phase:
    """A part of a session. `lines` and `drills` say what belongs here, `always` what is done every time.

    `instead`: what takes the place of one of `always` that is closed. `fixed_s`: time it takes without any
    drill, s, for what `about` says; `least_s`: what each of `always` takes at least, s. `joints`: what is
    loaded by what needs no drill. `stands_out`: its blocks are drawn darker.
    """

    phase: str
    title: str
    lines: tuple[str, ...] = ()
    drills: tuple[str, ...] = ()
    always: tuple[str, ...] = ()
    instead: tuple[str, ...] = ()
    fixed_s: Figure | None = None
    least_s: Figure | None = None
    joints: tuple[str, ...] = ()
    about: str = ""
    stands_out: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Heavy:
    """Drills that are heavy pushes and heavy presses: never both in one session, nor on days next to each
    other.
    """

    push: tuple[str, ...]
    press: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Joints:
    """Which joints drills load: by line, by drill in place of its line's, and what a drill on the head
    adds.
    """

    lines: Mapping[str, tuple[str, ...]]
    drills: Mapping[str, tuple[str, ...]]
    head: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Rehearsal:
    """What is shown before any open-floor work of a session: the first of `drills` that is proven, `sets`
    times.
    """

    drills: tuple[str, ...]
    sets: Figure
    because: str


@dataclass(frozen=True, slots=True, kw_only=True)
class KickUp:
    """The kick-up's own block, of the first open one of `drills`, kept until the gate of `until` is met.
    `counts` beside the way to a goal.
    """

    until: str
    drills: tuple[str, ...]
    counts: Figure
    because: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SessionWords:
    """What is said when a session changes."""

    poor: str
    good: str
    shy: str
    none_lighter: str
    fewer: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Weights:
    """What a week is weighed by, each beside the others.

    `way`: the first drill on the way to the leading goal; `next_on_way`: each one after it, beside the one
    before; `to_prove`: one that lacks its second day, beside one that does not; `beside`: one that is open
    beside the way, or put in by hand; `helps`: one that only helps; `second_day`: one beside the way that
    lacks its second day; `keeps`: one that is passed and only prepares, `kept_again` the share of it that
    counts where it was done in the last week, on `kept_days` days at most; `keeps_due`: one on the way to a
    goal that would go stale within `keep_ahead_days`; `leading_absent`: a day without the leading goal costs
    as many steps of time out of proportion; `due_test`: a test that is due;
    `extra_sets`: all sets beyond the fewest, beside what the drill counts; `share_penalty`: each 5 s by which
    another pillar has more than the holding one; `kept_rungs`: so many rungs of a line are kept up; `swaps`:
    so many drills stand by for each block.
    """

    way: Figure
    next_on_way: Figure
    to_prove: Figure
    beside: Figure
    helps: Figure
    second_day: Figure
    keeps: Figure
    kept_again: Figure
    kept_days: Figure
    keeps_due: Figure
    leading_absent: Figure
    due_test: Figure
    extra_sets: Figure
    share_penalty: Figure
    kept_rungs: Figure
    swaps: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class GapShare:
    """After a gap of up to `days` a dose is `share` of the last best; without `days` after any longer one."""

    share: Figure
    days: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Growth:
    """How doses grow, and come back.

    A hold done as asked grows by `short_step_s` while it is shorter than `short_s`, by `middle_step_s` while
    shorter than `middle_s`, then by `long_step_s`; never above `most_of_best` of the best known. After two
    days in a row that fell short it shrinks to `after_two_short` of what was asked. A gap is more than
    `gap_after_days` without the drill; coming back grows by `regrow` steps at a time up to the old best.
    Where a gate asks that the last rep is held, it begins at `last_held_begins` of that hold and grows by
    `last_held_step` of it. What was asked for on `not_once_days` running and not done once is left for
    `left_for_days`.
    """

    short_s: Figure
    short_step_s: Figure
    middle_s: Figure
    middle_step_s: Figure
    long_step_s: Figure
    most_of_best: Figure
    after_two_short: Figure
    gap_after_days: Figure
    gaps: tuple[GapShare, ...]
    regrow: Figure
    last_held_begins: Figure
    last_held_step: Figure
    not_once_days: Figure
    left_for_days: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenSets:
    """The first set of a drill once in `every_days` goes on as long, or as often, as it stays clean, up to
    `ceiling_of_best` of the best known and at least `ceiling_of_gate` of the gate. Not in `barred_pillars`.
    """

    every_days: Figure
    ceiling_of_best: Figure
    ceiling_of_gate: Figure
    barred_pillars: tuple[str, ...]
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FailedFor:
    """What practice does about one reason why sets fail: drills of `pillars` come beside it (`at_the_wall`:
    only those that stay there); `eases_dial`: the dial goes a step easier; `shy`: as with low confidence.
    """

    reason: Reason
    title: str
    words: str
    pillars: tuple[str, ...]
    at_the_wall: bool = False
    eases_dial: bool = False
    shy: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Failed:
    """Why sets failed: a reason speaks for `days`, for at most `most` drills that count `counts` more."""

    days: Figure
    counts: Figure
    most: Figure
    reasons: tuple[FailedFor, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class StillWords:
    """What practice would try where something stands still; some go on with a name or a figure."""

    often: str
    open_set: str
    sibling: str
    below: str
    line: str
    lighter: str


@dataclass(frozen=True, slots=True, kw_only=True)
class StandingStill:
    """When a drill stands still: `least_days` of practice over `least_weeks`, of the last `window_weeks` or
    the `late_weeks` of them, with the `interval` of its trend inside `within` of its level a week; firm from
    `firm_weeks` on.

    Fewer than `often_days` a week is little; without an open set for `open_set_days` nothing measures the
    best. What practice would try beside it counts `counts` more.
    """

    least_days: Figure
    least_weeks: Figure
    firm_weeks: Figure
    window_weeks: Figure
    late_weeks: Figure
    within: Figure
    interval: Figure
    often_days: Figure
    open_set_days: Figure
    counts: Figure
    words: StillWords


@dataclass(frozen=True, slots=True, kw_only=True)
class PracticeWords:
    """What is said of too little practice, and of sets that ask too little or too much; a figure follows."""

    little: str
    easy: str
    hard: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Practice:
    """What practice itself says where something stands still. Fewer than `little_days` a week are too few to
    move anything. Of at least `least_sets` that asked for something: from the share `easy_from` on done as
    asked they ask too little, below `hard_below` too much.
    """

    little_days: Figure
    least_sets: Figure
    easy_from: Figure
    hard_below: Figure
    words: PracticeWords


@dataclass(frozen=True, slots=True, kw_only=True)
class WrongTurns:
    """What is told early. Of the days planned in the last `kept_weeks`, fewer than `done_share` done, at
    least `least_days` of them planned; a test `overdue_days` beyond its day; a gate that goes stale within
    `stale_ahead_days`; a goal, school or syllabus changed within the last `programme_weeks`. Nobody seen for
    `away_days` is away.
    """

    kept_weeks: Figure
    least_days: Figure
    done_share: Figure
    overdue_days: Figure
    stale_ahead_days: Figure
    programme_weeks: Figure
    away_days: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class ColdCheck:
    """One look before a session, asked where any of `drills` is open: a question to be answered with yes, and
    what follows where it is not.
    """

    check: str
    ask: str
    lacking: str
    drills: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class WarmUpPart:
    """One part of a warm-up, and how long it usually takes."""

    title: str
    seconds: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WarmUp:
    """One way to get warm; the coach chooses."""

    warm_up: str
    title: str
    origin: Origin
    parts: tuple[WarmUpPart, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Before:
    """What is looked at before a session: the room's tick list, the cold checks, and the warm-ups to choose
    from, the usual one first.
    """

    room: tuple[str, ...] = ()
    checks: tuple[ColdCheck, ...] = ()
    warm_ups: tuple[WarmUp, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Habit:
    """Something small that is done by the day; `minutes`: what one day usually holds of it."""

    habit: str
    title: str
    minutes: Figure
    about: str


@dataclass(frozen=True, slots=True, kw_only=True)
class StandIn:
    """What is taken at home in place of kit that is not there. What is not `firm` carries neither the head
    nor the whole weight. `drills`: it is for these alone.
    """

    kit: str
    instead: str
    firm: bool
    origin: Origin
    drills: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class SessionRules:
    """The figures of doses and plans. Times in s, shares from 0 to 1.

    Doses: balance held for less than `short_hold_s` is worked in `short_tries`; `hold_share` of the best
    known hold (`first_share` of the gate, but at least `first_hold_s`, where none is known); a float goes
    over to seconds from `touches_to_seconds` touches in a window on; rest at least `rest_work_ratio` of the
    work and `least_rest_s`; from `gate_try_from` of a gate on the first set asks for it; `clean_to_step`
    clean reps move a dial a step harder; evidence older than `recent_days` says nothing about a dose; a test
    that a dose leans on is asked for again after `retest_after_days`. Week: from `ramp` above the mean of
    `ramp_weeks` weeks on hand-load is warned of, from `load_stops_at` on nothing is added, but a week may
    reach `least_week_load_s` of body weight; a session has `blocks_most` blocks beside preparation, of them
    at most `heavy_most` heavy, and `singles_most` kicks and free tries, `short_tries_most` short floats at
    the wall. The first `main_drills` on the way to the leading goal get `main_share` of the
    working time at least, what only helps or is kept up `beside_share` at most, but `beside_least_s` a
    session at any rate. `not_for_shy`: drills that wait while confidence is low. `days_by_pillar`: on how
    many days a week a drill stands that has no number of its own, else `most_days_a_week`. `goal_counts`:
    what the first, second … goal counts; `again_counts`: what a drill counts the first, second … time in a
    week; `holding_counts`: the pillar that holds a goal back. `usual_days` (0 is Monday, ours) and
    `usual_minutes`: the week of whoever never said otherwise. `lighter_lines`: where a line has nothing that
    loads the hands less, the line that has. `float_margin`: floats begin at this share of the distance at
    which the hands alone lift off; the nearer, the easier. Readiness from 1 to 5: up to `poor_energy` is a
    poor day, from `good_energy` a good one.
    """

    phases: tuple[Phase, ...]
    heavy: Heavy
    joints: Joints
    rehearsal: Rehearsal
    kick_up: KickUp
    words: SessionWords
    weights: Weights
    growth: Growth
    open_sets: OpenSets
    failed: Failed
    before: Before
    habits: tuple[Habit, ...]
    stand_ins: tuple[StandIn, ...]
    standing_still: StandingStill
    practice: Practice
    wrong_turns: WrongTurns
    floats: tuple[str, ...]
    lighter_lines: Mapping[str, str]
    lighter_share: Figure
    usual_sets: Range
    usual_rep_sets: Range
    least_reps_share: Figure
    goal_counts: tuple[float, ...]
    again_counts: tuple[float, ...]
    usual_days: tuple[int, ...]
    usual_minutes: Figure
    change_over_s: Figure
    single_s: Figure
    stretch_s: Figure
    rest_work_ratio: Figure
    least_rest_s: Figure
    hold_share: Figure
    first_share: Figure
    first_hold_s: Figure
    short_hold_s: Figure
    short_tries: Range
    touches_to_seconds: Figure
    gate_try_from: Figure
    metre_s: Figure
    minutes_first: Figure
    minutes_most: Figure
    clean_to_step: Figure
    singles_most: Figure
    short_tries_most: Figure
    singles_least: Figure
    recent_days: Figure
    keep_ahead_days: Figure
    retest_after_days: Figure
    fallback_step_cm: Figure
    float_margin: Figure
    ramp: Figure
    ramp_weeks: Figure
    least_week_load_s: Figure
    blocks_most: Figure
    least_block_s: Figure
    holding_counts: Figure
    most_days_a_week: Figure
    days_by_pillar: Mapping[str, Figure]
    main_drills: Figure
    main_share: Figure
    beside_share: Figure
    beside_least_s: Figure
    not_for_shy: tuple[str, ...]
    heavy_most: Figure
    load_stops_at: Figure
    poor_energy: Figure
    good_energy: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class Because:
    """One reason in a sentence, and where its rule comes from (empty where it only tells what happened)."""

    text: str
    origin: Origin | Literal[""] = ""
