"""An evening over TLS: a laptop and two phones, three roles, the server stopped in the middle, one phone
started while it is down. Nothing is lost, doubled, or seen by who may not.
"""

import os
import re
import signal
import subprocess
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.browser.conftest import CONNECTIONS, PATIENCE_MS, Server, free_today, query
from wise_perch.demo.people import COACH_EMAIL, COACH_PASSWORD, COACHES
from wise_perch.machine import front, server
from wise_perch.machine.places import DIST, ROOT
from wise_perch.machine.postgres import Cluster, create_database, free_port

OSKAR = COACHES[1][1]
PHONE = {"viewport": {"width": 390, "height": 844}, "has_touch": True, "is_mobile": True}
TRIES = (
    "select try_number, coach.name from evidence join coach on coach.id = evidence.author_id"
    " where source = 'live' and try_number is not null and struck_at is null order by try_number"
)
FINISHED = (
    "select trainee.name, coach.name, count(*) from session_event join floor_session as s"
    " on s.hall_id = session_event.hall_id and s.id = session_id join trainee on trainee.hall_id = s.hall_id"
    " and trainee.id = s.trainee_id join coach on coach.id = session_event.author_id"
    " where s.source = 'live' and what ->> 'kind' <> 'ready' and session_event.struck_at is null"
    " group by 1, 2 order by 1, 2"
)
SESSIONS = (
    "select trainee.name, coach.name from floor_session as s join trainee on trainee.hall_id = s.hall_id and"
    " trainee.id = s.trainee_id join coach on coach.id = s.author_id where s.source = 'live' order by 1"
)
AT_HAND = """new Promise((on) => {
    const opens = indexedDB.open("perch-at-hand");
    opens.onsuccess = () => {
        const asked = opens.result.transaction("answers").objectStore("answers").getAllKeys();
        asked.onsuccess = () => on(asked.result);
    };
})"""


@dataclass
class House:
    """A server behind a front door with TLS."""

    hall: Server
    door: front.Front

    @property
    def url(self) -> str:
        return self.door.outside


