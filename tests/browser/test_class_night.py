"""A class night in the real interface: nine trainees on a laptop, a phone and the hall's display, with one
who is late, one who hurts, one who runs over, and the server away for a minute; and what a hand does with
the ribbons.
"""

import re

from playwright.sync_api import Browser, Page, ViewportSize, expect

from tests.browser.conftest import PATIENCE_MS, Server, arrive, query, sent
from tests.browser.test_accessibility import assert_accessible
from wise_perch.machine.postgres import Cluster

MINUTE_MS = 60_000
LAPTOP: ViewportSize = {"width": 1280, "height": 800}
PHONE: ViewportSize = {"width": 390, "height": 844}


def a_screen(browser: Browser, size: ViewportSize) -> Page:
    """A device of its own, whose clock the test may set forward."""
    context = browser.new_context(viewport=size, service_workers="block")
    context.set_default_timeout(PATIENCE_MS)
    page = context.new_page()
    page.clock.install()
    return page


def lay_out(page: Page, hall: Server) -> None:
    """An evening of today for nine of the demo, by the form; one comes a quarter of an hour late."""
    arrive(page, hall, "/class")
    page.get_by_role("button", name="Lay an evening out").click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("From", exact=True).fill("18:00")
    sheet.get_by_label("Minutes").fill("75")
    for group in ("First handstands", "Free balance"):
        sheet.get_by_role("button", name=group).click()
    sheet.get_by_label("Find a name").fill("Halvard")
    sheet.get_by_label("Halvard Nes").check()
    sheet.get_by_label("Kaia Hovden comes at minute").fill("15")
    sheet.get_by_role("button", name="Lay it out").click()
    expect(page.get_by_role("heading", name="Nine on the floor, two walls, one box.")).to_be_visible()


def forward(minutes: float, *pages: Page) -> None:
    for page in pages:
        page.clock.fast_forward(int(minutes * MINUTE_MS))


def somebody_takes_longer(page: Page) -> None:
    """By the number keys to the first who is at a block just now."""
    for key in "123456789":
        page.keyboard.press(key)
        sheet = page.get_by_role("dialog")
        expect(sheet.get_by_role("link", name="Open on the Floor")).to_be_visible()
        longer = sheet.get_by_role("button", name=re.compile("min longer"))
        if longer.is_visible():
            return longer.click()
        sheet.get_by_role("button", name="Close").click()
        expect(sheet).to_be_hidden()
    raise AssertionError("nobody is at a block")


def test_an_evening_with_nine_on_laptop_phone_and_display(
    browser: Browser, hall: Server, cluster: Cluster
) -> None:
    """Laid out, begun, lived through on three screens with the server away for a minute: nothing is lost or
    doubled, and afterwards it is told who had the hands.
    """
    laptop = a_screen(browser, LAPTOP)
    lay_out(laptop, hall)
    assert_accessible(laptop, "a class night that is laid out")
    laptop.get_by_role("button", name="More", exact=True).click()
    laptop.get_by_role("button", name="Hall display").click()
    address = laptop.get_by_label("The hall display").input_value()
    assert_accessible(laptop, "what is done once an evening")
    laptop.get_by_role("button", name="Close").click()
    display = a_screen(browser, LAPTOP)
    display.goto(hall.url + re.sub(r"^https?://[^/]+", "", address))
    expect(display.get_by_role("list", name="Who is where")).to_contain_text("Halvard")
    laptop.get_by_role("button", name="Begin the evening").click()
    expect(laptop.get_by_role("timer")).to_contain_text("18:0")
    phone = a_screen(browser, PHONE)
    arrive(phone, hall, "/class")
    phone.get_by_role("link", name="under way").click()
    there = phone.get_by_role("list", name="Who is where")
    expect(there).to_contain_text("Warm-up")
    assert_accessible(phone, "a class night on a phone")
    phone.set_viewport_size(PHONE)
    assert_accessible(display, "the hall's display")

    # ten minutes in somebody's wrist hurts, told on the phone; the laptop hears of it
    forward(12, laptop, phone, display)
    there.get_by_role("button", name="Jorun").click()
    phone.get_by_role("button", name="Pain: stop").click()
    phone.get_by_role("button", name="left wrist", exact=True).click()
    assert_accessible(phone, "where it hurts")
    phone.set_viewport_size(PHONE)
    phone.get_by_role("button", name="7", exact=True).click()
    expect(phone.get_by_role("dialog")).to_be_hidden()
    phone.reload()
    there.get_by_role("button", name="Jorun").click()
    expect(phone.get_by_role("dialog")).to_contain_text("spares the left wrist")
    phone.get_by_role("button", name="Close").click()

    # the server goes away: the clock goes on everywhere, a block runs over, and that waits
    hall.kill()
    forward(1, laptop, phone, display)
    expect(display.get_by_role("status")).to_contain_text("the server is away")
    before = laptop.get_by_role("timer").inner_text()
    somebody_takes_longer(laptop)
    expect(laptop.get_by_text("1 result waits in this browser")).to_be_visible()
    forward(1, laptop, phone, display)
    expect(laptop.get_by_role("timer")).not_to_have_text(before)
    hall.start()
    expect(laptop.get_by_text("waits in this browser")).to_be_hidden()
    expect(display.get_by_text("the server is away")).to_be_hidden()
    kinds = "select what ->> 'kind' from class_event order by arrived"
    assert sent(hall, cluster, kinds, until=[("begin",), ("pain",), ("over",)])[-1] == ("over",)

    # the one who was expected late comes later still, and the clock is held and goes on
    laptop.keyboard.press("h")
    expect(laptop.get_by_role("button", name="Go on")).to_be_visible()
    expect(display.get_by_text("held", exact=True)).to_be_visible()
    laptop.keyboard.press("h")
    expect(laptop.get_by_role("button", name="Hold the clock")).to_be_visible()
    laptop.get_by_role("button", name="Kaia", exact=True).click()
    laptop.get_by_role("button", name="Comes in 10 min").click()
    expect(laptop.get_by_role("dialog")).to_be_hidden()

    # one key leads to who needs eyes, on the Floor, where the class's clock stands too
    expect(laptop.get_by_role("button", name="To who needs eyes")).to_be_visible()
    laptop.keyboard.press("e")
    expect(laptop.get_by_role("region", name="The class")).to_contain_text("Class 18:")
    laptop.get_by_role("button", name="Begin the session").click()
    expect(laptop.get_by_role("region", name="The class")).to_be_visible()
    go_on = laptop.get_by_role("button", name=re.compile("^Go on to "))
    strip = laptop.get_by_role("region", name="The class")
    # between two blocks there is nothing to go on to yet
    for _ in range(10):
        before = strip.inner_text()
        forward(2, laptop, phone, display)
        expect(strip).not_to_have_text(before, use_inner_text=True)
        if go_on.is_visible():
            break
    go_on.click()
    expect(go_on).to_be_hidden()
    assert_accessible(laptop, "the Floor in a class night")

    # the end: what it came to
    laptop.get_by_role("link", name=re.compile("^Class 18:")).click()
    forward(40, laptop, phone, display)
    laptop.get_by_role("button", name="More", exact=True).click()
    laptop.get_by_role("button", name="End the evening").click()
    expect(laptop.get_by_role("heading", name="Done against planned")).to_be_visible()
    expect(laptop.get_by_text(re.compile("min of hands")).first).to_be_visible()
    expect(laptop.get_by_text(re.compile("about what hurt|did not fit|No hands")).first).to_be_visible()
    assert_accessible(laptop, "a class night that is over")
    expect(display.get_by_text("over", exact=True)).to_be_visible()
    counted = query(hall, cluster, "select count(*), count(distinct id) from class_event")[0]
    assert counted[0] == counted[1]
    for page in (laptop, phone, display):
        page.context.close()


