"""Every screen, in daylight and in the dark hall, without a violation that axe-core can find; and no call to
any other host.
"""

import json
import re
from urllib.parse import urlsplit

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, free_today, hold, open_bench
from wise_perch.machine.places import WEB
from wise_perch.machine.postgres import Cluster

AXE = (WEB / "node_modules" / "axe-core" / "axe.min.js").read_text("utf-8")


# what a theme can break is colour, what a width can break is layout: each is looked at in both of its values
LOOKS = (("day", 1280), ("hall", 360))
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]


def assert_accessible(page: Page, screen: str, *, narrow: bool = True) -> None:
    """Look at an open screen in daylight on a desk and in the dark hall on a phone; where `narrow`, it does
    not scroll sideways there. It is left as it came.
    """
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE)
    for theme, width in reversed(LOOKS):
        page.set_viewport_size({"width": width, "height": 800})
        page.evaluate(
            # at the top nothing lies under the beam, which stays in sight while a page scrolls
            "theme => { document.documentElement.dataset.theme = theme; scrollTo(0, 0);"
            # colours that are on their way are there
            " document.getAnimations().filter(a => a instanceof CSSTransition).forEach(a => a.finish()); }",
            theme,
        )
        found = page.evaluate("rules => axe.run(document, {runOnly: rules})", RULES)["violations"]
        shown = [(v["id"], v["nodes"][0]["target"], v["nodes"][0]["failureSummary"]) for v in found]
        assert not shown, f"{screen}, {theme}, {width} wide: {json.dumps(shown, indent=1)}"
        if narrow:
            sideways = page.evaluate("document.documentElement.scrollWidth - innerWidth")
            assert sideways <= 0, f"{screen} scrolls sideways by {sideways} px, {width} wide"


