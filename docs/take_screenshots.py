"""Take the README's pictures from the running demo: ./perch start first. Adds one run to the demo; ./perch
reset-demo takes it out again.
"""

import json
import re
import shutil
from pathlib import Path

from playwright.sync_api import Browser, Locator, Page, sync_playwright

ROOT = Path(__file__).resolve().parent.parent
TARGET = ROOT / "docs" / "screenshots"
CHROMIUM = shutil.which("chromium-headless-shell") or "/usr/bin/chromium"
FLAGS = (
    "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking"
    " --disable-component-update --disable-sync"
)


def signed_in(browser: Browser, address: str, *, width: int = 1280, height: int = 800) -> Page:
    """Open a page of its own, signed in as the demo's coach."""
    page = browser.new_context(viewport={"width": width, "height": height}).new_page()
    page.clock.install()
    page.goto(address)
    page.get_by_label("Password").fill("tram-depot-hall")
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", level=1).filter(has_text="to decide").wait_for()
    return page


def keep(page: Page, name: str) -> None:
    """Take one picture, with nothing hovered, and the fonts there."""
    page.mouse.move(0, 0)
    page.evaluate("document.fonts.ready.then(() => true)")
    page.wait_for_timeout(250)
    page.screenshot(path=TARGET / f"{name}.png")


def run_half(page: Page, trainee: str) -> None:
    """Begin ten free tries and stop in the middle of the seventh."""
    page.get_by_role("link", name=trainee, exact=True).click()
    page.get_by_role("link", name="Test on the Bench").click()
    page.get_by_role("heading", level=1).filter(has_text="Tests for").wait_for()
    page.get_by_role("link", name="Ten free tries").click()
    page.get_by_role("checkbox").check()
    page.locator("button:focus", has_text="Begin the test").wait_for()
    page.keyboard.press("Space")
    page.get_by_text("Try 1 of 10 · ready").wait_for()
    for seconds, key in (
        (5.1, "ArrowRight"),
        (0, "o"),
        (6.4, "ArrowRight"),
        (0, "u"),
        (4.2, "ArrowLeft"),
        (8.9, "ArrowRight"),
    ):
        hold(page, seconds, key)
        page.clock.fast_forward(46_000)
    page.keyboard.press("Space")
    page.clock.fast_forward(7_400)
    page.wait_for_timeout(150)


def hold(page: Page, seconds: float, key: str) -> None:
    """Hold for some seconds and end with a key; 0 s is a try that was not held."""
    if seconds:
        page.keyboard.press("Space")
        page.get_by_text("holding").wait_for()
        page.clock.fast_forward(int(seconds * 1000))
    page.keyboard.press(key)
    page.wait_for_timeout(150)


def syllabus(page: Page) -> None:
    """The syllabus with an edit and its preview; nothing is kept."""
    page.get_by_role("link", name="Syllabus").click()
    page.get_by_role("tab", name="Balance").click()
    page.get_by_role("button", name=re.compile("^Near-wall float")).click()
    page.get_by_role("button", name="Gate", exact=True).click()
    page.get_by_label("Seconds, at least").fill("25")
    page.get_by_role("button", name="Set", exact=True).click()
    page.clock.fast_forward(1000)
    page.get_by_text("It changes the wall bars of").wait_for()
    keep(page, "syllabus")
    page.get_by_role("button", name="Take the last edit back").click()


def breakdown(page: Page) -> None:
    """A goal of one's own in the middle of being broken down; nothing is kept."""
    page.get_by_role("link", name="Break down a goal").click()
    page.get_by_label("The skill").fill("Tuck balance on two canes")
    page.get_by_role("button", name="Break it down").click()
    page.get_by_role("button", name=re.compile("^Step 4, Tuck balance on parallettes: in")).click()
    page.clock.fast_forward(1000)
    page.get_by_text("gets harder by more than one step").wait_for()
    page.get_by_text("Looking …").wait_for(state="detached")
    page.get_by_role("heading", level=1).click()
    keep(page, "breakdown")
    page.get_by_role("button", name="Start over").click()


def begin(page: Page, test: str) -> None:
    """From the list of tests into a run of one."""
    page.get_by_role("link", name="Bench", exact=True).click()
    page.get_by_role("link", name=test).click()
    page.get_by_role("checkbox").check()
    page.get_by_role("button", name="Begin the test").click()
    page.get_by_role("img", name=re.compile("^Tries so far")).wait_for()
    # the next key belongs to the test
    page.locator("h1").click()


