"""The whole walk of a coach: sign in, Today, bench, decision, wall bars; by keys only, and by touch only."""

import re
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Server, hold, open_bench, query
from wise_perch.demo.people import COACH_PASSWORD
from wise_perch.machine.postgres import Cluster


def test_sign_in_to_moved_wall_bars_by_keys(page: Page, hall: Server, cluster: Cluster) -> None:
    """A coach signs in, runs ten tries by one key each, reads the decision, and sees the bars moved."""
    page.clock.install()
    page.goto(hall.url)
    page.get_by_label("Password").fill("wrong password")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("do not fit together")
    page.get_by_label("Password").fill(COACH_PASSWORD)
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text(
        re.compile(r"^Thirteen trainees, \w+ things? to decide\.$")
    )

    open_bench(page, "Runa Aske")
    expect(page.get_by_text("Exits proven")).to_be_visible()
    for number in range(1, 8):
        hold(page, 10.5, "ArrowDown")
        expect(page.get_by_text(f"Try {number + 1} of 10 · rest first")).to_be_visible()
        page.clock.fast_forward(46_000)
        expect(page.get_by_text(f"Try {number + 1} of 10 · ready")).to_be_visible()
    page.keyboard.press("o")
    expect(page.get_by_text("Try 9 of 10")).to_be_visible()
    page.keyboard.press("u")
    hold(page, 3.2, "ArrowRight")
    expect(page.get_by_text("All tries are made.")).to_be_visible()
    figures = page.get_by_role("region", name="So far")
    expect(figures.get_by_role("row", name="10 s or more")).to_contain_text("7 of 10")
    page.keyboard.press("Enter")

    expect(page.get_by_role("heading", level=1)).to_have_text("Intermediate.")
    expect(page.get_by_text("7 of 10 tries lasted 10 s or longer")).to_be_visible()
    expect(page.get_by_text("Free hold, 10 s × 7 is met: 7 of 10.")).to_be_visible()
    page.get_by_role("link", name="To the wall bars").click()
    # the goal is reached, so the next one leads
    expect(page.get_by_role("heading", level=1)).to_have_text(
        "Runa Aske: Strength is what limits the strict wall handstand push-up."
    )
    page.get_by_role("button", name="Freestanding hold, 10 s in 7 of 10 · reached").click()
    expect(page.get_by_role("heading", level=1)).to_have_text(
        "Runa Aske: Freestanding hold, 10 s in 7 of 10: reached."
    )
    bar = page.get_by_role(
        "button", name=re.compile("^Free hold, 10 s × 7 · ahead of its rung 7 of 10 met: 7 of 10")
    )
    expect(bar).to_be_visible()

    rows = query(
        hall,
        cluster,
        "select try_number, outcome, fell, early, value from evidence where created_at > now() - interval '5"
        " minutes' and source = 'live' order by try_number",
    )
    assert [r[:4] for r in rows] == [(n, "held", "down", False) for n in range(1, 8)] + [
        (8, "overshot", None, False),
        (9, "undershot", None, True),
        (10, "held", "over", True),
    ]
    assert all(10.4 < r[4] < 12 for r in rows[:7])


def test_ten_tries_by_touch_on_a_phone(browser: Browser, hall: Server) -> None:
    """On a phone everything works by touch alone: holds, falls, marks, taking back, and the decision;
    controls are tall enough.
    """
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True)
    page = context.new_page()
    page.clock.install()
    page.goto(hall.url)
    page.get_by_label("Password").fill(COACH_PASSWORD)
    page.get_by_role("button", name="Sign in").tap()
    page.get_by_role("link", name="Ragna Voll", exact=True).tap()
    page.get_by_role("link", name="Test on the Bench").tap()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Tests for")
    page.get_by_role("link", name="Ten free tries").tap()
    page.get_by_role("checkbox").tap()
    page.get_by_role("button", name="Begin the test").tap()
    for name in (
        "Start",
        "fell under",
        "fell over",
        "came down",
        "Overshot",
        "Undershot",
        "Take back",
        "Pain stop",
        "loose",
    ):
        box = page.get_by_role("button", name=name, exact=True).bounding_box()
        assert box, name
        assert box["height"] >= 56, name
    page.get_by_role("button", name="Start", exact=True).tap()
    page.clock.fast_forward(4_000)
    page.get_by_role("button", name="Stop", exact=True).tap()
    page.get_by_role("button", name="loose").tap()
    expect(page.get_by_role("button", name="loose")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="fell under").tap()
    expect(page.get_by_text("Try 2 of 10")).to_be_visible()
    page.get_by_role("button", name="Undershot").tap()
    page.get_by_role("button", name="Take back").tap()
    expect(page.get_by_text("Try 2 of 10")).to_be_visible()
    for number in range(3, 12):
        page.get_by_role("button", name="Overshot").tap()
        expect(
            page.get_by_text(f"Try {number} of 10" if number < 11 else "All tries are made.")
        ).to_be_visible()
    page.get_by_role("button", name="See the decision").tap()
    expect(page.get_by_role("heading", name="Why")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), (
        "the page does not scroll sideways"
    )
    context.close()


