"""A coach's account, who left, the archive, a clock that is off, and paper: driven as a coach would."""

import json
import re
from datetime import UTC, datetime, timedelta
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Server, arrive, query
from tests.browser.test_accessibility import assert_accessible
from wise_perch.machine.postgres import Cluster

PASSWORD = "tram-depot-hall"


def to_account(page: Page) -> None:
    page.get_by_role("button", name="account and look").click()
    page.get_by_role("menuitem", name="Account").click()
    expect(page.get_by_role("heading", name="Account")).to_be_visible()


def test_an_account_is_kept_in_order(coach: Page, hall: Server, browser: Browser) -> None:
    """Another device is signed out by name, a token is made and taken back, the zone and the password change;
    the page passes axe-core's rules.
    """
    phone = browser.new_page(user_agent="Mozilla/5.0 (Mobile)")
    phone.goto(hall.url)
    phone.get_by_label("Password").fill(PASSWORD)
    phone.get_by_role("button", name="Sign in").click()
    expect(phone.get_by_role("heading", level=1)).to_contain_text("to decide")
    to_account(coach)
    coach.get_by_role("button", name=re.compile("^Sign it out: a phone or tablet")).click()
    expect(coach.get_by_text("A phone or tablet")).to_be_hidden()
    phone.reload()
    expect(phone.get_by_role("heading", name="Sign in")).to_be_visible()
    phone.close()

    coach.get_by_label("What it is for").fill("nightly export")
    coach.get_by_role("button", name="Make a token").click()
    expect(coach.get_by_text("shown this once")).to_be_visible()
    expect(coach.get_by_text(re.compile("^perch_"))).to_be_visible()
    assert_accessible(coach, "Account")
    coach.get_by_role("button", name="Take it back: nightly export").click()
    expect(coach.get_by_role("button", name="Take it back: nightly export")).to_have_count(0)

    coach.get_by_label("Present password").fill("not this")
    coach.get_by_label("New password").fill("another long password")
    coach.get_by_role("button", name="Change the password").click()
    expect(coach.get_by_text("That is not your present password")).to_be_visible()
    coach.get_by_label("Present password").fill(PASSWORD)
    coach.get_by_role("button", name="Change the password").click()
    expect(coach.get_by_text("every other device is signed out")).to_be_visible()