def test_no_violation_on_any_screen(coach: Page, hall: Server) -> None:
    """Sign-in, Today, trainee, drill, set-up, running, result and files pass axe-core's WCAG 2.2 AA rules."""
    hosts: set[str] = set()
    coach.on("request", lambda request: hosts.add(urlsplit(request.url).netloc))
    expect(coach.get_by_role("heading", level=1)).to_contain_text("to decide")
    assert_accessible(coach, "Today")
    coach.get_by_role("link", name="Files").click()
    expect(coach.get_by_role("heading", name="Files")).to_be_visible()
    assert_accessible(coach, "Files")
    coach.get_by_role("link", name="Today").click()
    coach.get_by_role("link", name="Aslak Rem", exact=True).click()
    expect(coach.get_by_role("region", name="Balance line")).to_be_visible()
    assert_accessible(coach, "Trainee")
    coach.get_by_role("button", name=re.compile("^Toe float 10 s")).click()
    expect(coach.get_by_role("heading", name="Evidence")).to_be_visible()
    assert_accessible(coach, "Drill")
    coach.keyboard.press("Escape")
    for button, screen in (("Change", "Goals"), ("Schools", "Schools of a trainee")):
        coach.get_by_role("button", name=button, exact=True).click()
        expect(coach.get_by_role("dialog")).to_be_visible()
        assert_accessible(coach, screen)
        coach.keyboard.press("Escape")
    coach.get_by_role("link", name="Intake", exact=True).click()
    expect(coach.get_by_role("heading", name="First tests")).to_be_visible()
    assert_accessible(coach, "Intake")
    coach.get_by_role("link", name="Syllabus").click()
    coach.get_by_role("button", name=re.compile("^Hollow hold")).click()
    for part in ("Gate", "Dose", "Cues", "Insert a rung"):
        coach.get_by_role("button", name=part, exact=True).click()
        assert_accessible(coach, f"Syllabus, {part}")
    coach.get_by_role("button", name="Retire").click()
    expect(coach.get_by_text("check fails").or_(coach.get_by_text("checks fail"))).to_be_visible()
    assert_accessible(coach, "Syllabus with a failing check")
    coach.get_by_role("button", name="Take the last edit back").click()
    coach.get_by_role("tab", name="Schools").click()
    expect(coach.get_by_role("region", name="Schools")).to_be_visible()
    assert_accessible(coach, "Schools of the coach")
    coach.get_by_role("button", name="Versions and files").click()
    expect(coach.get_by_role("dialog")).to_be_visible()
    assert_accessible(coach, "Versions")
    coach.keyboard.press("Escape")
    coach.get_by_role("link", name="Bench", exact=True).click()
    expect(coach.get_by_role("heading", name="Tests for")).to_be_visible()
    assert_accessible(coach, "Tests")
    coach.get_by_role("link", name="Plan a test day").click()
    coach.get_by_role("checkbox", name="Ten wall landings").check()
    expect(coach.get_by_role("region", name="The plan").get_by_role("listitem")).to_be_visible()
    assert_accessible(coach, "Planning a test day")
    coach.get_by_role("button", name="Keep this test day").click()
    expect(coach.get_by_role("heading", name="Ten wall landings")).to_be_visible()
    assert_accessible(coach, "A test day")
    coach.get_by_role("link", name="Kit", exact=True).click()
    expect(coach.get_by_role("region", name="Stacks").get_by_role("status")).to_be_visible()
    assert_accessible(coach, "Kit")
    coach.get_by_role("link", name="Today").click()
    coach.get_by_role("link", name="Jorun Eik", exact=True).click()
    coach.get_by_role("link", name="Levers", exact=True).click()
    expect(coach.get_by_role("button", name="Use this setting")).to_be_visible()
    assert_accessible(coach, "Levers")
    coach.get_by_role("button", name=re.compile("^On the hands")).click()
    expect(coach.get_by_role("dialog")).to_be_visible()
    assert_accessible(coach, "How a figure is worked out")
    coach.keyboard.press("Escape")
    coach.get_by_label("Set up").select_option("free-hold-10")
    expect(coach.get_by_test_id("save")).to_be_visible()
    assert_accessible(coach, "Over and under")
    coach.get_by_role("link", name="Measures", exact=True).click()
    expect(coach.get_by_role("button", name="Keep measures")).to_be_visible()
    assert_accessible(coach, "Measures")
    coach.get_by_role("link", name="Bench", exact=True).click()
    coach.get_by_role("listitem").filter(has_text="Heel float").get_by_role("link", name="look at it").click()
    expect(coach.get_by_role("heading", name="Why")).to_be_visible()
    coach.get_by_text("The tries in words").click()
    coach.get_by_role("button", name="Put try 1 right").click()
    expect(coach.get_by_role("dialog")).to_be_visible()
    assert_accessible(coach, "Putting a try right")
    coach.keyboard.press("Escape")
    coach.get_by_role("link", name=re.compile(" on average$| in 15 s$")).last.click()
    expect(coach.get_by_role("region", name="later").get_by_role("img")).to_be_visible()
    assert_accessible(coach, "Two runs compared")
    coach.get_by_role("link", name="Bench", exact=True).click()
    expect(coach.get_by_role("heading", name="Tests for")).to_be_visible()
    coach.get_by_role("link", name="Overhead reach").click()
    coach.get_by_role("checkbox").check()
    coach.get_by_role("button", name="Begin the test").click()
    expect(coach.get_by_role("textbox")).to_be_focused()
    assert_accessible(coach, "A reading")
    coach.get_by_role("link", name="Bench", exact=True).click()
    expect(coach.get_by_role("heading", name="Tests for")).to_be_visible()
    coach.get_by_role("link", name="Floor finder for the push").click()
    coach.get_by_role("checkbox").check()
    coach.get_by_role("button", name="Begin the test").click()
    expect(coach.get_by_test_id("setting")).to_be_visible()
    assert_accessible(coach, "A ladder")
    coach.get_by_role("link", name="Bench", exact=True).click()
    expect(coach.get_by_role("heading", name="Tests for")).to_be_visible()
    coach.get_by_role("link", name="Floor finder for the push").click()
    expect(coach.get_by_role("heading", name="The room")).to_be_visible()
    assert_accessible(coach, "Set-up")
    coach.get_by_role("link", name="Today").click()
    coach.clock.install()
    open_bench(coach, "Runa Aske")
    hold(coach, 3, "ArrowRight")
    assert_accessible(coach, "Running")
    coach.keyboard.press("p")
    expect(coach.get_by_role("dialog")).to_be_visible()
    assert_accessible(coach, "Pain stop")
    coach.keyboard.press("Escape")
    coach.get_by_role("button", name="Stop the test here").click()
    expect(coach.get_by_role("heading", name="Why")).to_be_visible()
    assert_accessible(coach, "Result")
    coach.context.clear_cookies()
    coach.reload()
    expect(coach.get_by_role("heading", name="Sign in")).to_be_visible()
    assert_accessible(coach, "Sign-in")
    assert hosts == {urlsplit(hall.url).netloc}


