"""Two trainees on one bench, a clicker, sounds, paper, corrections, comparing, the kit, and a run that goes
on elsewhere.
"""

import re

from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Server, arrive, hold, query, sent
from tests.browser.test_every_test import address
from wise_perch.machine.postgres import Cluster

LIVE = (
    "select outcome, value, mode, try_number from evidence where source = 'live' and struck_at is null order"
    " by try_number"
)
TONES = "window.tones = []; window.addEventListener('perch:tone', (e) => window.tones.push(e.detail))"


def ready(page: Page, trainee: str, test: str) -> None:
    page.goto(f"{trainee}/bench/test/{test}")
    page.get_by_role("checkbox").check()
    expect(page.get_by_role("button", name="Begin the test")).to_be_focused()
    page.keyboard.press("Space")
    strip(page)


def strip(page: Page) -> None:
    expect(page.get_by_role("img", name=re.compile("^Tries so far"))).to_be_visible()


def test_two_trainees_alternate(coach: Page, hall: Server, cluster: Cluster) -> None:
    """A day is planned for two; while one rests the other tries, each with their own clock, through a dead
    server and a reload.
    """
    coach.clock.install()
    coach.goto(f"{address(coach)}/bench")
    coach.get_by_role("link", name="Plan a test day").click()
    expect(coach.get_by_role("checkbox", name="Runa Aske")).to_be_checked()
    coach.get_by_role("checkbox", name="Kaia Hovden").check()
    for test in ("Fold and pancake", "Heel float"):
        coach.get_by_role("checkbox", name=test).check()
    plan = coach.get_by_role("region", name="The plan")
    expect(plan.get_by_role("listitem")).to_contain_text(
        ["Heel float Runa Aske, Kaia Hovden", "Fold and pancake"]
    )
    expect(plan).to_contain_text("While one rests the next one tries.")
    coach.get_by_label("Split over two days").check()
    expect(plan).to_contain_text("Day 2: about")
    coach.get_by_label("Split over two days").uncheck()
    coach.get_by_role("button", name="Keep this test day").click()

    for name in ("Runa Aske", "Kaia Hovden"):
        coach.get_by_role("tab", name=name).click()
        coach.get_by_role("checkbox").check()
        coach.get_by_role("button", name="Begin the test").click()
        strip(coach)
    tabs = {name: coach.get_by_role("tab", name=name) for name in ("Runa Aske", "Kaia Hovden")}
    tabs["Runa Aske"].click()
    hold(coach, 8, "Space")
    coach.keyboard.press("Enter")
    expect(tabs["Runa Aske"]).to_contain_text(re.compile(r"rest [01]:\d\d"))
    # the rest of one is the try of the other: one key goes there
    expect(coach.get_by_role("button", name="Next: Kaia Hovden")).to_be_visible()
    coach.keyboard.press("n")
    expect(tabs["Kaia Hovden"]).to_have_attribute("aria-selected", "true")
    expect(tabs["Kaia Hovden"]).to_contain_text("ready, 0 kept")
    coach.evaluate("navigator.serviceWorker.ready.then(() => true)")
    expect(coach.get_by_text("on their way")).to_be_hidden()
    hall.kill()
    hold(coach, 9, "Space")
    coach.keyboard.press("Enter")
    coach.clock.fast_forward(30_000)
    expect(tabs["Runa Aske"]).to_contain_text(re.compile(r"rest 0:\d\d"))
    expect(tabs["Kaia Hovden"]).to_contain_text(re.compile(r"rest 0:\d\d"))
    hall.start()
    coach.clock.fast_forward(20_000)
    expect(coach.get_by_text("in this browser and will be sent")).to_be_hidden()
    coach.reload()
    expect(tabs["Kaia Hovden"]).to_contain_text("1 kept")
    expect(tabs["Runa Aske"]).to_contain_text("1 kept")
    for _ in range(2):
        for name in ("Runa Aske", "Kaia Hovden"):
            tabs[name].click()
            coach.keyboard.press("Space")
            expect(coach.get_by_text("· holding")).to_be_visible()
            coach.clock.fast_forward(10_300)
            expect(coach.get_by_text("how did it end?")).to_be_visible()
            coach.keyboard.press("Enter")
    for name in ("Runa Aske", "Kaia Hovden"):
        tabs[name].click()
        coach.get_by_role("button", name="See the decision").click()
        # the next test of the day follows
        expect(coach.get_by_role("heading", name="Fold and pancake")).to_be_visible()
        expect(tabs[name]).to_contain_text("Fold and pancake")
    rows = query(
        hall,
        cluster,
        "select t.name, count(*) from evidence e join trainee t on t.id = e.trainee_id where e.source ="
        " 'live' group by 1 order by 1",
    )
    assert rows == [("Kaia Hovden", 3), ("Runa Aske", 3)]
    linked = "select count(*), count(test_day_id), count(ended_at) from test_run where source = 'live'"
    assert sent(hall, cluster, linked, until=[(2, 2, 2)]) == [(2, 2, 2)]


