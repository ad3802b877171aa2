"""The rotation of a class: what must never be broken, and what it is worth beside going by eye."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.evenings import LARGE, SMALL, draw_evening
from tests.class_checker import faults_of, waited
from wise_perch.core.class_night.question import ClassBlock, ClassQuestion, ClassTrainee, Hold
from wise_perch.core.class_night.rotate import Cancelled, rotate

TENTH = st.integers(1, 90).map(lambda n: n / 10)
KINDS = ("wall", "box", "open floor", "bar")


@st.composite
def blocks(draw: st.DrawFn) -> ClassBlock:
    minutes = draw(TENTH)
    return ClassBlock(
        title=draw(st.sampled_from(("Climb", "Float", "Press"))),
        minutes=minutes,
        stations=tuple(draw(st.lists(st.sampled_from(KINDS), min_size=1, max_size=3, unique=True))),
        rest_after_min=draw(st.sampled_from((0, 0.5, 2))),
        hands_min=draw(st.sampled_from((0.0, 0.1, minutes))),
        shown=draw(st.sampled_from(("", "", "Float"))),
    )


@st.composite
def questions(draw: st.DrawFn) -> ClassQuestion:
    people = []
    for n in range(draw(st.integers(1, 7))):
        begins = draw(st.sampled_from((0.0, 0.0, 4.5)))
        people.append(
            ClassTrainee(
                name=f"Trainee {n}",
                blocks=tuple(draw(st.lists(blocks(), max_size=4))),
                from_min=begins,
                to_min=draw(st.sampled_from((None, None, begins + 12.5))),
            )
        )
    return ClassQuestion(
        minutes=draw(st.sampled_from((10.0, 30.0, 60.0))),
        stations={kind: draw(st.integers(0, 3)) for kind in KINDS},
        coaches=draw(st.integers(0, 2)),
        trainees=tuple(people),
    )


@settings(max_examples=120)
@given(questions())
def test_nothing_is_broken_whatever_is_asked(question: ClassQuestion) -> None:
    """No capacity broken, nobody twice, order and rests kept, hands only where a coach is; never worse than
    by eye, not below the bound; the same question gives the same answer.
    """
    found = rotate(question, tries=60)
    assert faults_of(question, found.slots, found.left_out) == []
    assert found.price.left_out == len(found.left_out)
    assert found.price.waited_min == pytest.approx(waited(question, found.slots))
    assert found.price.waited_min == pytest.approx(sum(found.waited_min))
    assert found.price.comes_to[0] <= found.by_eye.comes_to[0] + 1e-9
    if found.bound_min is not None:
        assert found.bound_min <= found.price.waited_min + 1e-9
    assert rotate(question, tries=60) == found


@settings(max_examples=80)
@given(questions(), st.integers(0, 300), st.integers(0, 20))
def test_what_is_past_stays_whatever_changes(question: ClassQuestion, at: int, over: int) -> None:
    """In the middle of the evening what has begun stays where it is, one block may run over, and the rest is
    laid out anew without breaking anything.
    """
    now = at / 10
    begun = [s for s in rotate(question, tries=20).slots if s.start_min < now]
    if begun:
        # the last begun block of somebody runs over, as far as its station is free: nobody stands there
        # after it yet
        last = max(begun, key=lambda s: (s.start_min, s.trainee))
        begun[begun.index(last)] = replace(last, end_min=round(last.end_min + over / 10, 1))
    later = replace(question, now_min=now, past=tuple(begun))
    found = rotate(later, tries=20)
    assert set(begun) <= set(found.slots)
    # what ran over may end after somebody had to leave; everything new may not
    assert faults_of(later, found.slots, found.left_out) == []


@pytest.mark.parametrize("people", [8, 10, 12])
def test_a_fifth_less_is_waited_than_by_eye(people: int) -> None:
    """From eight to twelve trainees the median evening waits at least a fifth less than by eye, none costs
    more.
    """
    stations = SMALL if people == 8 else LARGE
    shares = []
    for seed in range(21, 26):
        found = rotate(draw_evening(people, seed, stations=stations, minutes=90))
        assert found.price.comes_to[0] <= found.by_eye.comes_to[0]
        shares.append(found.price.comes_to[0] / found.by_eye.comes_to[0])
    assert sorted(shares)[2] <= 0.8


def test_what_does_not_fit_is_said_with_what_would_help() -> None:
    """Sixteen on two walls do not fit an hour; each way to help was tried and leaves less out, the best
    first.
    """
    question = draw_evening(16, 3, coaches=2)
    found = rotate(question)
    assert found.left_out
    assert found.bound_min is None
    assert found.would_help
    assert all(h.left_out < found.price.left_out for h in found.would_help)
    assert [h.left_out for h in found.would_help] == sorted(h.left_out for h in found.would_help)
    longer = next((h for h in found.would_help if h.change == "minutes"), None)
    if longer:
        assert rotate(replace(question, minutes=70)).price.left_out <= longer.left_out


def test_what_is_set_by_hand_is_kept_free() -> None:
    """A block that was put at a wall and a moment stands there though others would take it, with a coach."""
    question = draw_evening(8, 4, minutes=90)
    before = rotate(question)
    moved = next(s for s in before.slots if s.station == "wall" and s.hands)
    block = question.trainees[moved.trainee].blocks[moved.block]
    hold = Hold(trainee=moved.trainee, block=moved.block, start_min=40.0, station="wall", number=2)
    found = rotate(replace(question, holds=(hold,)))
    there = next(s for s in found.slots if (s.trainee, s.block) == (moved.trainee, moved.block))
    assert (there.start_min, there.station, there.number) == (40.0, "wall", 2), block
    assert faults_of(question, found.slots, found.left_out) == []


def test_what_is_shown_to_two_at_once_takes_the_coach_once() -> None:
    """Two who begin the same new drill together are shown it together; where the hands are for one alone
    they wait.
    """
    new = ClassBlock(title="Heel float", minutes=6, stations=("wall",), hands_min=4, shown="heel-float")
    pair = tuple(ClassTrainee(name=name, blocks=(new,)) for name in ("Tove", "Runa"))
    together = rotate(ClassQuestion(minutes=20, stations={"wall": 2}, coaches=1, trainees=pair))
    assert [s.start_min for s in together.slots] == [0.0, 0.0]
    alone = tuple(replace(p, blocks=(replace(new, shown=""),)) for p in pair)
    apart = rotate(ClassQuestion(minutes=20, stations={"wall": 2}, coaches=1, trainees=alone))
    assert sorted(s.start_min for s in apart.slots) == [0.0, 4.0]


def test_a_search_can_be_watched_and_stopped() -> None:
    """It says how far it is, and stops where nobody waits for it any more."""
    heard: list[float] = []

    def stop(share: float) -> bool:
        heard.append(share)
        return len(heard) < 3

    with pytest.raises(Cancelled):
        rotate(draw_evening(12, 1), on_progress=stop)
    assert heard == sorted(heard)
    assert len(heard) == 3
