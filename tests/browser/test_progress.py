"""The long view in the real interface: a measure and its chances, what is told early, side by side, the
group, the report in the coach's words, a month for everybody, the own page.
"""

import re
from datetime import UTC, datetime

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, arrive, query
from tests.browser.test_accessibility import assert_accessible
from wise_perch.machine.postgres import Cluster


def progress_of(page: Page, trainee: str) -> None:
    page.get_by_role("link", name="Today").first.click()
    page.get_by_role("link", name=trainee, exact=True).click()
    page.get_by_role("navigation", name="Screens").get_by_role("link", name="Progress").click()
    expect(page.get_by_role("region", name="The measure")).to_be_visible()


def test_each_kind_of_story_is_read_from_its_page(coach: Page) -> None:
    """A riser with chances, a standstill with what practice would try, a course to be kept, a comeback, a
    week beyond the ramp, thin evidence.
    """
    heading = coach.get_by_role("heading", level=1)
    means = coach.get_by_role("region", name="What it means")
    progress_of(coach, "Sindre Lau")
    expect(heading).to_contain_text("It moves. Better than even by")
    expect(coach.get_by_role("img", name=re.compile("^Load week by week.*Pain was told"))).to_be_visible()
    progress_of(coach, "Marit Oland")
    expect(means).to_contain_text("stands still: at best")
    expect(means).to_contain_text("What practice would try:")
    progress_of(coach, "Ragna Voll")
    expect(means).to_contain_text("Stay the course: changing the programme now is the common loss.")
    expect(means).to_contain_text(
        re.compile(r"\d+ s of body weight on the hands this week. The ramp was \d+ s")
    )
    progress_of(coach, "Aslak Rem")
    expect(means).to_contain_text(re.compile(r"Back on \d+ \w+ after \d+ weeks away"))
    progress_of(coach, "Eilif Sand")
    expect(heading).to_have_text("Not known yet.")
    progress_of(coach, "Brage Sunn")
    expect(heading).to_have_text("Nothing measured yet.")


def test_a_measure_is_picked_and_read_as_a_table(coach: Page) -> None:
    """From what leads to the goal, or from all; in another way of measuring; as figures; saved as SVG."""
    progress_of(coach, "Runa Aske")
    measure = coach.get_by_role("region", name="The measure")
    coach.get_by_role("region", name="What leads to it").get_by_role(
        "button", name=re.compile("^Heel float")
    ).click()
    expect(measure).to_contain_text("Heel float · held, average of three")
    measure.get_by_label("Measured as").select_option(label="touches in 15 s")
    expect(measure).to_contain_text("Heel float · touches in 15 s")
    measure.get_by_text("As a table").click()
    expect(measure.get_by_role("table").first).to_contain_text("touches")
    with coach.expect_download() as saved:
        measure.get_by_role("button", name="Save the drawing").click()
    drawing = saved.value.path().read_text("utf-8")
    assert drawing.startswith("<svg")
    assert "var(--" not in drawing
    measure.get_by_role("combobox", name="Measure", exact=True).select_option(label="Chest-to-wall hold")
    expect(measure).to_contain_text("Chest-to-wall hold · held")
    expect(measure.get_by_role("img", name=re.compile("^Hands to wall: .* nearer is harder"))).to_be_visible()


def test_what_is_told_early_is_heard_once(coach: Page, hall: Server, cluster: Cluster) -> None:
    progress_of(coach, "Ragna Voll")
    told = coach.get_by_text("The ramp was")
    expect(told).to_be_visible()
    turn = told.locator("xpath=ancestor::div[1]")
    turn.get_by_role("button", name="Heard, say no more").click()
    expect(told).to_be_hidden()
    coach.reload()
    expect(coach.get_by_role("region", name="The measure")).to_be_visible()
    expect(told).to_be_hidden()
    assert len(query(hall, cluster, "select turn from turn_silenced where silenced")) == 1


def test_two_side_by_side(coach: Page) -> None:
    progress_of(coach, "Runa Aske")
    coach.get_by_role("link", name="Side by side").click()
    expect(coach.get_by_role("heading", level=1)).to_contain_text("Runa Aske, before and since")
    coach.get_by_label("Measure").select_option(label="Free hold, 5 s")
    coach.get_by_label("Beside").select_option(label="Sindre Lau")
    expect(coach.get_by_role("heading", level=1)).to_have_text("Runa Aske and Sindre Lau")
    for name in ("Runa Aske", "Sindre Lau"):
        expect(coach.get_by_role("region", name=name).get_by_role("img")).to_be_visible()
    assert_accessible(coach, "Side by side")


def test_the_group_and_a_month_for_everybody(coach: Page, hall: Server) -> None:
    """Filtered by what is looked for; a month's reports are written in one go and stand a page each."""
    arrive(coach, hall, "/group")
    expect(coach.get_by_role("heading", level=1)).to_contain_text("move")
    rows = coach.get_by_role("main").get_by_role("listitem")
    expect(rows).to_have_count(13)
    coach.get_by_role("button", name=re.compile(r"^1 back$")).click()
    expect(rows).to_have_count(1)
    expect(rows.first).to_contain_text("Aslak Rem")
    assert_accessible(coach, "The group")
    coach.get_by_role("link", name="Reports of a month").click()
    expect(coach.get_by_text("No report of this month is written yet.")).to_be_visible()
    coach.get_by_role("button", name="Write all 13").click()
    expect(coach.get_by_text("13 of 13 written.")).to_be_visible()
    expect(coach.get_by_role("article")).to_have_count(13)
    assert_accessible(coach, "Reports of a month")


def test_a_report_is_put_into_the_coachs_words(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Changed and kept it stands so; another device that changed the old wording is told, and its words stay
    in the form.
    """
    progress_of(coach, "Runa Aske")
    coach.get_by_role("link", name="Report to print").click()
    month = f"{datetime.now(UTC):%B %Y}"
    expect(coach.get_by_role("heading", level=1)).to_have_text(f"Runa Aske, {month}")
    assert_accessible(coach, "Report")
    other = coach.context.new_page()
    other.goto(coach.url)
    for page, words in ((coach, "Runa floats."), (other, "Runa nearly floats.")):
        page.get_by_role("button", name="Change the words").click()
        page.get_by_label("Is it working?").fill(words)
    assert_accessible(coach, "The words of a report")
    coach.get_by_role("button", name="Keep these words").click()
    expect(coach.get_by_role("article")).to_contain_text("Runa floats.")
    expect(coach.get_by_text("In your words of")).to_be_visible()
    other.get_by_role("button", name="Keep these words").click()
    expect(other.get_by_text("changed on another device meanwhile")).to_be_visible()
    expect(other.get_by_label("Is it working?")).to_have_value("Runa nearly floats.")
    assert query(hall, cluster, "select words ->> 'moves' from report") == [("Runa floats.",)]


def test_progress_passes_the_rules_and_fits_a_phone(coach: Page) -> None:
    progress_of(coach, "Runa Aske")
    expect(coach.get_by_role("region", name="Tests of single tries")).to_be_visible()
    assert_accessible(coach, "Progress")


def test_today_leads_to_what_stands_still(coach: Page) -> None:
    """Standing still is a thing to decide, in the words of the trainee's page, one tap from its measure."""
    row = coach.get_by_role("listitem").filter(has_text="Marit Oland")
    expect(row).to_contain_text("stands still")
    row.get_by_role("link", name=re.compile("^Progress: Marit Oland")).click()
    expect(coach.get_by_role("region", name="The measure")).to_contain_text(
        "Marit Oland · Free hold, 10 s × 7"
    )
