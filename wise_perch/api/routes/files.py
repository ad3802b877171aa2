"""Tries and evidence in and out as CSV."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, date, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query, Response, UploadFile
from psycopg import Connection

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import House, load_cases, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.file_lines import LineProblem
from wise_perch.core.trainee.case import evidence_of_ended_run, gather_evidence
from wise_perch.core.trainee.stored import ExportedEvidence, Trainee
from wise_perch.formats.evidence_csv import of_known_drills, read_evidence, write_evidence
from wise_perch.formats.score import unfit
from wise_perch.formats.tables import Unreadable
from wise_perch.formats.tries_csv import read_tries, write_tries
from wise_perch.store import evidence, trainees
from wise_perch.store.evidence_import import (
    EvidencePlan,
    drop_pieces,
    import_evidence,
    same_key,
    told_of_tests,
)
from wise_perch.store.imports import ImportPlan, hold_imports, import_tries
from wise_perch.store.pool import transaction

router = APIRouter(tags=["files"])
PROBLEMS_NAMED, NAMED = 200, 10
TestName = Annotated[str, Query(max_length=60, pattern="^[a-z-]+$")]


@router.get("/tries.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def export_tries(
    app: TheApp,
    member: SignedIn,
    trainee: UUID | None = None,
    test: TestName | None = None,
    semicolons: bool = False,
) -> Response:
    """Every try of an ended run that counts, of all trainees or one, of all tests or one, as CSV; with
    `semicolons` decimals have commas, as some spreadsheets want it.
    """
    with transaction(app.pool, member=member) as db:
        if trainee:
            trainees.one(db, trainee)
        tries = evidence.every_try(db, trainee=trainee, test=test)
        house = load_house(db)
        text = write_tries(tries, tests=house.syllabus_as_written.tests, semicolons=semicolons)
        day = house.today
    return as_csv(text, f"{test or 'tries'}-{day}.csv")


def as_csv(text: str, name: str) -> Response:
    """A table as a file to keep."""
    # a mark at the start tells spreadsheets that the text is UTF-8
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(b"\xef\xbb\xbf" + text.encode(), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/tries.csv")
def import_tries_file(
    file: UploadFile, app: TheApp, member: Coaching, keep: bool = False, intake_follows: bool = False
) -> ImportPlan:
    """Read a CSV of tries: without `keep` only say what would happen, with it keep all or nothing. Where it
    brings new trainees `intake_follows` says that they are asked before anything upside down.
    """
    with transaction(app.pool, member=member) as db:
        tests = load_house(db).syllabus_as_written.tests
    try:
        read = read_tries(file.file.read(), tests=tests)
    except Unreadable as error:
        raise Refused(422, str(error)) from error
    with transaction(app.pool, member=member) as db:
        hold_imports(db)
        house = load_house(db)
        tests_now = house.syllabus_as_written.tests
        if any(line.test not in tests_now for line in read.lines):
            raise Refused(409, "The tests have changed while the file was read. Send it again.")
        known = replace(
            read, problems=[*read.problems, *(p for line in read.lines if (p := unfit(line, house.syllabus)))]
        )
        plan = import_tries(
            db,
            known,
            tests=tests_now,
            time_zone=house.hall.time_zone,
            now=datetime.now(UTC),
            keep=keep,
        )
        _ask_for_intake(plan, intake_follows)
        if plan.kept:
            _drop_what_runs_say(db, sorted({line.trainee for line in known.lines}), house)
    if keep:
        _refuse_lines(plan.problems)
    return plan


def _drop_what_runs_say(db: Connection, names: Sequence[str], house: House) -> None:
    """Take out what an earlier file of evidence said of runs that are here now: each counts once, whichever
    file came first.
    """
    ids = [t.id for t in trainees.by_names(db, names).values()]
    loaded = load_cases(db, ids, house, on=date.max)
    said = {
        id: Counter(
            same_key(p) for run in one.case.runs or () for p in evidence_of_ended_run(run, one.case.syllabus)
        )
        for id, one in loaded.items()
    }
    twice = []
    for trainee, id, piece in told_of_tests(db, ids, time_zone=house.hall.time_zone):
        if said[trainee][same_key(piece)] > 0:
            said[trainee][same_key(piece)] -= 1
            twice.append(id)
    drop_pieces(db, twice, moment=datetime.now(UTC))


def _ask_for_intake(plan: ImportPlan | EvidencePlan, intake_follows: bool) -> None:
    """Raise Refused (422), and with it take back what was kept, where a file brings people nobody asked."""
    if plan.kept and plan.new_trainees and not intake_follows:
        raise Refused(
            422,
            f"Nothing was kept: {', '.join(plan.new_trainees[:NAMED])} would be new, and a CSV holds no"
            " cautions, no clearance and no pain. Take an archive in, or say that their intake follows before"
            " anything upside down (intake_follows).",
        )


def _refuse_lines(problems: Sequence[LineProblem]) -> None:
    if problems:
        named = [{"where": f"line {p.line}", "what": p.what} for p in problems[:PROBLEMS_NAMED]]
        raise Refused(422, f"Nothing was kept: {len(problems)} lines cannot be read.", problems=named)


@router.get("/evidence.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def export_evidence(
    app: TheApp, member: SignedIn, trainee: UUID | None = None, semicolons: bool = False
) -> Response:
    """All evidence that counts, of all trainees or one: recorded sets, and what test runs say about drills;
    with `semicolons` decimals have commas, as some spreadsheets want it.
    """
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        everybody = [trainees.one(db, trainee)] if trainee else trainees.every(db)
        lines = export_lines(db, everybody, house)
    return as_csv(write_evidence(lines, semicolons=semicolons), f"evidence-{house.today}.csv")


def export_lines(db: Connection, everybody: Sequence[Trainee], house: House) -> list[ExportedEvidence]:
    """All evidence of these trainees that counts: recorded sets, and what test runs say about drills."""
    zone, alone = house.hall.time_zone, everybody[0].id if len(everybody) == 1 else None
    loaded = load_cases(db, [t.id for t in everybody], house, on=date.max)
    runs = [(t.name, loaded[t.id].case, run) for t in everybody for run in loaded[t.id].case.runs or ()]
    worked_out = [
        _export_piece(name, p) for name, case, run in runs for p in evidence_of_ended_run(run, case.syllabus)
    ]
    return [*evidence.every_set(db, trainee=alone, time_zone=zone), *worked_out]


def _export_piece(name: str, p: Evidence) -> ExportedEvidence:
    return ExportedEvidence(
        trainee=name,
        day=p.day,
        drill=p.drill,
        measure=p.measure,
        value=p.value,
        asked=p.asked,
        n=p.n,
        mode=p.mode,
        window_s=p.window_s,
        dial=dict(p.dial),
        form=p.form,
        side=p.side,
        confidence=p.confidence,
        reason=p.reason,
        source="test",
        note="",
    )


@router.post("/evidence.csv")
def import_evidence_file(
    file: UploadFile, app: TheApp, member: Coaching, keep: bool = False, intake_follows: bool = False
) -> EvidencePlan:
    """Read a CSV of evidence: without `keep` only say what would happen, with it keep all or nothing. Where
    it brings new trainees `intake_follows` says that they are asked before anything upside down.
    """
    try:
        # read before any connection is held: a large file takes its time
        as_written = read_evidence(file.file.read())
    except Unreadable as error:
        raise Refused(422, str(error)) from error
    with transaction(app.pool, member=member) as db:
        hold_imports(db)
        house = load_house(db)
        drills = {
            d.drill: d.title
            for line in house.syllabus_as_written.content.lines
            for rung in line.rungs
            for d in rung
        }
        read = of_known_drills(as_written, drills)
        named = trainees.by_names(db, sorted({line.trainee for line in read.lines}))
        loaded = load_cases(db, [t.id for t in named.values()], house, on=date.max)
        known = {lower: gather_evidence(loaded[t.id].case) for lower, t in named.items()}
        plan = import_evidence(
            db, read, known=known, today=house.today, time_zone=house.hall.time_zone, keep=keep
        )
        _ask_for_intake(plan, intake_follows)
    if keep:
        _refuse_lines(plan.problems)
    return plan
