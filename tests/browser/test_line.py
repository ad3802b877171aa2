"""The line in the real interface: each drawn body judged by the model and by hand, with pointer and keys;
films whose tries go to the Bench; the camera that counts; and no request that leaves the house.
"""

import base64
import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, Playwright, Route, expect

from bench.line_figures import FILM
from tests.browser.conftest import FLAGS, PATIENCE_MS, Server, arrive, query, sent
from tests.browser.test_accessibility import assert_accessible
from wise_perch.core.line.holds import Frame, find_holds
from wise_perch.machine.browser import find_chromium
from wise_perch.machine.places import DIST, ROOT
from wise_perch.machine.postgres import Cluster

KNOWN = json.loads((ROOT / "web" / "public" / "stand-ins" / "known.json").read_text("utf-8"))
STILLS = {s["name"]: s for s in KNOWN["stills"]}
needs_model = pytest.mark.skipif(
    not (DIST / "pose").is_dir(), reason="the model could not be packed here: its packages cannot be reached"
)


def open_line(page: Page, view: str = "side") -> None:
    page.get_by_role("link", name="Runa Aske", exact=True).first.click()
    page.get_by_role("navigation", name="Screens").get_by_role("link", name="Line").click()
    expect(page.get_by_text("Drop a still or a film here")).to_be_visible()
    page.get_by_label("Drill", exact=True).select_option("free-hold-10")
    page.get_by_role("button", name=f"From the {view}").click()


def pick(page: Page, name: str) -> None:
    """Take one of the drawn ones, as if its file had been picked."""
    again = page.get_by_role("button", name="Another picture")
    if again.is_visible():
        again.click()
    page.get_by_label("A drawn picture").select_option(name)


def said(page: Page) -> Locator:
    return page.get_by_test_id("said")


def assert_judged(page: Page, still: dict[str, Any]) -> None:
    """The fault that it was given first is named, and none that it has not."""
    if still["refused"]:
        expect(said(page).get_by_role("heading")).to_have_text(
            re.compile("This picture cannot be judged|may hide one")
        )
        return
    faults = still["faults"]
    known = rf"^(?=.*{faults[0]})(?:(?:{'|'.join(faults)})(?: |$))+$" if faults else "^$"
    # waited for: what is said of joints on their way may be something else
    expect(said(page)).to_have_attribute("data-faults", re.compile(known))


@needs_model
def test_each_still_is_judged_by_the_model_and_nothing_leaves_the_house(coach: Page, hall: Server) -> None:
    """Every drawn body, good or badly filmed; all requests that the page and its workers make are watched,
    and none carries a picture.
    """
    asked: list[tuple[str, str | None]] = []
    coach.context.on("request", lambda r: asked.append((r.url, r.post_data if r.method == "POST" else None)))
    open_line(coach)
    for still in KNOWN["stills"]:
        coach.get_by_role("button", name=f"From the {still['view']}").click()
        pick(coach, still["name"])
        # a body that is too small may not be found at all, and is then refused in other words
        lost = coach.get_by_text("Nobody was found.")
        expect(said(coach).or_(lost).first).to_be_visible()
        if not (still["refused"] and lost.is_visible()):
            assert_judged(coach, still)
    assert any("/pose/" in url for url, _ in asked)
    assert {url.split("/", 3)[2] for url, _ in asked if not url.startswith(("blob:", "data:"))} == {
        f"127.0.0.1:{hall.port}"
    }
    sent = [body for url, body in asked if body and "/line/" in url]
    assert sent
    assert all(len(body) < 5000 and "base64" not in body for body in sent)
    policy = coach.request.get(hall.url).headers["content-security-policy"]
    assert "script-src 'self' 'wasm-unsafe-eval'" in policy
    assert "connect-src 'self';" in policy
    assert "unsafe-eval'" not in policy.replace("wasm-unsafe-eval'", "")


def joint(page: Page, name: str) -> Locator:
    return page.locator(f'[data-joint="{name}"]')


