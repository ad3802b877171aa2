"""Tries as CSV: what spreadsheets really write is read, what is wrong is named by line, what we write runs
nowhere.
"""

import csv
import io
from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from wise_perch.core.trade.evidence import Fell, Form, Outcome
from wise_perch.core.trainee.stored import ExportedTry
from wise_perch.formats.tables import Unreadable
from wise_perch.formats.tries_csv import COLUMNS, read_tries, write_tries
from wise_perch.syllabus.shipped import built_in

TESTS = built_in().tests
HEAD = ",".join(COLUMNS)
GOOD = "Åse Lund 🤸,free-tries,2026-05-03T18:00:00+02:00,1,held,3.1,over,clean,felt light"


def file(*lines: str, head: str = HEAD, end: str = "\r\n") -> bytes:
    return end.join([head, *lines, ""]).encode()


@pytest.mark.parametrize(
    "data",
    [
        file(GOOD),
        file(GOOD, end="\n"),
        b"\xef\xbb\xbf" + file(GOOD),
        file(GOOD).decode().encode("utf-16"),
        file(GOOD.replace(",", ";").replace("3.1", "3,1"), head=HEAD.replace(",", ";")),
        file(GOOD.replace(",", ";"), head=HEAD.replace(",", ";")),
        file(GOOD, "", ",,,,,,,,"),
        file(GOOD, head=HEAD.upper()),
        file(",".join(f'"{cell}"' for cell in GOOD.split(","))),
    ],
    ids=[
        "crlf",
        "lf",
        "mark",
        "utf-16",
        "semicolons-commas",
        "semicolons-points",
        "blank-lines",
        "upper-case-header",
        "quoted",
    ],
)
def test_what_spreadsheets_write_is_read(data: bytes) -> None:
    """Marks, separators, decimal commas, line ends, blank lines and quotes all give the same try."""
    read = read_tries(data, tests=TESTS)
    assert not read.problems
    (line,) = read.lines
    assert (line.trainee, line.tried.value, line.tried.outcome, line.tried.fell, line.tried.form) == (
        "Åse Lund 🤸",
        3.1,
        Outcome.HELD,
        Fell.OVER,
        Form.CLEAN,
    )


def test_old_spreadsheets_are_read_with_a_note() -> None:
    """Windows-1252 is read, and says that it was a guess."""
    read = read_tries(file(GOOD.replace(" 🤸", "")).decode().encode("cp1252"), tests=TESTS)
    assert (read.lines[0].trainee, "Windows-1252" in (read.note or "")) == ("Åse Lund", True)


@pytest.mark.parametrize(
    ("old", "new", "said"),
    [
        (",3.1,", ",-1,", "A hold lasts from 0 to 3600 s"),
        (",3.1,", ",36000,", "A hold lasts from 0 to 3600 s"),
        (",3.1,", ",nan,", "is not a number"),
        (",3.1,", ",long,", 'seconds "long" is not a number'),
        (",3.1,", ",,", "A held try needs its seconds"),
        (",held,", ",overshot,", "Seconds belong to a held try"),
        (",held,", ",flew,", "it is one of held, overshot, undershot"),
        (",held,", ",,", "outcome is empty"),
        (",over,", ",sideways,", "it is one of over, under, down"),
        (",clean,", ",pretty,", "it is one of clean, loose, lost"),
        (",1,", ",0,", 'try "0"'),
        (",1,", ",1.5,", 'try "1.5"'),
        ("2026-05-03T18:00:00+02:00", "yesterday", "not ISO 8601"),
        ("free-tries", "long-jump", 'test is "long-jump"'),
        ("Åse Lund 🤸", " ", "trainee is empty"),
        ("Åse Lund 🤸", "a\x01b", "cannot be printed"),
        (",felt light", "", "8 cells, but the header names 9"),
        ("felt light", '"felt" light', "not readable as CSV"),
    ],
)
def test_a_bad_line_is_named_by_number_and_reason(old: str, new: str, said: str) -> None:
    """Every wrong cell is reported with the line an editor would show, and the good lines stay good."""
    read = read_tries(
        file(GOOD, GOOD.replace(",1,", ",2,").replace(old.replace(",1,", ",2,"), new)), tests=TESTS
    )
    assert [(p.line, said in p.what) for p in read.problems] == [(3, True)], read.problems
    assert len(read.lines) == 1