def test_a_trainee_leaves_comes_back_and_is_erased(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Put away under Details, brought back, put away again, saved alone, and erased with a receipt: nothing
    of theirs is left.
    """
    coach.get_by_role("link", name="Aslak Rem", exact=True).click()
    for again in (True, False):
        coach.get_by_role("button", name="Details").click()
        coach.get_by_role("button", name="Put away: they left").click()
        expect(coach.get_by_role("heading", name="Trainees put away")).to_be_visible()
        expect(coach.get_by_text(re.compile("^Aslak Rem since"))).to_be_visible()
        if again:
            coach.get_by_role("button", name="Bring back: Aslak Rem").click()
            expect(coach.get_by_text("Nobody is put away.")).to_be_visible()
            coach.get_by_role("link", name="Today").click()
            coach.get_by_role("link", name="Aslak Rem", exact=True).click()
    with coach.expect_download() as saved:
        coach.get_by_role("link", name="Save everything of theirs").click()
    records = json.loads(Path(saved.value.path()).read_text("utf-8"))
    assert [r["record"] for r in records] == ["archive", "trainee"]
    coach.get_by_role("button", name="Erase for good …").click()
    dialog = coach.get_by_role("dialog")
    expect(dialog).to_contain_text("does not come back")
    assert_accessible(coach, "Erase")
    dialog.get_by_label("Their name, as it is kept").fill("Aslak Rem")
    dialog.get_by_label("Your password").fill(PASSWORD)
    dialog.get_by_role("button", name="Erase for good").click()
    expect(dialog).to_be_hidden()
    with coach.expect_download() as receipt:
        coach.get_by_role("button", name="Save the receipt").click()
    counted = json.loads(Path(receipt.value.path()).read_text("utf-8"))["counted"]
    assert counted["evidence"] == len(records[1]["evidence"]) > 0
    assert query(hall, cluster, "select count(*) from trainee where name = 'Aslak Rem'") == [(0,)]


def test_a_hall_is_taken_home_and_looked_at_again(coach: Page, tmp_path: Path) -> None:
    """The archive is saved and looked at: everybody is here already. Without one of them it says who would
    come, keeps them, and they stand on Today.
    """
    coach.get_by_role("link", name="Files").click()
    with coach.expect_download() as saved:
        coach.get_by_role("link", name="Save the archive").click()
    saved.value.save_as(tmp_path / "hall.json")
    region = coach.get_by_role("region", name="The whole hall")
    region.get_by_label("Take an archive in").set_input_files(tmp_path / "hall.json")
    expect(region).to_contain_text("nobody new")
    expect(region.get_by_role("button", name="Keep all of it")).to_have_count(0)
    text = (tmp_path / "hall.json").read_text("utf-8")
    other = text.replace("Tove Brenna", "Tove's Twin").replace(
        next(r["id"] for r in json.loads(text) if r.get("name") == "Tove Brenna"),
        "01a211c7-0000-7000-8000-000000000001",
    )
    (tmp_path / "other.json").write_text(other, "utf-8")
    region.get_by_label("Take an archive in").set_input_files(tmp_path / "other.json")
    expect(region.get_by_role("alert")).to_contain_text("contradicts itself")
    (tmp_path / "cut.json").write_text(text[: len(text) // 2], "utf-8")
    region.get_by_label("Take an archive in").set_input_files(tmp_path / "cut.json")
    expect(region.get_by_role("alert")).to_contain_text("Nothing was kept")


def test_new_people_from_a_csv_are_asked_about(coach: Page, tmp_path: Path) -> None:
    """A CSV with somebody new says what it does not hold, and is kept only after the coach's word."""
    (tmp_path / "new.csv").write_text(
        "trainee,day,drill,measure,value\nNew Person,3.5.2026,Pike hold,hold,20\n", "utf-8"
    )
    coach.get_by_role("link", name="Files").click()
    region = coach.get_by_role("region", name="Evidence")
    region.get_by_label("CSV file").set_input_files(tmp_path / "new.csv")
    expect(region).to_contain_text("A CSV holds no intake")
    expect(region.get_by_role("button", name="Keep all of it")).to_be_disabled()
    region.get_by_label("I do their intake before anything upside down").check()
    region.get_by_role("button", name="Keep all of it").click()
    expect(region).to_contain_text("Kept: 1 piece of evidence.")


def test_a_clock_that_is_off_is_said(browser: Browser, hall: Server) -> None:
    """Two hours ahead of the server the page says so on every screen; on time it says nothing."""
    for hours, said in ((2, True), (0, False)):
        page = browser.new_page()
        page.clock.set_system_time(datetime.now(UTC) + timedelta(hours=hours))
        arrive(page, hall)
        expect(page.get_by_role("heading", level=1)).to_contain_text("to decide")
        expect(page.get_by_text("This device's clock is 2 hours fast")).to_have_count(int(said))
        page.close()


def test_paper_is_white_and_bears_the_name(coach: Page) -> None:
    """Printed from the dark hall, a trainee's page is black on white, with the name and without the beam."""
    coach.get_by_role("link", name="Aslak Rem", exact=True).click()
    expect(coach.get_by_role("region", name="Balance line")).to_be_visible()
    coach.evaluate("document.documentElement.dataset.theme = 'hall'")
    coach.emulate_media(media="print")
    colours = coach.evaluate(
        "[document.documentElement, document.body].map(e => getComputedStyle(e)).flatMap(s =>"
        " [s.backgroundColor, s.color])"
    )
    assert colours[:2] == ["rgb(255, 255, 255)", "rgb(0, 0, 0)"]
    expect(coach.get_by_text(re.compile("^Aslak Rem, \\w+day"))).to_be_visible()
    expect(coach.get_by_role("navigation", name="Screens")).to_be_hidden()
    coach.emulate_media(media="screen")
    expect(coach.get_by_text(re.compile("^Aslak Rem, \\w+day"))).to_be_hidden()


def test_the_halls_screens_have_no_violation(coach: Page, hall: Server) -> None:
    """The hall with a code for a phone, somebody's sheet, who did what, groups with their form, and the
    finder, which goes by two keys.
    """
    coach.goto(f"{hall.url}/hall")
    coach.get_by_role("button", name="Show a code").click()
    expect(coach.get_by_label("Wise Perch on this phone")).to_have_value(re.compile("/join/"))
    assert_accessible(coach, "The hall")
    coach.get_by_role("button", name="Change: Oskar Brandt").click()
    assert_accessible(coach, "Somebody of the hall")
    coach.get_by_role("button", name="Close").click()
    coach.get_by_role("link", name="Who did what").click()
    expect(coach.get_by_text("added a trainee").first).to_be_visible()
    assert_accessible(coach, "Who did what")
    coach.goto(f"{hall.url}/groups")
    coach.get_by_role("button", name="Change: Presses").click()
    assert_accessible(coach, "A group")
    coach.get_by_label("Name", exact=True).fill("Late presses")
    coach.get_by_role("button", name="Keep").click()
    expect(coach.get_by_role("heading", name="Late presses")).to_be_visible()
    coach.keyboard.press("Alt+n")
    coach.get_by_label("Name of a trainee").fill("ragn")
    assert_accessible(coach, "The finder")
    coach.keyboard.press("Enter")
    expect(coach).to_have_url(re.compile("/trainees/"))
    expect(coach.get_by_role("link", name="Ragna Voll").first).to_be_visible()


def test_a_coach_reads_it_their_way(coach: Page, hall: Server) -> None:
    """Inches beside centimetres, a comma: what is shown is written so, what is typed is not."""
    coach.goto(f"{hall.url}/account")
    for way in ("in and lb beside them", "3,1"):
        # the page is written anew
        with coach.expect_navigation():
            coach.get_by_role("radio", name=way).click()
        expect(coach.get_by_role("radio", name=way)).to_be_checked()
    coach.get_by_role("link", name="Kit").click()
    expect(coach.get_by_text("5 cm (2 in) pad")).to_be_visible()
    coach.get_by_label("Thickness, cm").fill("1.5")
    expect(coach.get_by_label("Thickness, cm")).to_have_value("1.5")


def test_a_tab_is_about_whom_was_just_gone_to(browser: Browser, hall: Server) -> None:
    """The screen of a trainee held back on its way: the tab leads to their plan and not to everybody's."""
    context = browser.new_context(service_workers="block")
    page, held = context.new_page(), []
    page.route("**/assets/live-*.js", lambda route: held.append(route))
    arrive(page, hall)
    page.get_by_role("link", name="Runa Aske", exact=True).click()
    page.get_by_role("link", name="Plan", exact=True).click()
    expect(page).to_have_url(re.compile("/trainees/[^/]+/plan$"))
    assert held, "the screen itself had not come"
    context.close()