def place(page: Page, still: dict[str, Any], part: str) -> tuple[float, float]:
    """Where a joint belongs, px of the picture."""
    left, right = (still["points"][f"{side}_{part}"] for side in ("left", "right"))
    return ((left[0] + right[0]) / 2, (left[1] + right[1]) / 2)


def where(page: Page, name: str) -> tuple[float, float]:
    words = joint(page, name).get_attribute("aria-label") or ""
    x, y = re.findall(r"-?\d+", words)[:2]
    return float(x), float(y)


def to_screen(page: Page, still: dict[str, Any], at: tuple[float, float]) -> tuple[float, float]:
    box = page.get_by_role("group", name="The picture with its joints").bounding_box()
    assert box
    return box["x"] + at[0] / still["width"] * box["width"], box["y"] + at[1] / still["height"] * box[
        "height"
    ]


def by_hand(page: Page, still: dict[str, Any]) -> None:
    """Without the model: the hands are tapped, and a straight body stands above them."""
    pick(page, still["name"])
    expect(page.get_by_text("No model here: mark the hands")).to_be_visible()
    page.get_by_role("button", name="Mark the hands").click()
    # at the top nothing of the picture lies under the beam
    page.evaluate("scrollTo(0, 0)")
    page.mouse.click(*to_screen(page, still, place(page, still, "wrist")))
    expect(said(page)).to_be_visible()
    fingers, nose = place(page, still, "finger")[0], place(page, still, "wrist")[0]
    wanted = "right" if fingers > nose else "left"
    turn = page.get_by_role("button", name=re.compile("^Fingers point"))
    if wanted not in (turn.inner_text() or ""):
        turn.click()
    expect(turn).to_have_text(f"Fingers point {wanted}: turn")


SIDES = [s for s in KNOWN["stills"] if s["view"] == "side" and s["name"] != "off-square"]
PARTS = ("shoulder", "hip", "knee", "ankle")


def without_model(page: Page) -> None:
    page.route("**/pose/**", lambda route: route.abort())


def test_each_still_is_judged_by_pointer_without_the_model(coach: Page) -> None:
    """The same computation on joints that were dragged; off square two shoulders would have to be seen."""
    without_model(coach)
    open_line(coach)
    for still in SIDES:
        by_hand(coach, still)
        for part in PARTS:
            coach.mouse.move(*to_screen(coach, still, where(coach, part)))
            coach.mouse.down()
            coach.mouse.move(*to_screen(coach, still, place(coach, still, part)), steps=3)
            coach.mouse.up()
            x, y = place(coach, still, part)
            assert where(coach, part) == pytest.approx((x, y), abs=3)
        assert_judged(coach, still)


def test_each_still_is_judged_by_keys_without_the_model(coach: Page) -> None:
    """Every joint is reached by Tab and moved by arrow keys, by more with Shift."""
    without_model(coach)
    open_line(coach)
    for still in SIDES:
        by_hand(coach, still)
        step = still["height"] * 0.004
        for part in PARTS:
            joint(coach, part).focus()
            for axis, keys in ((0, ("ArrowLeft", "ArrowRight")), (1, ("ArrowUp", "ArrowDown"))):
                away = place(coach, still, part)[axis] - where(coach, part)[axis]
                far, near = divmod(round(abs(away) / step), 5)
                for _ in range(far):
                    coach.keyboard.press(f"Shift+{keys[away > 0]}")
                for _ in range(near):
                    coach.keyboard.press(keys[away > 0])
        assert_judged(coach, still)


