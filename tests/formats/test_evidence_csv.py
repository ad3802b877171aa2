"""Evidence as CSV: the superset that the whole product reads and writes, every wrong cell named by its
line.
"""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from wise_perch.core.trade.evidence import COUNTED, Evidence, Form, Measure, Reason, Side
from wise_perch.core.trainee.stored import ExportedEvidence
from wise_perch.formats.evidence_csv import COLUMNS, NEEDED, read_evidence, write_evidence
from wise_perch.formats.tables import Unreadable

DRILLS = {
    "chest-to-wall-hold": "Chest-to-wall hold",
    "heel-float": "Heel float",
    "soft-wall-landing": "Soft wall landing",
    "pancake": "Pancake",
    "lunge-to-t": "Lunge to T",
}
LATER = ("asked", "reason")
HEAD = ",".join(c for c in COLUMNS if c not in LATER)
HOLD = "Åse Lund,2026-05-03,chest-to-wall-hold,hold,31.5,,,,hands-to-wall,12,clean,,4,live,ribs in"


def read(*lines: str) -> tuple[list[Evidence], list[tuple[int, str]]]:
    found = read_evidence("\r\n".join([HEAD, *lines, ""]).encode(), drills=DRILLS)
    return [line.piece for line in found.lines], [(p.line, p.what) for p in found.problems]


def test_a_line_carries_everything_that_was_seen() -> None:
    """Every column reaches the piece of evidence."""
    (piece,), problems = read(HOLD)
    assert not problems
    assert piece == Evidence(
        drill="chest-to-wall-hold",
        day=date(2026, 5, 3),
        measure=Measure.HOLD,
        value=31.5,
        form=Form.CLEAN,
        confidence=4,
        dial={"hands-to-wall": 12.0},
    )


def test_what_a_set_asked_for_is_read_and_an_empty_cell_is_an_open_set() -> None:
    """Beside what was done stands what was asked; without the column, or with an empty cell, the set was
    open; a count of tries asks for nothing, and what nobody asks for is refused.
    """

    def read_asked(line: str) -> tuple[list[Evidence], list[tuple[int, str]]]:
        found = read_evidence("\r\n".join([f"{HEAD},asked", line, ""]).encode(), drills=DRILLS)
        return [one.piece for one in found.lines], [(p.line, p.what) for p in found.problems]

    for cell, asked in (("30", 30.0), ("", None), ("31.5", 31.5)):
        (piece,), problems = read_asked(f"{HOLD},{cell}")
        assert (piece.asked, problems) == (asked, [])
    (piece,), _ = read_asked(f"{HOLD},30")
    assert piece.as_asked
    assert not piece.open_set
    assert read_asked(f"{HOLD},-4")[1][0][1].startswith("-4 s cannot have been asked for")
    rate = "A,2026-05-03,soft-wall-landing,rate,7,10,,,,,clean,,,,"
    assert "is itself the measure" in read_asked(f"{rate},7")[1][0][1]


def test_why_a_set_failed_is_read_and_written() -> None:
    """One of four reasons, or none; another word is a complaint with its line."""

    def read_reason(cell: str) -> tuple[list[Evidence], list[tuple[int, str]]]:
        text = f"{HEAD},reason\r\n{HOLD},{cell}\r\n"
        found = read_evidence(text.encode(), drills=DRILLS)
        return [one.piece for one in found.lines], [(p.line, p.what) for p in found.problems]

    assert read_reason("")[0][0].reason is None
    for reason in Reason:
        assert read_reason(reason)[0][0].reason is reason
    assert read_reason("bored")[1] == [(2, 'reason is "bored"; it is one of strength, range, balance, fear')]


def test_the_other_measures_are_read() -> None:
    """Rates with their n, touches with their window, sides, modes, signed distances; an unmarked form counts
    as clean.
    """
    pieces, problems = read(
        "A,2026-05-03,soft-wall-landing,rate,7,10,,,,,clean,,,,",
        "A,2026-05-03,heel-float,touches,4,,,15,,,loose,,,,",
        "A,2026-05-03,heel-float,hold,6.2,,average of three,,,,clean,,,,",
        "A,2026-05-03,lunge-to-t,reps,5,,,,,,,left,,,",
        "A,2026-05-03,pancake,distance,-3,,,,,,clean,,,,",
    )
    assert problems == []
    assert [(p.measure.value, p.value, p.n, p.mode, p.window_s, p.side, p.form.value) for p in pieces] == [
        ("rate", 7, 10, None, None, None, "clean"),
        ("touches", 4, None, None, 15, None, "loose"),
        ("hold", 6.2, None, "average of three", None, None, "clean"),
        ("reps", 5, None, None, None, Side.LEFT, "clean"),
        ("distance", -3, None, None, None, None, "clean"),
    ]