def test_no_violation_where_weeks_are_planned_and_run(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Plan with its sheets, everybody's weeks, the print sheet, Floor before, in and after a session, and a
    trainee's own page.
    """
    coach.get_by_role("link", name="Halvard Nes", exact=True).click()
    coach.get_by_role("link", name="Plan", exact=True).click()
    coach.get_by_role("button", name="Week after").click()
    expect(coach.get_by_role("button", name="Keep this week")).to_be_visible()
    assert_accessible(coach, "Plan")
    coach.get_by_role("button", name="Days").click()
    expect(coach.get_by_role("dialog")).to_be_visible()
    assert_accessible(coach, "Days of a week")
    coach.keyboard.press("Escape")
    coach.get_by_role("button", name="Keep this week").click()
    coach.get_by_role("button", name="Calendar and own page").click()
    coach.get_by_role("button", name="Make a page address").click()
    address = coach.get_by_label("Secret address").input_value()
    assert_accessible(coach, "Secret addresses")
    coach.keyboard.press("Escape")
    coach.get_by_role("link", name="Print").click()
    expect(coach.get_by_role("article").first).to_be_visible()
    assert_accessible(coach, "Print sheet")
    coach.get_by_role("link", name="Plan", exact=True).click()
    coach.get_by_role("link", name="Everybody's weeks").click()
    expect(coach.get_by_role("heading", name=re.compile("Everybody's week"))).to_be_visible()
    assert_accessible(coach, "Weeks")
    free_today(hall, cluster)
    coach.get_by_role("link", name="Floor", exact=True).click()
    coach.get_by_label("Bring somebody on").select_option(label="Halvard Nes")
    coach.get_by_label("left wrist", exact=True).check()
    coach.get_by_role("button", name=re.compile("^2 ?poor")).click()
    assert_accessible(coach, "Floor, asking first")
    coach.get_by_role("button", name="Begin the session").click()
    expect(coach.get_by_role("region", name="Now")).to_be_visible()
    assert_accessible(coach, "Floor, preparation")
    coach.keyboard.press("Space")
    coach.keyboard.press("f")
    coach.keyboard.press("Space")
    assert_accessible(coach, "Floor, at work")
    coach.keyboard.press("p")
    expect(coach.get_by_role("dialog")).to_be_visible()
    assert_accessible(coach, "Floor, pain stop")
    coach.keyboard.press("Escape")
    coach.get_by_role("button", name="Stop the session here").click()
    expect(coach.get_by_role("heading", name="Done against planned")).to_be_visible()
    assert_accessible(coach, "A session told")
    coach.goto(address)
    expect(coach.get_by_role("heading", level=1)).to_contain_text("sessions")
    assert_accessible(coach, "A trainee's own page")