def tests(page: Page) -> None:
    """The list of tests, a ladder, and a test day for two."""
    page.get_by_role("link", name="Today").click()
    page.get_by_role("link", name="Jorun Eik", exact=True).click()
    page.get_by_role("link", name="Bench", exact=True).click()
    page.get_by_role("heading", name="Tests for").wait_for()
    begin(page, "Floor finder for the push")
    for key in ("Enter", "Enter", "m"):
        page.clock.fast_forward(91_000)
        page.keyboard.press(key)
        page.wait_for_timeout(200)
    page.keyboard.press("f")
    page.get_by_role("heading", name="Why").wait_for()
    begin(page, "Heel float")
    hold(page, 3.2, "Space")
    page.keyboard.press("Enter")
    page.clock.fast_forward(61_000)
    page.keyboard.press("Space")
    page.wait_for_timeout(150)
    for _ in range(2):
        page.keyboard.press("t")
    page.clock.fast_forward(16_000)
    page.keyboard.press("Enter")
    page.keyboard.press("f")
    page.get_by_role("heading", name="Why").wait_for()
    page.get_by_role("link", name="Bench", exact=True).click()
    page.get_by_role("link", name="Plan a test day").click()
    page.get_by_role("checkbox", name="Kaia Hovden").check()
    for test in ("Heel float", "Fold and pancake"):
        page.get_by_role("checkbox", name=test).check()
    page.get_by_role("button", name="Keep this test day").click()
    for name in ("Kaia Hovden", "Jorun Eik"):
        page.get_by_role("tab", name=name).click()
        page.get_by_role("checkbox").check()
        page.get_by_role("button", name="Begin the test").click()
        page.get_by_role("img", name=re.compile("^Tries so far")).wait_for()
    hold(page, 8.4, "Space")
    page.keyboard.press("Enter")
    page.clock.fast_forward(14_000)
    keep(page, "test-day")
    for name in ("Jorun Eik", "Kaia Hovden"):
        page.get_by_role("tab", name=name).click()
        if name == "Kaia Hovden":
            hold(page, 7.2, "Space")
            page.keyboard.press("Enter")
        page.get_by_role("button", name=re.compile("^Stop the test")).click()
        page.get_by_role("heading", name="Fold and pancake").wait_for()


def levers(page: Page) -> None:
    """Levers of one trainee beside another; nothing is kept."""
    page.get_by_role("link", name="Levers", exact=True).click()
    page.get_by_label("Set up").select_option("raised-pike-push-up")
    page.get_by_label("Hands to feet", exact=True).fill("88")
    page.get_by_label("Compare with another trainee").select_option("Ragna Voll")
    page.get_by_text("Drawn pale behind").wait_for()
    keep(page, "levers")


def line(page: Page) -> None:
    """A drawn body judged by the model."""
    page.get_by_role("link", name="Runa Aske", exact=True).click()
    page.get_by_role("navigation", name="Screens").get_by_role("link", name="Line").click()
    page.get_by_label("A drawn picture").select_option("banana")
    page.get_by_test_id("said").wait_for()
    page.get_by_text("Drag a joint").wait_for()
    keep(page, "line")


def long_view(page: Page) -> None:
    """The progress of one trainee, their report of the month, and the group in the dark hall."""
    page.get_by_role("link", name="Runa Aske", exact=True).click()
    page.get_by_role("navigation", name="Screens").get_by_role("link", name="Progress").click()
    page.get_by_role("region", name="The measure").wait_for()
    page.get_by_role("region", name="Tests of single tries").wait_for()
    keep(page, "progress")
    page.get_by_role("link", name="Report to print").click()
    page.get_by_role("article").wait_for()
    keep(page, "report")
    page.goto(f"{page.url.split('/trainees')[0]}/group")
    page.evaluate("localStorage.setItem('perch.theme', 'hall')")
    page.reload()
    page.get_by_role("listitem").filter(has_text="stands still").first.wait_for()
    keep(page, "group")


