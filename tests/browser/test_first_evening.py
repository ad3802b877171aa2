"""A hall's first evening: an empty hall leads its owner from a kit to a first week, a step at a time."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.test_accessibility import assert_accessible


def begin_hall(page: Page, hall: Server) -> None:
    page.goto(hall.url)
    page.get_by_label("Name").fill("Ada Fell")
    page.get_by_label("The hall").fill("Fell's Hall")
    page.get_by_label("Email").fill("ada@hall.example")
    page.get_by_label("Password").fill("a long enough one")
    page.get_by_role("button", name="Begin").click()


def today(page: Page) -> None:
    page.get_by_role("link", name="Today", exact=True).click()
    expect(page.get_by_text(re.compile("trainees?, ")).first).to_be_visible()


def test_an_empty_hall_leads_its_owner_by_the_hand(page: Page, empty_hall: Server) -> None:
    """Kit, trainee, intake, test, week: each begins from the page, is done there, and the next one is named;
    one is put off and found again; then the guide is gone.
    """
    begin_hall(page, empty_hall)
    guide = page.get_by_role("region", name="The first evening")
    expect(guide).to_contain_text(re.compile(r"About 1[0-4] minutes from here\."))
    expect(page.get_by_text("Today lists every trainee")).to_be_visible()
    assert_accessible(page, "First evening")
    # put off, and found again after the page was left
    guide.get_by_role("button", name="Later: Tick the kit").click()
    expect(guide.get_by_text("Tick the kit")).to_be_hidden()
    page.reload()
    guide.get_by_role("button", name="Show what was put off").click()
    guide.get_by_role("button", name="Take up again: Tick the kit").click()
    expect(guide.get_by_role("button", name="Later: Tick the kit")).to_be_visible()
    guide.get_by_role("link", name="Begin here").click()
    page.get_by_role("checkbox", name="3 cm pads").check()
    page.get_by_role("checkbox", name="45 cm box").check()
    page.get_by_role("button", name="Add what is ticked").click()
    expect(page.get_by_label("How many 45 cm boxes")).to_have_value("1")
    today(page)
    expect(guide.get_by_text("Tick the kit, done")).to_be_visible()

    guide.get_by_role("link", name="Begin here").click()
    page.get_by_label("Name", exact=True).last.fill("Tilda Moor")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("heading", name="Before anybody goes upside down")).to_be_visible()
    for question in page.get_by_role("group").filter(has=page.get_by_role("radio", name="no")).all():
        question.get_by_label("no").check()
    page.get_by_label("Freestanding hold, 10 s in 7 of 10").check()
    page.get_by_label("Stature, cm").fill("171")
    page.get_by_role("button", name="Keep the intake").click()
    expect(page.get_by_text("Kept. Earlier answers stay on record.")).to_be_visible()

    today(page)
    expect(guide.get_by_text("Ask what the intake asks, done")).to_be_visible()
    guide.get_by_role("link", name="Begin here").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Tests for")
    page.get_by_role("link", name="Ten free tries").click()
    page.get_by_role("checkbox").check()
    page.get_by_role("button", name="Begin the test").click()
    for n in range(1, 11):
        expect(page.get_by_text(f"Try {n} of 10")).to_be_visible()
        page.keyboard.press("o")
    page.get_by_role("button", name="See the decision").click()
    expect(page.get_by_role("heading", name="Why")).to_be_visible()

    today(page)
    expect(guide.get_by_text("Run a first test, done")).to_be_visible()
    guide.get_by_role("link", name="Begin here").click()
    page.get_by_role("button", name="Keep this week").click()
    expect(page.get_by_role("link", name="Print")).to_be_visible()
    page.get_by_role("link", name="Today", exact=True).click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("One trainee")
    expect(guide).to_be_hidden()


def test_a_made_up_trainee_comes_and_goes(page: Page, empty_hall: Server) -> None:
    """To look round with: four months of a drawn history, marked as made up, taken away without a trace;
    what a screen is for is said until it was read.
    """
    begin_hall(page, empty_hall)
    guide = page.get_by_role("region", name="The first evening")
    guide.get_by_role("button", name="Look round first, with a made-up trainee").click()
    guide.get_by_role("link", name="Look round with the sample trainee").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Sample: Frida Lund")
    expect(page.get_by_text("One trainee: the goal, what it waits for")).to_be_visible()
    page.get_by_role("button", name="Understood").click()
    expect(page.get_by_text("One trainee: the goal, what it waits for")).to_be_hidden()
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Sample: Frida Lund")
    expect(page.get_by_text("One trainee: the goal, what it waits for")).to_be_hidden()
    page.get_by_role("link", name="Today", exact=True).click()
    guide.get_by_role("button", name="Take the sample away").click()
    expect(page.get_by_text("Nobody trains here yet.")).to_be_visible()
    guide.get_by_role("button", name="I need no guide").click()
    expect(guide).to_be_hidden()
