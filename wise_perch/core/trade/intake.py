"""A new trainee's first evening: what to ask before anybody goes upside down, and which tests to run first.

The questions and tests are data; the body's lengths are estimated from stature until measured.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field

from wise_perch.core.trade.decision import Figure

METRES_END_AT = 3.0
"""Nothing asked here is shorter than this in centimetres: what is below was typed in metres. Ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CautionQuestion:
    """One thing to ask with yes or no, and what to do on yes. `clinician`: nothing upside down before a
    licensed word, nor what loads one of `joints`. `closes`: drills that a yes closes whatever the word.
    """

    caution: str
    question: str
    advice: str
    clinician: bool = True
    joints: tuple[str, ...] = ()
    closes: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Experience:
    """Something a newcomer may have done before, which makes a test worth its minutes."""

    experience: str
    title: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstTest:
    """A test of the first assessment: how long it takes at honest rests, what it informs, and who is ready
    for it.

    `bench`: the test of the Bench that it is, run for the drill `subject` where that has several. `after`:
    experiences (any of them) without which it is left for later; `because` says why it is run.
    """

    test: str
    title: str
    minutes: Figure
    setup: str
    informs: tuple[str, ...]
    because: str
    bench: str
    subject: str = ""
    after: tuple[str, ...] = ()
    inverted: bool = False
    kit: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class LengthShare:
    """A body length as a share of stature, with how to take it and where the share comes from."""

    length: str
    title: str
    share: float
    how: str
    source: str
    least: float
    most: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Distance:
    """A distance that a coach sets by hand, asked once: how it is taken, and between which figures it lies,
    cm. `said`: what it is said of; `apart`: it lies between two of them.
    """

    distance: str
    title: str
    how: str
    said: str
    least: float
    most: float
    apart: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Intake:
    """The whole of the intake as data. `tests` stand in the order they are run: fresh first, mobility
    last.
    """

    cautions: tuple[CautionQuestion, ...]
    experiences: tuple[Experience, ...]
    tests: tuple[FirstTest, ...]
    warm_up_minutes: Figure
    one_day_minutes: Figure
    stature_least_cm: Figure
    stature_most_cm: Figure
    mass_least_kg: Figure
    mass_most_kg: Figure
    lengths: tuple[LengthShare, ...]
    distances: tuple[Distance, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Length:
    """One body length, cm. `estimated` from stature unless it was measured; `doubt` asks about an unlikely
    value.
    """

    length: str
    title: str
    cm: float
    estimated: bool
    source: str
    how: str
    doubt: str = ""


def lengths_of(intake: Intake, *, stature_cm: float, measured_cm: Mapping[str, float]) -> tuple[Length, ...]:
    """Give every body length: the measured one, or its share of stature marked as an estimate.

    Args: `stature_cm` crown to floor; `measured_cm` by the length's name.
    """
    found = []
    for share in intake.lengths:
        cm = measured_cm.get(share.length)
        estimate = share.share * stature_cm
        found.append(
            Length(
                length=share.length,
                title=share.title,
                cm=round(estimate, 1) if cm is None else cm,
                estimated=cm is None,
                source=share.source if cm is None else "measured",
                how=share.how,
                doubt="" if cm is None else _doubt_length(share, cm, stature_cm),
            )
        )
    return tuple(found)


def size_problem(
    intake: Intake, *, stature_cm: float, mass_kg: float | None, lengths_cm: Mapping[str, float]
) -> str | None:
    """Say what cannot be a trainee's size: stature or mass out of all bounds, metres for centimetres, a
    length nobody asks for.
    """
    least, most = intake.stature_least_cm.value, intake.stature_most_cm.value
    if stature_cm < METRES_END_AT:
        return f"A stature of {stature_cm:g} looks like metres; it is asked in centimetres."
    if not least <= stature_cm <= most:
        return f"A stature of {stature_cm:g} cm is outside {least:g} to {most:g} cm."
    if mass_kg is not None and not intake.mass_least_kg.value <= mass_kg <= intake.mass_most_kg.value:
        return (
            f"A mass of {mass_kg:g} kg is outside {intake.mass_least_kg.value:g} to"
            f" {intake.mass_most_kg.value:g} kg."
        )
    known = {x.length: x.title for x in intake.lengths}
    for name, cm in lengths_cm.items():
        if name not in known:
            return f"The intake knows no length named {name[:80]}."
        if cm < METRES_END_AT:
            return f"{known[name]} of {cm:g} looks like metres; it is asked in centimetres."
    return None


def _doubt_length(share: LengthShare, cm: float, stature_cm: float) -> str:
    if share.least * stature_cm <= cm <= share.most * stature_cm:
        return ""
    usual = share.share * stature_cm
    return (
        f"{share.title} of {cm:g} cm is far from the usual {usual:.0f} cm for {stature_cm:g} cm of stature."
        " Measure again, or keep it if it is so."
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Profile:
    """What the intake knows of a trainee. Lengths in cm, mass in kg; `cautions` by name, True where the
    answer was yes.

    `distances_cm`: what was once shown by hand. `confidence` from 1 to 5. `cleared` is the coach's
    confirmation once a caution was answered with yes.
    """

    stature_cm: float | None = None
    mass_kg: float | None = None
    lengths_cm: Mapping[str, float]
    cautions: Mapping[str, bool]
    cleared: bool = False
    experience: tuple[str, ...] = ()
    history: str = ""
    confidence: int | None = None
    kit: tuple[str, ...] = ()
    distances_cm: Mapping[str, float] = field(default_factory=dict)


def distance_problem(intake: Intake, distances_cm: Mapping[str, float]) -> str | None:
    """Say what cannot be a distance that is asked for; None where all can."""
    known = {d.distance: d for d in intake.distances}
    for name, cm in distances_cm.items():
        if name not in known:
            return f"Nobody asks for a distance named {name[:80]}."
        d = known[name]
        if not d.least <= cm <= d.most:
            return f"{d.title}: {cm:g} cm is outside {d.least:g} to {d.most:g} cm."
    return None


def awaits_clearance(intake: Intake, profile: Profile | None) -> tuple[CautionQuestion, ...]:
    """Give the cautions that keep a trainee the right way up until the coach confirms; none without an
    intake.
    """
    if profile is None or profile.cleared:
        return ()
    return tuple(q for q in intake.cautions if q.clinician and profile.cautions.get(q.caution))


@dataclass(frozen=True, slots=True, kw_only=True)
class TestDay:
    """The tests of one day in their order, with the minutes they take, warm-up included."""

    tests: tuple[FirstTest, ...]
    minutes: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Later:
    """A test left for later, and why."""

    title: str
    because: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstTests:
    """Which tests to run first: all on one day, or over two, and what is left for later with the reason."""

    one_day: TestDay
    two_days: tuple[TestDay, ...]
    advice: str
    later: tuple[Later, ...]


def first_tests(
    intake: Intake, *, profile: Profile, wanted: Collection[str], shut: Collection[str] = ()
) -> FirstTests:
    """Choose the first tests.

    Args: `wanted` the drills below the trainee's goals; empty without a goal, which wants everything. `shut`:
    the drills that the intake's cautions keep closed.
    Returns: the tests in the order they are run, in one day and split over two.
    """
    held = bool(awaits_clearance(intake, profile))
    titles = {e.experience: e.title for e in intake.experiences}
    chosen: list[FirstTest] = []
    later: list[Later] = []
    for test in intake.tests:
        if test.inverted and held:
            later.append(Later(title=test.title, because="after the coach's confirmation: it is upside down"))
        elif set(test.informs) <= set(shut):
            later.append(Later(title=test.title, because="what the intake named keeps it closed"))
        elif wanted and not set(test.informs) & set(wanted):
            later.append(
                Later(title=test.title, because="the chosen goals do not lead through what it measures")
            )
        elif test.after and not set(test.after) & set(profile.experience):
            later.append(
                Later(
                    title=test.title,
                    because="for somebody who "
                    + " or ".join(titles[e][:1].lower() + titles[e][1:] for e in test.after),
                )
            )
        else:
            chosen.append(test)
    one = _test_day(chosen, intake)
    two = _split_days(chosen, intake) if len(chosen) > 1 else (one,)
    limit = intake.one_day_minutes.value
    advice = (
        f"{one.minutes} minutes at honest rests. It fits one day; two are kinder to tired hands."
        if one.minutes <= limit
        else f"{one.minutes} minutes at honest rests are more than {limit:g}: split it over two days."
    )
    return FirstTests(one_day=one, two_days=two, advice=advice, later=tuple(later))


def _test_day(tests: Sequence[FirstTest], intake: Intake) -> TestDay:
    minutes = sum(t.minutes.value for t in tests) + (intake.warm_up_minutes.value if tests else 0)
    return TestDay(tests=tuple(tests), minutes=round(minutes))


def _split_days(tests: Sequence[FirstTest], intake: Intake) -> tuple[TestDay, ...]:
    """Two days as even as the order allows: the fresh part first, the rest on the other day."""
    cuts = range(1, len(tests))
    best = min(
        cuts,
        key=lambda n: (abs(_test_day(tests[:n], intake).minutes - _test_day(tests[n:], intake).minutes), n),
    )
    return _test_day(tests[:best], intake), _test_day(tests[best:], intake)