class Behind(Server):
    """A server that believes the front door."""

    door: front.Front

    def start(self) -> None:
        environment = {
            **server.environment(
                database=self.database,
                web=DIST,
                demo=self.demo,
                address=server.Address(port=self.port),
                door=self.door,
            ),
            "PERCH_CONNECTIONS": str(CONNECTIONS),
        }
        self.process = subprocess.Popen(
            server.command(self.port),
            cwd=ROOT,
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        server.wait_until_it_answers(self.port, self.process)


@pytest.fixture
def house(cluster: Cluster, demo_template: str, tmp_path: Path) -> Iterator[House]:
    """The demo's hall behind Debian's caddy with an authority of its own, as `./perch start --lan` has it."""
    create_database(cluster, "evening", template=demo_template)
    hall = Behind(cluster.dsn("evening"), demo=True)
    hall.door = front.Front(
        host="127.0.0.1", port=free_port(), trust_port=free_port(), folder=tmp_path / "front"
    )
    front.write_config(hall.door, behind=hall.port)
    hall.start()
    caddy = subprocess.Popen(
        front.command(front.find_caddy(), folder=hall.door.folder),
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    front.wait_for(hall.door)
    yield House(hall, hall.door)
    caddy.send_signal(signal.SIGTERM)
    # pages that still listen for changes do not keep the door open
    caddy.wait(timeout=30)
    hall.kill()


@pytest.fixture
def trusting(browser_type_launch_args: dict[str, Any], playwright: Any) -> Iterator[Browser]:
    """A browser that takes the hall's authority for good, as a phone does that was told to."""
    launch = {
        **browser_type_launch_args,
        "args": [*browser_type_launch_args["args"], "--ignore-certificate-errors"],
    }
    made = playwright.chromium.launch(**launch)
    yield made
    made.close()


def open_in(browser: Browser, **how: Any) -> tuple[BrowserContext, Page]:
    context = browser.new_context(ignore_https_errors=True, **how)
    context.set_default_timeout(PATIENCE_MS)
    return context, context.new_page()


def sign_in(page: Page, house: House, email: str) -> None:
    page.goto(house.url)
    page.get_by_label("Email").fill(email)
    page.get_by_label("Password").fill(COACH_PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("to decide")


def invited(laptop: Page, house: House) -> str:
    """The owner makes an invitation for an assistant; the address is the house's, with TLS."""
    laptop.goto(f"{house.url}/hall")
    laptop.get_by_role("radio", name="Assistant").check()
    laptop.get_by_label("For whom, if you like").fill("Bo")
    laptop.get_by_role("button", name="Make a link").click()
    address = laptop.get_by_label("An invitation into the hall").input_value()
    assert address.startswith(f"{house.url}/join/")
    return address


def one_try(page: Page, number: int) -> None:
    """A try that did not stay up, by touch; the next one may rest first."""
    expect(page.get_by_text(f"Try {number} of 10")).to_be_visible()
    page.get_by_role("button", name="Overshot", exact=True).tap()


def begin_session(page: Page, house: House, name: str) -> None:
    """Bring somebody on, answer, and begin."""
    page.get_by_label("Bring somebody on").select_option(label=name)
    expect(page.get_by_role("heading", level=1)).to_contain_text(f"{name}: ask first")
    page.get_by_role("button", name=re.compile("^3")).first.tap()
    page.get_by_role("button", name="Begin the session").tap()
    expect(page.get_by_role("region", name="Now")).to_be_visible()


def finish_blocks(page: Page, n: int) -> None:
    """So many blocks finished, one after the other; each is another's turn then."""
    heading = page.get_by_role("region", name="Now").get_by_role("heading")
    for _ in range(n):
        was = heading.inner_text()
        page.keyboard.press("f")
        expect(heading).not_to_have_text(was)


def waits_for(page: Page, part: str) -> None:
    """Wait until an answer is at hand in this browser."""
    expect(page.locator("body")).to_be_visible()
    for _ in range(PATIENCE_MS // 100):
        if any(part in key for key in page.evaluate(AT_HAND)):
            return
        page.wait_for_timeout(100)
    raise AssertionError(f"{part} never came to hand")


def test_an_evening_with_three_roles_and_the_server_stopped_in_the_middle(
    trusting: Browser, house: House, cluster: Cluster
) -> None:
    """Two phones and a laptop, by an owner, a coach and an assistant."""
    free_today(house.hall, cluster)
    _, laptop = open_in(trusting, viewport={"width": 1280, "height": 800})
    sign_in(laptop, house, COACH_EMAIL)
    address = invited(laptop, house)

    # the assistant comes in by the invitation, on a phone of their own
    helps, second = open_in(trusting, **PHONE)
    second.goto(address)
    expect(second.get_by_text("Hedda Kvam invites you into the hall, as an assistant.")).to_be_visible()
    second.get_by_label("Name").fill("Bo Vik")
    second.get_by_label("Email").fill("bo@depot-hall.example")
    second.get_by_label("Password").fill("a long enough one")
    second.get_by_role("button", name="Come in").tap()
    expect(second.get_by_role("heading", level=1)).to_contain_text("trainees")
    expect(second.get_by_role("button", name="Add a trainee")).to_have_count(0)
    expect(second.get_by_role("link", name="Files")).to_have_count(0)

    # the coach on the other phone runs a test, and the laptop sees it without asking again
    _, first = open_in(trusting, **PHONE)
    sign_in(first, house, OSKAR)
    first.get_by_role("link", name="Runa Aske", exact=True).tap()
    first.get_by_role("link", name="Test on the Bench").tap()
    expect(first.get_by_role("heading", level=1)).to_contain_text("Tests for")
    first.get_by_role("link", name="Ten free tries").tap()
    first.get_by_role("checkbox").tap()
    first.get_by_role("button", name="Begin the test").tap()
    one_try(first, 1)
    one_try(first, 2)
    laptop.goto(house.url)
    row = laptop.get_by_role("listitem").filter(has=laptop.get_by_role("link", name="Runa Aske", exact=True))
    expect(row).to_contain_text("2 tries kept")
    one_try(first, 3)
    expect(row).to_contain_text("3 tries kept")

    # the assistant begins one session, and has another one's sheet at hand
    second.goto(f"{house.url}/floor")
    begin_session(second, house, "Halvard Nes")
    second.get_by_label("Bring somebody on").select_option(label="Tove Brenna")
    expect(second.get_by_role("heading", level=1)).to_contain_text("ask first")
    waits_for(second, "/floor?day=")
    second.evaluate("navigator.serviceWorker.ready.then(() => true)")

    house.hall.kill()
    one_try(first, 4)
    one_try(first, 5)
    expect(first.get_by_text("2 results wait in this browser")).to_be_visible()
    second.close()

    # a phone started while the server is down: the app, the roster, the session under way, and another begun
    third = helps.new_page()
    third.goto(f"{house.url}/floor")
    expect(third.get_by_text("The server cannot be reached")).to_be_visible()
    begin_session(third, house, "Tove Brenna")
    finish_blocks(third, 2)
    expect(third.get_by_text(re.compile("wait in this browser"))).to_be_visible()

    house.hall.start()
    for page in (first, third):
        expect(page.get_by_text("in this browser and will be sent")).to_be_hidden()
    expect(row).to_contain_text("5 tries kept")
    assert query(house.hall, cluster, TRIES) == [(n, "Oskar Brandt") for n in range(1, 6)]
    begun = query(house.hall, cluster, SESSIONS)
    assert begun == [("Halvard Nes", "Bo Vik"), ("Tove Brenna", "Bo Vik")]
    assert query(house.hall, cluster, FINISHED) == [("Tove Brenna", "Bo Vik", 2)]

    # what is not for an assistant is refused, whoever asks
    trainee = query(house.hall, cluster, "select id from trainee where name = 'Tove Brenna'")[0][0]
    for path in (f"/api/trainees/{trainee}/contact", "/api/archive"):
        assert helps.request.get(house.url + path).status == 403
    # who did what stands in the hall's history
    laptop.goto(f"{house.url}/hall/history")
    expect(laptop.get_by_text("Bo Vik led a session").first).to_be_visible()
    expect(laptop.get_by_text(re.compile("Oskar Brandt ran a test"))).to_be_visible()
    assert os.path.exists(house.door.authority)
