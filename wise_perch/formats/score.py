"""The door to the core without server or database: a file of tries in, figures out."""

from collections.abc import Sequence
from pathlib import Path
from typing import Any

from wise_perch.core.scoring import judge_tries
from wise_perch.core.scoring.verdict import RunFacts
from wise_perch.core.trade.file_lines import LineProblem, TryLine
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.formats.junk import Junk
from wise_perch.formats.tables import Unreadable
from wise_perch.formats.tries_csv import read_tries


def score_file(path: Path, syllabus: Syllabus) -> list[dict[str, Any]]:
    """Score every run of a CSV file, whatever its test, in file order.

    Returns: one dictionary a trainee, test and test start, with the figures of docs/formats.md.
    Raises: Junk if the file or any line of it cannot be read.
    """
    try:
        read = read_tries(path.read_bytes(), tests=syllabus.tests)
    except OSError as error:
        raise Junk([f"{path}: {error.strerror}"]) from error
    except Unreadable as error:
        raise Junk([f"{path.name}: {error}"]) from error
    problems = [*read.problems, *(p for line in read.lines if (p := unfit(line, syllabus)))]
    if problems:
        raise Junk([f"{path.name}: line {p.line}: {p.what}" for p in sorted(problems, key=lambda p: p.line)])
    return [_score_run(lines, syllabus) for lines in read.runs().values()]


def unfit(line: TryLine, syllabus: Syllabus) -> LineProblem | None:
    """Say what is wrong with a line once the drills are known: a drill that its test is not run for."""
    if line.drill and line.drill not in (
        able := {d.drill for d in syllabus.subjects(syllabus.tests[line.test])}
    ):
        shown = ", ".join(sorted(able)[:8]) + (" …" if len(able) > 8 else "")
        return LineProblem(line.line, f'drill is "{line.drill[:60]}"; {line.test} is run for {shown}')
    return None


def _score_run(lines: Sequence[TryLine], syllabus: Syllabus) -> dict[str, Any]:
    first = lines[0]
    test = syllabus.tests[first.test]
    known = RunFacts(
        day=first.started_at.date(),
        subject=syllabus.drills.get(first.drill),
        dial=first.dial,
        confidence=first.confidence,
        drills=syllabus.drills,
    )
    verdict = judge_tries(test, [line.tried for line in lines], known)
    said = {"decision": verdict.decision, "unchecked": verdict.unchecked, "reasons": verdict.reasons}
    return {
        "trainee": first.trainee,
        "test": test.test,
        "started_at": first.started_text,
        **verdict.figures,
        **said,
    }


def summary(found: list[dict[str, Any]]) -> str:
    """Say the scores in a few lines for a reader."""
    return "\n\n".join(_say_run(run) for run in found)


def _say_run(run: dict[str, Any]) -> str:
    level = f"{run['level']}, " if "level" in run else ""
    what = f", {run['drill']}" if run.get("drill") else ""
    head = f"{run['trainee']}, {run['started_at']}: {run['test']}{what}: {level}next: {run['decision']}"
    return head + "\n" + "\n".join(f"  {r}" for r in run["reasons"])