def test_hands_wide_from_the_front_by_hand(coach: Page) -> None:
    """From the front both sides are placed, by left and right of the picture."""
    without_model(coach)
    open_line(coach, "front")
    still = STILLS["wide-hands"]
    pick(coach, still["name"])
    coach.get_by_role("button", name="Mark the hands").click()
    coach.mouse.click(*to_screen(coach, still, place(coach, still, "wrist")))
    expect(said(coach)).to_be_visible()
    for part in ("wrist", "shoulder", "hip", "ankle"):
        ends = sorted(still["points"][f"{side}_{part}"] for side in ("left", "right"))
        for words, at in zip(("left", "right"), ends, strict=True):
            name = f"{part} {words} in the picture"
            coach.mouse.move(*to_screen(coach, still, where(coach, name)))
            coach.mouse.down()
            coach.mouse.move(*to_screen(coach, still, (at[0], at[1])), steps=3)
            coach.mouse.up()
    assert_judged(coach, still)


def test_hands_marked_while_the_model_is_on_its_way_stay_marked(coach: Page) -> None:
    """The model fails to come after the hands were marked: what was placed by hand is not wiped away."""
    held: list[Route] = []
    coach.route("**/pose/**", lambda route: held.append(route))
    open_line(coach, "front")
    still = STILLS["wide-hands"]
    with coach.expect_request("**/pose/**"):
        pick(coach, still["name"])
    coach.get_by_role("button", name="Mark the hands").click()
    coach.mouse.click(*to_screen(coach, still, place(coach, still, "wrist")))
    expect(said(coach)).to_be_visible()
    coach.route("**/pose/**", lambda route: route.abort())
    for route in held:
        route.abort()
    expect(coach.get_by_text("No model here")).to_be_visible()
    expect(said(coach)).to_be_visible()