def test_a_clicker_with_two_keys_reaches_everything(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Page Down does what is lit, Page Up lights the next: a float, its windows and the way on, with two
    keys.
    """
    trainee = address(coach)
    coach.clock.install()
    ready(coach, trainee, "heel-float")
    press = coach.keyboard.press
    press("PageDown")
    expect(coach.get_by_text("· holding")).to_be_visible()
    coach.clock.fast_forward(3_000)
    press("PageDown")
    expect(coach.get_by_text("how did it end?")).to_be_visible()
    press("PageDown")
    expect(coach.get_by_text("Touches are counted from here on.")).to_be_visible()
    press("PageDown")
    expect(coach.get_by_text("· under way")).to_be_visible()
    for _ in range(3):
        press("PageUp")
    coach.clock.fast_forward(15_200)
    expect(coach.get_by_text("how did it end?")).to_be_visible()
    press("PageDown")
    expect(coach.get_by_text("try 2 of 3")).to_be_visible()
    # the second choice in a rest is the way to a light foot
    press("PageUp")
    press("PageUp")
    expect(coach.locator("[data-lit]")).to_have_text(re.compile("Cannot leave the wall"))
    press("PageDown")
    expect(coach.get_by_text("Light foot · try 1 of 2")).to_be_visible()
    expect(coach.get_by_role("region", name="So far").get_by_role("row", name="touches")).to_contain_text("3")
    rows = query(hall, cluster, LIVE)
    assert [(r[0], r[2]) for r in rows] == [("held", "seconds"), ("counted", "touches")]
    assert rows[1][1] == 3


def test_tones_say_what_hands_cannot(coach: Page) -> None:
    """Start, stop, the last three seconds of a rest and another way of measuring sound; turned off nothing
    does, and it stays so.
    """
    trainee = address(coach)
    coach.clock.install()
    ready(coach, trainee, "heel-float")
    coach.evaluate(TONES)
    coach.keyboard.press("Space")
    expect(coach.get_by_text("· holding")).to_be_visible()
    coach.clock.fast_forward(2_000)
    coach.keyboard.press("Space")
    coach.keyboard.press("Enter")
    expect(coach.get_by_text("Touches are counted from here on.")).to_be_visible()
    coach.clock.fast_forward(56_500)
    for _ in range(3):
        coach.clock.run_for(1_000)
    expect(coach.get_by_text("· ready")).to_be_visible()
    tones = coach.evaluate("window.tones")
    assert tones[:3] == ["start", "stop", "switch"]
    assert tones.count("soon") == 3
    with coach.expect_response("**/api/me"):
        coach.get_by_role("button", name="Sounds are on").click()
    coach.evaluate("window.tones.length = 0")
    coach.keyboard.press("Space")
    expect(coach.get_by_text("· under way")).to_be_visible()
    assert coach.evaluate("window.tones") == []
    coach.reload()
    expect(coach.get_by_role("button", name="Sounds are off")).to_be_visible()


def test_what_is_typed_at_first_sight_stays(coach: Page) -> None:
    """A figure typed the moment the field is there, while the start of the run arrives at the server: the
    screen does not vanish once more, and the figure is neither wiped nor lost.
    """
    coach.add_init_script(
        """
        const sent = window.fetch;
        let seen;
        window.field = new Promise((tell) => { seen = tell; });
        window.fetch = async (where, how) => {
          const answer = await sent(where, how);
          if (String(where).endsWith("/runs")) await window.field;
          return answer;
        };
        new MutationObserver(() => {
          const box = document.querySelector("input[aria-invalid][inputmode=decimal]");
          if (!box || window.typed) return;
          window.typed = box;
          Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(box, "9");
          box.dispatchEvent(new Event("input", { bubbles: true }));
          seen();
        }).observe(document, { childList: true, subtree: true });
        """
    )
    coach.goto(f"{address(coach)}/bench/test/overhead-reach")
    coach.get_by_role("checkbox").check()
    coach.get_by_role("button", name="Begin the test").click()
    box = coach.get_by_role("textbox")
    expect(box).to_be_focused()
    coach.evaluate(
        """new Promise((done) => {
          const look = () =>
            Object.keys(localStorage).some((key) => key.startsWith("perch.outbox."))
              ? setTimeout(look, 20)
              : done();
          look();
        })"""
    )
    expect(box).to_have_value("9")
    assert coach.evaluate("document.contains(window.typed)"), "the field was drawn anew"
    coach.keyboard.press("Enter")
    expect(coach.get_by_role("status")).to_contain_text("Try 2 of 2")


def test_a_paper_sheet_and_a_slip_of_the_pen(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Entered afterwards without clocks, checked and marked; a wrong figure is put right and the old one
    stays in sight.
    """
    coach.goto(f"{address(coach)}/bench/test/simple-hold?subject=hollow-hold")
    coach.get_by_role("button", name="Enter a paper sheet").click()
    coach.get_by_label("When was it done?").fill("2999-01-01T18:00")
    coach.get_by_role("button", name="Enter the tries").click()
    expect(coach.get_by_role("alert")).to_contain_text("Not in the future")
    coach.get_by_label("When was it done?").fill("2026-05-03T18:00")
    coach.get_by_role("button", name="Enter the tries").click()
    # by its name: the page before has a field of its own
    box = coach.get_by_role("textbox", name="Hold, seconds")
    box.fill("long")
    expect(coach.get_by_role("alert")).to_have_text("This is no number.")
    expect(coach.get_by_role("button", name="Keep")).to_be_disabled()
    box.fill("13,5")
    coach.keyboard.press("Enter")
    expect(coach.get_by_text("try 2 of 2")).to_be_visible()
    coach.get_by_role("textbox").fill("20")
    coach.keyboard.press("Enter")
    coach.get_by_role("button", name="See the decision").click()
    expect(coach.get_by_text("entered from paper")).to_be_visible()
    expect(coach.get_by_role("heading", level=1)).to_have_text("On the way.")
    coach.get_by_text("The tries in words").click()
    coach.get_by_role("button", name="Put try 1 right").click()
    dialog = coach.get_by_role("dialog")
    dialog.get_by_label("Seconds").fill("31.5")
    dialog.get_by_role("button", name="Put it right").click()
    expect(coach.get_by_role("heading", level=1)).to_have_text("The gate is reached.")
    expect(coach.get_by_text("put right, before: held 13.5 s")).to_be_visible()
    rows = query(
        hall,
        cluster,
        "select value, source, struck_at is null, replaces is null from evidence where source = 'after' order"
        " by created_at",
    )
    assert rows == [(13.5, "after", False, True), (20.0, "after", True, True), (31.5, "after", True, False)]


def test_two_runs_side_by_side(coach: Page) -> None:
    """The strips, the shares with their ranges, and whether the change is more than noise; two scales are
    refused.
    """
    href = coach.get_by_role("link", name="Jorun Eik", exact=True).get_attribute("href")
    coach.goto(coach.url.rstrip("/") + f"{href}/bench")
    row = coach.get_by_role("listitem").filter(has_text="Ten wall landings")
    row.get_by_role("link", name="look at it").click()
    coach.get_by_role("link", name=re.compile(r": \d+ of 10 soft$")).click()
    table = coach.get_by_role("table")
    expect(table.get_by_role("row", name="soft landings")).to_contain_text("Fisher's exact p")
    expect(table.get_by_role("row", name="soft landings")).to_contain_text(
        re.compile("more than noise|noise, as far as this can tell")
    )
    expect(coach.get_by_role("region", name="earlier").get_by_role("img")).to_be_visible()
    expect(coach.get_by_role("region", name="later").get_by_role("img")).to_be_visible()


def test_the_kit_makes_the_heights(coach: Page) -> None:
    """A sort is added, counted again, struck out and brought back, and the stack for a height follows at
    once.
    """
    coach.get_by_role("link", name="Kit", exact=True).click()
    stacks = coach.get_by_role("region", name="Stacks")
    expect(stacks.get_by_role("status")).to_contain_text("one 5 cm pad + one 2.5 cm plate = 7.5 cm")
    stacks.get_by_label("A height to make, cm").fill("0,7")
    expect(stacks.get_by_role("status")).to_contain_text(
        "Not to be made exactly. Nearest:one 1.5 cm plate = 1.5 cm"
    )
    coach.get_by_label("Kind").select_option("plate")
    coach.get_by_label("Thickness, cm").fill("0,7")
    coach.get_by_role("button", name="Add to the kit").click()
    expect(stacks.get_by_role("status")).to_contain_text("one 0.7 cm plate = 0.7 cm")
    coach.get_by_role("button", name="Strike out 0.7 cm plate").click()
    expect(stacks.get_by_role("status")).to_contain_text("Not to be made exactly")
    coach.get_by_role("button", name="Bring it back").click()
    expect(stacks.get_by_role("status")).to_contain_text("one 0.7 cm plate = 0.7 cm")
    coach.get_by_label("Thickness, cm").fill("thick")
    coach.get_by_role("button", name="Add to the kit").click()
    expect(coach.get_by_role("alert")).to_contain_text("thickness_cm")


def test_a_run_goes_on_on_another_device(coach: Page, browser: Browser, hall: Server) -> None:
    """Begun on one device and left, a ladder goes on at its very step on another, and ends there."""
    trainee = address(coach)
    coach.clock.install()
    ready(coach, trainee, "push-floor")
    coach.keyboard.press("Enter")
    coach.keyboard.press("m")
    setting = coach.get_by_test_id("setting")
    expect(setting).to_contain_text("one in between, or end here")
    said = setting.inner_text()
    expect(coach.get_by_role("region", name="So far").get_by_role("row")).to_contain_text("missed at")
    context = browser.new_context()
    other = context.new_page()
    arrive(other, hall)
    other.get_by_role("link", name="Go on: Runa Aske").click()
    expect(other.get_by_test_id("setting")).to_be_visible()
    assert other.get_by_test_id("setting").inner_text() == said
    other.get_by_role("button", name="Missed").click()
    other.get_by_role("button", name=re.compile("^Stop the test here|^End here")).click()
    expect(other.get_by_role("heading", level=1)).to_have_text("These are the heights to train at.")
    coach.reload()
    expect(coach.get_by_role("heading", level=1)).to_have_text("These are the heights to train at.")
    context.close()


def test_going_on_by_hand_is_taken_back_first(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Going over to another way of measuring is taken back before any try is, and does not come back by
    itself.
    """
    trainee = address(coach)
    coach.clock.install()
    ready(coach, trainee, "heel-float")
    hold(coach, 8, "Space")
    coach.keyboard.press("Enter")
    expect(coach.get_by_text("try 2 of 3")).to_be_visible()
    coach.keyboard.press("w")
    expect(coach.get_by_text("Light foot · try 1 of 2")).to_be_visible()
    coach.keyboard.press("z")
    expect(coach.get_by_text("Seconds off the wall · try 2 of 3")).to_be_visible()
    coach.keyboard.press("z")
    expect(coach.get_by_text("Seconds off the wall · try 1 of 3")).to_be_visible()
    hold(coach, 8, "Space")
    coach.keyboard.press("Enter")
    expect(coach.get_by_text("Seconds off the wall · try 2 of 3")).to_be_visible()
    expect(coach.get_by_role("region", name="So far").get_by_role("row", name="average")).to_be_visible()
    known = "select outcome, mode, try_number from evidence where source = 'live' and struck_at is null"
    kept = [("held", "seconds", 1)]
    assert sent(hall, cluster, known, until=kept) == kept