@pytest.mark.parametrize(
    ("old", "new", "said"),
    [
        ("chest-to-wall-hold", "cheat-to-wall", 'drill "cheat-to-wall" is not in the syllabus'),
        (",hold,", ",holding,", "measure is"),
        (",hold,", ",,", "measure is empty"),
        ("31.5", "", "value is empty"),
        ("31.5", "-1", "hold goes from 0 to 3600 s"),
        ("31.5", "4000", "hold goes from 0 to 3600 s"),
        ("31.5", "nan", "not a number"),
        ("31.5,,", "31.5,10,", "Only a drill counted as k of n has a number of tries"),
        (",hold,31.5", ",reps,31.5", "whole numbers"),
        (",hold,31.5,,", ",rate,7,,", "is counted as k of n"),
        (",hold,31.5,,", ",rate,11,10,", "more than all"),
        ("2026-05-03", "3 May", "is not a day"),
        ("2026-05-03", "1999-12-31", "before the year 2000"),
        ("hands-to-wall,12", "hands-to-wall,", "belong together"),
        ("hands-to-wall,12", ",12", "belong together"),
        ("hands-to-wall,12", "hands-to-wall,1e9", "A setting of 1e+09 is not plausible"),
        (",clean,", ",tidy,", "form is"),
        (",clean,,", ",clean,middle,", "side is"),
        (",4,live", ",6,live", "from 1 to 5"),
        (",4,live", ",4,heard", "source is"),
        ("Åse Lund", "", "trainee is empty"),
        ("ribs in", "ribs\x07in", "cannot be printed"),
        (",ribs in", "", "14 cells, but the header names 15"),
    ],
)
def test_a_bad_line_is_named_and_the_good_ones_stay(old: str, new: str, said: str) -> None:
    """The line an editor shows, and the reason."""
    assert old in HOLD
    pieces, problems = read(HOLD, HOLD.replace(old, new, 1))
    assert len(pieces) == 1
    assert [(line, said in what) for line, what in problems] == [(3, True)], problems


def test_another_table_is_no_evidence() -> None:
    """A file of tries is refused by its columns; a header alone is an empty file of evidence."""
    with pytest.raises(Unreadable, match="missing column"):
        read_evidence(b"trainee,test\r\n", drills=DRILLS)
    assert read() == ([], [])


def test_a_header_of_a_million_names_is_refused_by_their_number() -> None:
    """Nothing is looked at name by name; of many wrong ones some are named, each cut short."""
    with pytest.raises(Unreadable, match="1000000 columns are more than the 60"):
        read_evidence(",".join(["x"] * 1_000_000).encode())
    with pytest.raises(Unreadable) as refused:
        read_evidence(f"{HEAD},{','.join(f'x{n}' + 'y' * 5000 for n in range(30))}".encode())
    assert len(str(refused.value)) < 2000


@given(
    st.builds(
        lambda measure, share, n, mode, window, dial, form, side, confidence, name, note: ExportedEvidence(
            trainee=name,
            day=date(2026, 5, 3),
            drill="heel-float",
            measure=measure.value,
            value=(
                float(round(share * n))
                if measure is Measure.RATE
                else round(share * 50)
                if measure in COUNTED
                else share * 50
            ),
            n=n if measure is Measure.RATE else None,
            mode=mode,
            window_s=window,
            dial=dial,
            form=form.value,
            side=side,
            confidence=confidence,
            source="live",
            note=note,
        ),
        st.sampled_from(list(Measure)),
        st.floats(0, 1),
        st.integers(1, 20),
        st.sampled_from([None, "average of three"]),
        st.sampled_from([None, 15.0]),
        st.sampled_from([{}, {"hands-to-wall": 12.5}]),
        st.sampled_from(list(Form)),
        st.sampled_from([None, "left", "right"]),
        st.sampled_from([None, 1, 5]),
        st.sampled_from(["Åse Lund", "=SUM(A1)", "O'Hara", "-2", "'quoted'"]),
        st.sampled_from(["", "=cmd", "a;b,c", 'say "tall"']),
    )
)
def test_what_is_written_reads_back(p: ExportedEvidence) -> None:
    """Export and import are the same evidence, to the last digit, names and notes that look like formulas
    included.
    """
    found = read_evidence(write_evidence([p]).encode(), drills=DRILLS)
    assert found.problems == []
    (line,) = found.lines
    piece = line.piece
    assert (line.trainee, line.note, line.source) == (p.trainee, p.note, p.source)
    assert (piece.measure, piece.n, piece.mode, piece.window_s, dict(piece.dial)) == (
        p.measure,
        p.n,
        p.mode,
        p.window_s,
        p.dial,
    )
    assert piece.value == pytest.approx(p.value, rel=1e-14)
    assert (piece.form, piece.side, piece.confidence) == (p.form, p.side, p.confidence)