def test_a_block_is_dragged_moved_by_keys_and_taken_back(coach: Page, hall: Server) -> None:
    """By pointer and by keys a block goes to another minute, stays set by hand, and comes back."""
    coach.get_by_role("navigation", name="Screens").get_by_role("link", name="Class").click()
    coach.get_by_role("link", name="to come").click()
    blocks = coach.get_by_role("region", name="The evening").get_by_role("button", name=re.compile("wall"))
    block = blocks.first
    said = " ".join((block.text_content() or "").split())
    box = block.bounding_box()
    assert box
    coach.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    coach.mouse.down()
    coach.mouse.move(box["x"] + box["width"] / 2 + 60, box["y"] + box["height"] / 2, steps=4)
    coach.mouse.up()
    held = coach.get_by_role("button", name=re.compile("set by hand"))
    expect(held).to_have_count(1)
    moved = " ".join((held.text_content() or "").split())
    assert moved.split(":")[0] == said.split(":")[0]
    assert int(re.findall(r"minute (\d+)", moved)[0]) > int(re.findall(r"minute (\d+)", said)[0])
    coach.keyboard.press("z")
    expect(held).to_have_count(0)
    expect(block).to_contain_text(said.split(" minute ")[1])
    block.focus()
    coach.keyboard.press("Shift+ArrowRight")
    expect(held).to_have_count(1)
    held.focus()
    coach.keyboard.press("Enter")
    assert_accessible(coach, "one block of a class night")
    coach.get_by_role("button", name="Let it follow again").click()
    expect(held).to_have_count(0)


def test_rooms_are_added_and_an_evening_is_printed(coach: Page) -> None:
    """A room by the form; the print has a line a station and a card for everybody."""
    coach.get_by_role("navigation", name="Screens").get_by_role("link", name="Class").click()
    expect(coach.get_by_role("heading", name="Class nights")).to_be_visible()
    assert_accessible(coach, "class nights")
    coach.get_by_role("button", name="Add a room").click()
    coach.get_by_label("Name", exact=True).fill("Repair shop")
    coach.get_by_label("Wall", exact=True).fill("4")
    assert_accessible(coach, "a room")
    coach.get_by_role("button", name="Keep the room").click()
    expect(coach.get_by_role("region", name="Rooms")).to_contain_text("4 × wall")
    coach.get_by_role("link", name="to come").click()
    coach.get_by_role("button", name="More", exact=True).click()
    coach.get_by_role("link", name="Print: a sheet for the wall, and cards").click()
    expect(coach.get_by_role("article", name="For the wall")).to_contain_text("wall 1")
    expect(coach.get_by_role("article")).to_have_count(10)
    assert_accessible(coach, "a class night on paper")