@needs_model
def test_a_line_is_kept_laid_over_another_and_struck_out(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Only joints are kept; the outline stands on Line, Trainee and Progress; then and now lie over one
    another; the other view is asked for.
    """
    arrive(coach, hall)
    coach.get_by_role("link", name="Sindre Lau", exact=True).click()
    coach.get_by_role("navigation", name="Screens").get_by_role("link", name="Line").click()
    coach.get_by_label("Drill", exact=True).select_option("free-hold-10")
    pick(coach, "banana")
    expect(said(coach)).to_contain_text("Ribs in, tuck under")
    expect(coach.get_by_role("heading", name="The front is missing")).to_be_visible()
    coach.get_by_label("From the test").select_option(index=1)
    coach.get_by_label("Note").fill("the third of ten")
    coach.get_by_role("button", name="Keep this line").click()
    lines = coach.get_by_role("region", name="Kept lines")
    expect(lines).to_contain_text("the third of ten")
    expect(lines.get_by_role("link").first).to_contain_text(", ")
    assert_accessible(coach, "a line that is judged")
    coach.get_by_role("button", name="Hold another against it").click()
    pick(coach, "straight")
    two = coach.get_by_role("region", name="Two lines")
    expect(two).to_contain_text("Ink: straight.jpg. Dashed wood: banana.jpg.")
    two.get_by_role("button", name="Put it away").click()
    lines.get_by_role("button", name="Lay it over").click()
    expect(two).to_contain_text("the line of")
    (kept,) = query(
        hall,
        cluster,
        "select points::text, said ->> 'heading' from kept_line where note = %s",
        "the third of ten",
    )
    assert "left_hip" in kept[0]
    assert "Arched at the hip" in kept[1]
    screens = coach.get_by_role("navigation", name="Screens")
    screens.get_by_role("link", name="Trainee").click()
    expect(coach.get_by_role("region", name="Lines", exact=True)).to_contain_text("Arched at the hip")
    coach.goto(coach.url.partition("?")[0] + "/progress?drill=free-hold-10")
    expect(coach.get_by_role("region", name="Its line, then and now")).to_contain_text("Free hold")
    screens.get_by_role("link", name="Line").click()
    coach.get_by_role("button", name=re.compile("^Strike out the line of")).first.click()
    expect(lines).not_to_contain_text("the third of ten")


def known_holds(name: str) -> list[tuple[float, str]]:
    film = next(f for f in KNOWN["films"] if f["name"] == name)
    return [(h.seconds, h.end) for h in find_holds([Frame(**f) for f in film["frames"]]).holds]


@needs_model
def test_a_film_of_ten_tries_becomes_a_kept_run(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Ten holds within a third of a second, each with its side; one is put right, one dropped, the rest are
    kept by one key each, marked as taken from a film.
    """
    open_line(coach)
    pick(coach, "ten-tries")
    find = coach.get_by_role("button", name="Find the holds")
    expect(find).to_be_enabled()
    find.click()
    expect(coach.get_by_role("progressbar", name="Reading the film")).to_be_visible()
    holds = coach.get_by_role("region", name="Holds in the film")
    expect(holds.get_by_role("listitem")).to_have_count(10, timeout=3 * PATIENCE_MS)
    wanted = known_holds("ten-tries")
    for words, (seconds, end) in zip(holds.get_by_role("listitem").all_inner_texts(), wanted, strict=True):
        found = re.fullmatch(r"\d+\. ([\d.]+) s, fell (over|under)", words.strip())
        assert found, words
        assert float(found[1]) == pytest.approx(seconds, abs=0.3)
        assert found[2] == end
    coach.get_by_role("button", name="Take them to the Bench").click()
    coach.get_by_role("button", name="Go through the film: 10 tries").click()
    status = coach.get_by_text("The film proposes")
    expect(status).to_contain_text("10 more")
    coach.get_by_label("Other seconds").fill("3.9")
    coach.get_by_role("button", name="fell over", exact=True).click()
    expect(status).to_contain_text("9 more")
    coach.keyboard.press("d")
    for left in range(8, 1, -1):
        expect(status).to_contain_text(f"{left} more")
        coach.keyboard.press("Enter")
    expect(status).to_contain_text("one more")
    # taken back, it is proposed again
    coach.keyboard.press("z")
    expect(status).to_contain_text("2 more")
    coach.keyboard.press("Enter")
    expect(status).to_contain_text("one more")
    coach.keyboard.press("Enter")
    expect(status).to_be_hidden()
    coach.get_by_role("button", name="Stop the test here").click()
    expect(coach.get_by_text("from a film").first).to_be_visible()
    # what was kept last may still be on its way
    counted = (
        "select count(*) from evidence e join test_run r on r.id = e.test_run_id where r.source = 'film'"
    )
    sent(hall, cluster, f"{counted} and e.struck_at is null", until=[(9,)])
    kept = query(
        hall,
        cluster,
        "select e.value, e.fell from evidence e join test_run r on r.id = e.test_run_id"
        " where r.source = 'film' and e.struck_at is null order by e.try_number",
    )
    assert [fell for _, fell in kept] == ["over", *(end for _, end in wanted[2:])]
    assert kept[0][0] == pytest.approx(3.9)


@needs_model
def test_a_film_is_scrubbed_and_broken_off(coach: Page) -> None:
    """Frame by frame by keys; reading can be cancelled and begun again."""
    open_line(coach)
    pick(coach, "falls-under")
    moment = coach.get_by_test_id("moment")
    expect(moment).to_have_text("0.0 s")
    coach.keyboard.press(".")
    expect(moment).to_have_text("0.1 s")
    coach.keyboard.press(",")
    expect(moment).to_have_text("0.0 s")
    coach.get_by_label("Frame of the film").focus()
    for _ in range(3):
        coach.keyboard.press("PageUp")
    expect(moment).to_have_text("3.0 s")
    expect(said(coach)).to_be_visible()
    find = coach.get_by_role("button", name="Find the holds")
    expect(find).to_be_enabled()
    find.click()
    coach.get_by_role("button", name="Cancel").click()
    expect(find).to_be_enabled()
    find.click()
    holds = coach.get_by_role("region", name="Holds in the film")
    ((seconds, _),) = known_holds("falls-under")
    expect(holds).to_contain_text(re.compile(rf"1\. [{int(seconds) - 1}-{int(seconds)}]\.\d s, fell under"))
    assert_accessible(coach, "a film")


@pytest.fixture
def filmed(coach: Page, hall: Server, playwright: Playwright, tmp_path: Path) -> Iterator[Page]:
    """A browser whose camera plays the film of a hold that falls over, again and again."""
    frames = [base64.b64decode(f) for f in coach.evaluate(FILM, "falls-over")]
    film = tmp_path / "camera.mjpeg"
    # the fake camera plays thirty pictures a second
    film.write_bytes(b"".join(frame * 3 for frame in frames))
    browser = playwright.chromium.launch(
        executable_path=find_chromium(),
        args=[
            *FLAGS.split(),
            "--use-fake-ui-for-media-stream",
            "--use-fake-device-for-media-stream",
            f"--use-file-for-fake-video-capture={film}",
        ],
    )
    context = browser.new_context(viewport={"width": 1280, "height": 800}, permissions=["camera"])
    context.set_default_timeout(PATIENCE_MS)
    page = context.new_page()
    arrive(page, hall)
    yield page
    browser.close()


@needs_model
def test_the_camera_counts_by_itself_and_the_key_wins(filmed: Page) -> None:
    """Up and down are seen and sounded, the seconds stand large; the coach's key stops the count."""
    filmed.add_init_script(
        "window.heard = []; window.addEventListener('perch:tone', (e) => window.heard.push(e.detail));"
    )
    filmed.reload()
    open_line(filmed)
    filmed.get_by_role("button", name="Use the camera").click()
    held = filmed.get_by_role("main").get_by_role("listitem").filter(has_text="fell over")
    expect(held.first).to_be_visible(timeout=3 * PATIENCE_MS)
    assert {"start", "stop"} <= set(filmed.evaluate("window.heard"))
    expect(filmed.get_by_text("Up.", exact=True)).to_be_visible()
    filmed.keyboard.press("Space")
    expect(filmed.get_by_role("button", name="Take them to the Bench")).to_be_visible()
    own = filmed.get_by_role("main").get_by_role("listitem").filter(has_text=re.compile(r"^\d+\.\s[\d.]+ s$"))
    expect(own.first).to_be_visible()
    expect(filmed.get_by_test_id("rate")).to_contain_text(re.compile(r"\d+ frames a second are looked at"))
    assert_accessible(filmed, "the camera")


def test_the_key_counts_without_model_or_camera(coach: Page) -> None:
    """Refused, the camera is said to be; the key starts and stops all the same."""
    without_model(coach)
    open_line(coach)
    coach.get_by_role("button", name="Use the camera").click()
    expect(coach.get_by_role("alert")).to_contain_text("The camera cannot be used here.")
    expect(coach.get_by_text("No model here: count with the key.")).to_be_visible()
    coach.keyboard.press("Space")
    expect(coach.get_by_role("button", name="Stop")).to_be_visible()
    expect(coach.get_by_test_id("big-seconds")).not_to_have_text("0.0")
    coach.keyboard.press("Space")
    expect(coach.get_by_role("button", name="Start by hand")).to_be_visible()
    expect(coach.get_by_role("button", name="Take them to the Bench")).to_be_visible()


def test_a_file_that_is_no_picture_is_said_to_be_none(coach: Page, tmp_path: Path) -> None:
    open_line(coach)
    wrong = tmp_path / "notes.png"
    wrong.write_text("no picture at all")
    coach.get_by_label("Pick a file").set_input_files(wrong)
    expect(coach.get_by_role("alert")).to_contain_text("no picture that this browser can read")
    points = tmp_path / "points.json"
    still = STILLS["closed"]
    flat = [0.0] * 51
    from wise_perch.core.line.points import COCO

    for n, name in enumerate(COCO):
        if name in still["points"]:
            flat[3 * n : 3 * n + 3] = [*still["points"][name], 2]
    points.write_text(
        json.dumps(
            {
                "images": [{"id": 1, "width": still["width"], "height": still["height"]}],
                "annotations": [{"image_id": 1, "keypoints": flat, "view": "side"}],
            }
        )
    )
    coach.get_by_label("Pick a file").set_input_files(points)
    assert_judged(coach, still)