def test_columns_that_say_nothing_may_be_left_out() -> None:
    """A coach's own sheet has five columns; what is left out is empty, the set clean and imported."""
    text = ",".join(NEEDED) + "\r\nA,2026-05-03,chest-to-wall-hold,hold,31.5\r\n"
    (line,) = read_evidence(text.encode(), drills=DRILLS).lines
    assert line.piece == Evidence(
        drill="chest-to-wall-hold", day=date(2026, 5, 3), measure=Measure.HOLD, value=31.5, form=Form.CLEAN
    )
    assert (line.source, line.note) == ("import", "")
    for missing in NEEDED:
        with pytest.raises(Unreadable, match=f"missing column: {missing}"):
            read_evidence(",".join(c for c in COLUMNS if c != missing).encode(), drills=DRILLS)


@pytest.mark.parametrize(
    ("written", "day"),
    [
        ("2026-05-03", "2026-05-03"),
        ("2026/5/3", "2026-05-03"),
        ("3.5.2026", "2026-05-03"),
        ("03. 05. 2026", "2026-05-03"),
        ("3 May 2026", "2026-05-03"),
        ("25/12/2025", "2025-12-25"),
        ("12/25/2025", "2025-12-25"),
        ("5/5/2026", "2026-05-05"),
    ],
)
def test_days_as_people_write_them(written: str, day: str) -> None:
    """A day is read in every way that can mean but one day."""
    (line,) = read_evidence(f"{HEAD}\n{HOLD.replace('2026-05-03', written)}\n".encode(), drills=DRILLS).lines
    assert line.piece.day.isoformat() == day


@pytest.mark.parametrize("written", ["3/5/2026", "31.2.2026", "May 2026", "5.2026", "3 Mai 2026", "2026-5"])
def test_a_day_that_is_none_or_two_is_asked_about(written: str) -> None:
    """What can be read as two days, or as none, is a bad line with a way to write it."""
    read = read_evidence(f"{HEAD}\n{HOLD.replace('2026-05-03', written)}\n".encode(), drills=DRILLS)
    assert (read.lines, "as 2026-05-03" in read.problems[0].what) == ([], True)


def test_a_drill_by_its_title_is_the_drill() -> None:
    """People write what they read on the screen, however cased."""
    text = HOLD.replace("chest-to-wall-hold", "CHEST-TO-WALL hold")
    (line,) = read_evidence(f"{HEAD}\n{text}\n".encode(), drills=DRILLS).lines
    assert line.piece.drill == "chest-to-wall-hold"


@pytest.mark.parametrize("name", ["Åse\u202eLund", "\u200bÅse", "Å\u200dse", "Åse\ufeff Lund"])
def test_a_name_with_what_nobody_sees_is_a_bad_line(name: str) -> None:
    """Marks of direction and spaces without width would make two trainees who look like one."""
    read = read_evidence(f"{HEAD}\n{HOLD.replace('Åse Lund', name)}\n".encode(), drills=DRILLS)
    assert (read.lines, "cannot be seen" in read.problems[0].what) == ([], True)


def test_a_name_in_a_script_that_needs_joiners_stays_whole() -> None:
    """In some scripts a joiner is part of how a name is written, and seen."""
    name = "\u0645\u06cc\u200c\u0631\u0627"
    (line,) = read_evidence(f"{HEAD}\n{HOLD.replace('Åse Lund', name)}\n".encode(), drills=DRILLS).lines
    assert line.trainee == name


def test_written_for_spreadsheets_with_decimal_commas_it_reads_back() -> None:
    """Semicolons between cells, commas in figures and nowhere else; a figure below zero is no formula and
    stays a number; what could run is still guarded.
    """
    p = ExportedEvidence(
        trainee="Tilda 3.5",
        day=date(2026, 5, 3),
        drill="pancake",
        measure=Measure.HEIGHT,
        value=-12.5,
        asked=None,
        n=None,
        mode=None,
        window_s=None,
        dial={},
        form=Form.CLEAN,
        side=None,
        confidence=None,
        reason=None,
        source="after",
        note="=2.5",
    )
    text = write_evidence([p], semicolons=True)
    assert "Tilda 3.5;2026-05-03;pancake;height;-12,5;" in text
    assert "'=2.5" in text
    assert ",-12.5," in write_evidence([p])
    for written in (text, write_evidence([p])):
        (line,) = read_evidence(written.encode(), drills=DRILLS).lines
        assert (line.piece.value, line.trainee, line.note) == (-12.5, "Tilda 3.5", "=2.5")