def middle_block(page: Page, day: str) -> Locator:
    """Some block in the middle of a day, whatever the demo plans this week."""
    blocks = page.get_by_role("region", name=re.compile(f"^{day}")).get_by_role("button")
    blocks.first.wait_for()
    return blocks.nth(blocks.count() // 2)


def plan_and_floor(page: Page, browser: Browser, address: str) -> None:
    """A week as it was done, one changed and kept, the own page on a phone, and two on the floor."""
    page.get_by_role("link", name="Today", exact=True).click()
    page.get_by_role("link", name="Jorun Eik", exact=True).click()
    page.get_by_role("link", name="Plan", exact=True).click()
    page.get_by_role("link", name="Print").wait_for()
    keep(page, "plan")
    page.get_by_role("link", name="Today", exact=True).click()
    page.get_by_role("link", name="Halvard Nes", exact=True).click()
    page.get_by_role("link", name="Plan", exact=True).click()
    page.get_by_role("button", name="Week after").click()
    middle_block(page, "Mon").click()
    page.get_by_role("button", name="Drop").click()
    page.get_by_test_id("follows").wait_for()
    page.get_by_role("button", name="Keep this week").click()
    page.get_by_role("link", name="Print").wait_for()
    middle_block(page, "Wed").click()
    page.get_by_role("region", name="The block").wait_for()
    page.get_by_role("button", name="Calendar and own page").click()
    page.get_by_role("button", name="Make a page address").click()
    # the house's own address where phones are served: the same page is had on this machine
    own = re.sub("^https?://[^/]+", address, page.get_by_label("Secret address").input_value())
    page.keyboard.press("Escape")
    phone = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    phone.goto(own)
    phone.get_by_role("heading", level=1).wait_for()
    keep(phone, "own-page-phone")
    page.get_by_role("link", name="Floor", exact=True).click()
    for name in ("Marit Oland", "Halvard Nes"):
        page.get_by_label("Bring somebody on").wait_for()
        planned = page.get_by_role("tab", name=re.compile(name))
        if planned.count():
            planned.click()
        else:
            page.get_by_label("Bring somebody on").select_option(label=name)
        page.get_by_role("heading", name=f"{name}: ask first.").wait_for()
        page.get_by_role("button", name="Begin the session").click()
        page.get_by_role("region", name="Now").wait_for()
        page.keyboard.press("Space")
        page.get_by_role("heading", name="Wrist preparation").wait_for()
    for _ in range(12):
        if (
            page.get_by_role("region", name="Now").get_by_role("heading").inner_text()
            == "Back-flat straddle lowers"
        ):
            break
        page.keyboard.press("f")
        page.wait_for_timeout(100)
    for key in "cx":
        page.keyboard.press(key)
        page.clock.fast_forward(26_000)
        page.wait_for_timeout(100)
    keep(page, "floor")


def class_night(page: Page, browser: Browser, address: str) -> None:
    """The demo's class of today in its middle, on the laptop and on the hall's display."""
    page.goto(f"{address}/class")
    page.get_by_role("link", name="to come").click()
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("button", name="Hall display").click()
    shown = re.sub("^https?://[^/]+", address, page.get_by_label("The hall display").input_value())
    page.get_by_role("button", name="Close").click()
    page.get_by_role("button", name="Begin the evening").click()
    page.get_by_role("timer").wait_for()
    wall = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    wall.clock.install()
    wall.goto(shown)
    wall.get_by_role("list", name="Who is where").wait_for()
    for screen in (page, wall):
        screen.clock.fast_forward(27 * 60_000)
        screen.wait_for_timeout(1000)
    keep(page, "class")
    keep(wall, "hall-display")
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("button", name="End the evening").click()
    page.get_by_role("heading", name="Done against planned").wait_for()


def hall(page: Page, address: str) -> None:
    """The hall with a code for a phone, and a new hall's first evening."""
    page.goto(f"{address}/hall")
    page.get_by_role("button", name="Show a code").click()
    page.get_by_label("Wise Perch on this phone").wait_for()
    keep(page, "hall")
    page.get_by_label("Another hall of your own").fill("Second Hall")
    page.get_by_role("button", name="Begin it").click()
    page.get_by_role("region", name="The first evening").wait_for()
    keep(page, "first-evening")


def main() -> None:
    """Take every picture."""
    port = json.loads((ROOT / ".perch" / "state.json").read_text("utf-8"))["address"]["port"]
    address = f"http://127.0.0.1:{port}"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS.split())
        page = signed_in(browser, address)
        keep(page, "today")
        page.get_by_role("link", name="Halvard Nes", exact=True).click()
        page.get_by_role("region", name="Mobility line").wait_for()
        keep(page, "trainee")
        levers(page)
        line(signed_in(browser, address))
        long_view(signed_in(browser, address))
        syllabus(page)
        breakdown(page)
        page.get_by_role("link", name="Today").click()
        page.get_by_role("link", name="Eilif Sand", exact=True).click()
        page.get_by_role("link", name="Intake", exact=True).click()
        page.get_by_role("region", name="First tests").wait_for()
        page.get_by_role("link", name="Trainee", exact=True).click()
        page.get_by_role("link", name="Bench", exact=True).click()
        page.get_by_role("link", name="Ten free tries").click()
        page.get_by_text("The room").wait_for()
        tests(page)
        page.get_by_role("link", name="Today").click()
        page.get_by_role("link", name="Tove Brenna", exact=True).click()
        page.get_by_role("region", name="Inversion line").get_by_role("button", name="Low wall climb").click()
        page.get_by_role("heading", name="Evidence").wait_for()
        keep(page, "drill")
        page.keyboard.press("Escape")
        page.get_by_role("link", name="Today").click()
        run_half(page, "Marit Oland")
        keep(page, "bench-running")
        page.keyboard.press("ArrowRight")
        for seconds, key in ((7.7, "ArrowRight"), (0, "o"), (3.3, "ArrowRight")):
            hold(page, seconds, key)
        page.keyboard.press("Enter")
        page.get_by_role("heading", name="Why").wait_for()
        plan_and_floor(signed_in(browser, address), browser, address)
        class_night(signed_in(browser, address), browser, address)
        hall(signed_in(browser, address), address)
        browser.close()


main()
