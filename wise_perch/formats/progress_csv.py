"""Every series of a trainee as a CSV. Documented in docs/formats.md."""

from collections.abc import Iterable
from dataclasses import replace

from wise_perch.core.progress.measure_words import way_words
from wise_perch.core.progress.series import Series
from wise_perch.core.trade.evidence import MEASURE_UNITS, Measure
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.marks import fill_of_gate
from wise_perch.formats.tables import write_table

COLUMNS = (
    "trainee",
    "drill",
    "title",
    "way",
    "side",
    "day",
    "value",
    "n",
    "unit",
    "at_least",
    "told_by",
    "clean",
    "gate",
    "share_of_gate",
)
DIGITS = 4


def write_progress(
    name: str, every: Iterable[Series], syllabus: Syllabus, *, semicolons: bool = False
) -> str:
    """Write every reading of these series, a line each."""
    rows = [
        [
            name,
            s.drill,
            syllabus.drills[s.drill].title,
            way_words(replace(s, side=None)),
            s.side.value if s.side else "",
            r.day.isoformat(),
            f"{r.value:g}",
            "" if r.n is None else str(r.n),
            "of" if s.gate.measure is Measure.RATE else MEASURE_UNITS[s.gate.measure],
            "yes" if r.bound else "",
            r.by,
            "yes" if r.clean else "",
            s.gate.text,
            f"{round(fill_of_gate(r.value, r.n, s.gate), DIGITS):g}",
        ]
        for s in every
        for r in s.readings
    ]
    return write_table(COLUMNS, rows, semicolons=semicolons, figures=("value", "share_of_gate"))