def test_lines_are_counted_as_an_editor_counts() -> None:
    """A note over several lines does not shift the number of the line that is wrong."""
    note = GOOD.replace("felt light", '"one\ntwo\nthree"')
    assert read_tries(file(note, GOOD.replace("held", "flew")), tests=TESTS).problems[0].line == 5


def test_a_try_that_stands_twice_is_named() -> None:
    """The second line of one try of one run is a problem that points at the first."""
    assert (
        read_tries(file(GOOD, GOOD), tests=TESTS).problems[0].what
        == "try 1 of this run stands on line 2 already"
    )


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "missing column"),
        (
            file(GOOD, head=HEAD.replace("outcome", "result")),
            "missing column: outcome; unknown column: result",
        ),
        (file(GOOD, head=HEAD.replace(",note", "")), "missing column: note"),
        (file(GOOD, head=HEAD + ",note"), "named twice: note"),
        (b"\x00\x01\x02", "no text file"),
        (b"\x81\x8d" * 20, "no text file"),
    ],
)
def test_a_file_that_is_no_such_table(data: bytes, said: str) -> None:
    """A wrong or missing column, an empty file and a picture are refused as a whole, naming line 1."""
    with pytest.raises(Unreadable, match=said) as caught:
        read_tries(data, tests=TESTS)
    assert str(caught.value).startswith("line 1: ")


def test_a_header_alone_is_a_problem() -> None:
    """A table without a single try says so."""
    assert read_tries(file(), tests=TESTS).problems[0].what == "there are no tries below the header"


def exported(name: str, note: str, seconds: float | None = 3.1) -> ExportedTry:
    return ExportedTry(
        trainee=name,
        test="free-tries",
        started_at=datetime(2026, 5, 3, 16, 0, 0, 123000, tzinfo=UTC),
        number=1,
        outcome="held" if seconds is not None else "overshot",
        value=seconds,
        drill="",
        dial={},
        confidence=None,
        mode="",
        level=None,
        side=None,
        fell=None,
        form="loose",
        note=note,
    )


printable = st.text(
    st.characters(blacklist_categories=("Cc", "Cs", "Zl", "Zp", "Zs", "Cn")), min_size=1, max_size=30
)


# nobody's name holds marks that nobody sees
seen = st.text(
    st.characters(blacklist_categories=("Cc", "Cf", "Cs", "Zl", "Zp", "Zs", "Cn")), min_size=1, max_size=30
)


@given(
    seen | st.sampled_from(["=1+1", "+x", "-x", "@x", "'x", "'=x", "''"]),
    printable | st.sampled_from(['=HYPERLINK("x")', "a,b;c", 'say "hi"']),
)
def test_what_is_written_is_read_back_and_runs_nowhere(name: str, note: str) -> None:
    """A round trip keeps every name and note, and no cell starts as a formula would."""
    import unicodedata

    text = write_tries([exported(name, note)], tests=TESTS)
    for row in csv.reader(io.StringIO(text, newline="")):
        assert not any(cell.startswith(("=", "+", "-", "@", "\t", "\r")) for cell in row)
    read = read_tries(text.encode(), tests=TESTS)
    assert not read.problems
    assert (read.lines[0].trainee, read.lines[0].note) == (
        unicodedata.normalize("NFC", name),
        unicodedata.normalize("NFC", note),
    )
    assert read.lines[0].tried.value == 3.1


def test_what_is_written_follows_rfc_4180() -> None:
    """Lines end in CRLF, quotes are doubled, and the header is the documented one."""
    text = write_tries([exported("A", 'say "hi", now', None)], tests=TESTS)
    assert (
        text
        == f'{HEAD}\r\nA,free-tries,2026-05-03T16:00:00.123000+00:00,1,overshot,,,loose,"say ""hi"", now"\r\n'
    )


def test_fifty_thousand_lines_are_read() -> None:
    """A file of 50,000 tries is read whole."""
    lines = [
        GOOD.replace("18:00:00", f"{h:02}:{m:02}:{s:02}").replace(",1,", f",{n},")
        for h in range(2)
        for m in range(42)
        for s in range(60)
        for n in range(1, 11)
    ]
    read = read_tries(file(*lines[:50_000]), tests=TESTS)
    assert (len(read.lines), len(read.runs()), read.problems) == (50_000, 5_000, [])