def test_stopping_for_pain(coach: Page) -> None:
    """Pain ends the run with joint and level, the result defers to a clinician, and Today asks first."""
    coach.clock.install()
    open_bench(coach, "Kaia Hovden")
    hold(coach, 2, "ArrowRight")
    coach.keyboard.press("p")
    dialog = coach.get_by_role("dialog")
    dialog.get_by_label("right wrist").check()
    dialog.get_by_label("How much").fill("5")
    dialog.get_by_role("button", name="Stop the test").click()
    expect(coach.get_by_text("Stopped for pain: right wrist, 5 of 10.")).to_be_visible()
    expect(coach.get_by_text("belongs to a licensed clinician")).to_be_visible()
    coach.get_by_role("link", name="Today").first.click()
    expect(coach.get_by_text("Right wrist 5 of 10")).to_be_visible()


def test_a_set_is_recorded_and_struck_out(coach: Page) -> None:
    """From a bar: the gate with its origin, a set recorded, the bar met, the set struck out and brought
    back.
    """
    coach.get_by_role("link", name="Brage Sunn", exact=True).click()
    coach.get_by_role(
        "button", name=re.compile("^Shoulder rocks not met yet: .*closed until low-surface hold")
    ).click()
    expect(coach.get_by_role("dialog").get_by_text("Closed. It waits for:")).to_be_visible()
    coach.keyboard.press("Escape")
    coach.get_by_role("button", name=re.compile("^Low-surface hold 30 s not met yet: not tried yet")).click()
    dialog = coach.get_by_role("dialog")
    expect(dialog.get_by_text("30 s, clean (common practice)")).to_be_visible()
    dialog.get_by_label("Seconds").fill("31.5")
    dialog.get_by_role("button", name="Keep").click()
    expect(dialog.get_by_role("alert").filter(has_text="clean, loose or lost")).to_be_visible()
    dialog.get_by_label("clean").check()
    dialog.get_by_role("button", name="Keep").click()
    expect(dialog.get_by_text("Met: 31.5 s")).to_be_visible()
    dialog.get_by_role("button", name=re.compile("^Strike out 31.5 s")).click()
    expect(dialog.get_by_text("Not met yet: not tried yet")).to_be_visible()
    dialog.get_by_role("button", name=re.compile("^Bring back 31.5 s")).click()
    expect(dialog.get_by_text("Met: 31.5 s")).to_be_visible()


def test_the_first_coach_of_an_empty_installation(page: Page, empty_hall: Server) -> None:
    """Without a demo the first visit creates the first coach, and says what to do first; signing out shows
    the door again.
    """
    page.goto(empty_hall.url)
    page.get_by_label("Name").fill("Ada Fell")
    page.get_by_label("The hall").fill("Fell's Hall")
    page.get_by_label("Email").fill("ada@hall.example")
    page.get_by_label("Password").fill("a long enough one")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_text("Nobody trains here yet.")).to_be_visible()
    page.get_by_role("button", name="Add a trainee", exact=True).click()
    page.get_by_label("Name").fill("Tilda Moor")
    page.get_by_label("left").check()
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("heading", name="Before anybody goes upside down")).to_be_visible()
    page.get_by_role("link", name="Trainee", exact=True).click()
    expect(page.get_by_text("Steps out to the left.")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Ada")).click()
    page.get_by_role("menuitem", name="Sign out", exact=True).click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()


def test_files_in_and_out(coach: Page, tmp_path: Path) -> None:
    """A file with bad lines is refused by line; mended, it is looked at and then kept; the export is a
    CSV.
    """
    head = "trainee;test;started_at;try;outcome;seconds;fell;form;note\r\n"
    lines = (
        "Siv Ørn;free-tries;2026-05-03T18:00:00Z;1;held;3,1;over;;\r\nSiv"
        " Ørn;free-tries;2026-05-03T18:00:00Z;2;flew;;;;\r\n"
    )
    (tmp_path / "tries.csv").write_text("\ufeff" + head + lines, "utf-8")
    coach.get_by_role("link", name="Files").click()
    tries = coach.get_by_role("region", name="Tests")
    tries.get_by_label("CSV file").set_input_files(tmp_path / "tries.csv")
    expect(coach.get_by_text('line 3: outcome is "flew"')).to_be_visible()
    (tmp_path / "mended.csv").write_text("\ufeff" + head + lines.replace("flew", "overshot"), "utf-8")
    tries.get_by_label("CSV file").set_input_files(tmp_path / "mended.csv")
    expect(coach.get_by_text("The file would add 2 tries in 1 run.")).to_be_visible()
    coach.get_by_label("I do their intake before anything upside down").check()
    coach.get_by_role("button", name="Keep all of it").click()
    expect(coach.get_by_text("Kept: 2 tries in 1 run.")).to_be_visible()
    with coach.expect_download() as download:
        tries.get_by_role("link", name="Save the CSV").click()
    assert "Siv Ørn,free-tries,2026-05-03T18:00:00+00:00,1,held,3.1,over,," in Path(
        download.value.path()
    ).read_text("utf-8-sig")
    evidence = coach.get_by_role("region", name="Evidence")
    with coach.expect_download() as download:
        evidence.get_by_role("link", name="Save the CSV").click()
    (tmp_path / "evidence.csv").write_text(Path(download.value.path()).read_text("utf-8-sig"), "utf-8")
    evidence.get_by_label("CSV file").set_input_files(tmp_path / "evidence.csv")
    expect(
        evidence.get_by_text(re.compile(r"The file would add 0 pieces of evidence\. \d+ were kept before"))
    ).to_be_visible()
    coach.get_by_role("link", name="Today").click()
    expect(coach.get_by_role("link", name="Siv Ørn", exact=True)).to_be_visible()
