"""Nothing lost, nothing doubled: the server killed in mid-test, the page reloaded, the session over."""

import json
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, hold, open_bench, query, sent
from wise_perch.demo.people import COACH_PASSWORD
from wise_perch.machine.postgres import Cluster

LIVE = (
    "select try_number, value from evidence where source = 'live' and struck_at is null order by try_number"
)


def test_the_server_is_killed_in_mid_test(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Three tries entered while the server is dead, and a reload in between, end up stored once each after it
    is back.
    """
    coach.clock.install()
    open_bench(coach, "Runa Aske")
    hold(coach, 2, "ArrowRight")
    expect(coach.get_by_role("region", name="So far").get_by_role("row", name="held")).to_contain_text(
        "1 of 1"
    )
    coach.evaluate("navigator.serviceWorker.ready.then(() => true)")
    hall.kill()
    for seconds in (3, 4):
        hold(coach, seconds, "ArrowLeft")
    coach.keyboard.press("o")
    expect(coach.get_by_text("3 results wait in this browser")).to_be_visible()
    coach.reload()
    expect(coach.get_by_text("Try 5 of 10")).to_be_visible()
    expect(coach.get_by_text("3 results wait in this browser")).to_be_visible()
    assert len(query(hall, cluster, LIVE)) == 1
    hall.start()
    coach.clock.fast_forward(10_000)
    expect(coach.get_by_text("in this browser and will be sent")).to_be_hidden()
    assert [n for n, _ in query(hall, cluster, LIVE)] == [1, 2, 3, 4]
    expect(
        coach.get_by_role("region", name="So far").get_by_role("row", name="reached vertical")
    ).to_contain_text("4 of 4")


def test_an_answer_that_is_lost_doubles_nothing(coach: Page, hall: Server, cluster: Cluster) -> None:
    """A try that was kept but whose answer never arrived is sent again and kept once."""
    lost = []

    def swallow(route, request) -> None:  # type: ignore[no-untyped-def]
        if not lost:
            route.fetch()
            lost.append(request.post_data)
            route.abort()
        else:
            route.continue_()

    coach.clock.install()
    open_bench(coach, "Runa Aske")
    coach.route("**/tries", swallow)
    hold(coach, 2, "ArrowRight")
    coach.clock.fast_forward(2_000)
    expect(coach.get_by_role("region", name="So far").get_by_role("row", name="held")).to_contain_text(
        "1 of 1"
    )
    assert len(lost) == 1
    assert len(query(hall, cluster, LIVE)) == 1


def test_a_reload_goes_on_with_the_hold_and_the_run(coach: Page, hall: Server, cluster: Cluster) -> None:
    """A page reloaded in the middle of a hold goes on timing it; a lid closed after a stop still asks how it
    ended.
    """
    coach.clock.install()
    open_bench(coach, "Runa Aske")
    coach.keyboard.press("Space")
    coach.clock.fast_forward(3_000)
    coach.reload()
    expect(coach.get_by_text("Try 1 of 10 · holding")).to_be_visible()
    coach.clock.fast_forward(4_000)
    coach.keyboard.press("Space")
    expect(coach.get_by_text("how did it end?")).to_be_visible()
    coach.reload()
    expect(coach.get_by_text("how did it end?")).to_be_visible()
    coach.keyboard.press("l")
    coach.keyboard.press("ArrowRight")
    expect(coach.get_by_text("Try 2 of 10")).to_be_visible()
    coach.get_by_role("link", name="Today").click()
    coach.get_by_role("link", name="Go on: Runa Aske").click()
    expect(coach.get_by_text("Try 2 of 10")).to_be_visible()
    sent(hall, cluster, "select count(*) from evidence where source = 'live'", until=[(1,)])
    (row,) = query(hall, cluster, "select value, fell, form from evidence where source = 'live'")
    assert row[0] >= 7
    assert row[1:] == ("over", "loose")


def test_results_wait_for_the_next_sign_in(coach: Page, hall: Server, cluster: Cluster) -> None:
    """With the session ended elsewhere results wait in the browser, and go out once the coach signs in
    again.
    """
    coach.clock.install()
    open_bench(coach, "Runa Aske")
    coach.keyboard.press("o")
    expect(coach.get_by_role("region", name="So far").get_by_role("row", name="reached")).to_contain_text(
        "1 of 1"
    )
    query(hall, cluster, "update sign_in_session set revoked_at = now() returning 1")
    coach.keyboard.press("o")
    expect(coach.get_by_text("sign in again to send them")).to_be_visible()
    coach.reload()
    coach.get_by_label("Password").fill(COACH_PASSWORD)
    coach.get_by_role("button", name="Sign in").click()
    expect(coach.get_by_text("Try 3 of 10")).to_be_visible()
    expect(coach.get_by_role("region", name="So far").get_by_role("row", name="reached")).to_contain_text(
        "2 of 2"
    )
    assert len(query(hall, cluster, LIVE)) == 2


def test_what_the_server_refuses_is_shown_with_its_reason(coach: Page) -> None:
    """A result the server does not accept stays in sight until the coach has read why."""
    coach.clock.install()
    open_bench(coach, "Runa Aske")
    run = coach.url.rsplit("/", 1)[1]
    body = {"ended_at": coach.evaluate("new Date().toISOString()"), "ended_as": "stopped"}
    expect(coach.get_by_text("Exits proven")).to_be_visible()
    assert coach.request.post(
        f"{coach.url.split('/trainees')[0]}/api/runs/{run}/end",
        data=json.dumps(body),
        headers={"content-type": "application/json"},
    ).ok
    coach.keyboard.press("o")
    expect(coach.get_by_text("1 not accepted")).to_be_visible()
    coach.get_by_role("button", name="Look", exact=True).click()
    dialog = coach.get_by_role("dialog")
    expect(dialog.get_by_text("try 1, overshot")).to_be_visible()
    expect(dialog.get_by_text("This run is closed")).to_be_visible()
    # sent again as it was it is refused again, and nothing is gone; only what was saved can be put away
    dialog.get_by_role("button", name="Send again").click()
    expect(dialog.get_by_role("button", name="Send again")).to_be_visible()
    expect(dialog.get_by_role("button", name="put it away")).to_have_count(0)
    with coach.expect_download() as saved:
        dialog.get_by_role("button", name="Save as a file").click()
    (letter,) = json.loads(Path(saved.value.path()).read_text("utf-8"))
    assert letter["refused"]
    assert letter["body"]
    dialog.get_by_role("button", name="put it away").click()
    expect(coach.get_by_text("not accepted")).to_be_hidden()


def test_quick_keys_are_all_kept_in_order(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Keys pressed faster than the page draws are one try each with numbers of their own, and the eleventh is
    none.
    """
    coach.clock.install()
    open_bench(coach, "Runa Aske")
    for key in "ououououoouuo":
        coach.keyboard.press(key)
    expect(coach.get_by_text("All tries are made.")).to_be_visible()
    expect(coach.get_by_role("region", name="So far").get_by_role("row", name="reached")).to_contain_text(
        "of 10"
    )
    rows = query(
        hall, cluster, "select try_number, outcome from evidence where source = 'live' order by try_number"
    )
    assert rows == [(n, "overshot" if key == "o" else "undershot") for n, key in enumerate("ououououoo", 1)]
    coach.keyboard.press("z")
    coach.keyboard.press("z")
    expect(coach.get_by_text("Try 9 of 10")).to_be_visible()


def test_a_screen_that_cannot_be_fetched_says_so_and_the_live_ones_are_at_hand(
    coach: Page, hall: Server
) -> None:
    """With the server away a screen never opened before says that its data cannot be had; the bench goes on
    from there.
    """
    open_bench(coach, "Marit Oland")
    hall.kill()
    coach.get_by_role("link", name="Levers", exact=True).click()
    expect(coach.get_by_role("alert")).to_contain_text("cannot be reached")
    coach.go_back()
    expect(coach.get_by_text("Try 1 of 10 · ready")).to_be_visible()
