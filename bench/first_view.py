"""What the pages cost in the real browser: bytes as sent, and the moment the content stands, not a
placeholder; as it is and on a phone (4 x CPU, 50 kB/s); a dial under the thumb, and a hold on the Floor.
"""

import re
import shutil
import statistics
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from playwright.sync_api import Browser, BrowserContext, CDPSession, Page, sync_playwright

from bench.hall import Hall
from bench.routes import served
from wise_perch.api.auth import COOKIE
from wise_perch.machine.browser import find_chromium
from wise_perch.machine.places import DIST

FLAGS = (
    "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking"
    " --disable-component-update --disable-sync"
)
ROUNDS = 7
SLOW_CPU, SLOW_LINE = 4, 50_000
"""A phone: times slower, and bytes a second."""
STANDS = """
    new MutationObserver(() => {
        if (window.stoodAt === undefined && document.querySelector('h1'))
            requestAnimationFrame(() => { window.stoodAt ??= performance.now() })
    }).observe(document, { subtree: true, childList: true })
"""
"""The moment the heading is painted, counted from the start of the visit."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Visit:
    """When the heading stood, ms; the bytes that were sent until then, and how many requests."""

    stood: float
    bytes: int
    requests: int


@contextmanager
def browser() -> Iterator[Browser]:
    """The browser, without a window."""
    with sync_playwright() as playwright:
        made = playwright.chromium.launch(executable_path=find_chromium(), args=FLAGS.split())
        yield made
        made.close()


def visit(page: Page, line: CDPSession, address: str) -> Visit:
    """One visit, until the heading stands."""
    sent: list[float] = []
    line.on("Network.loadingFinished", lambda event: sent.append(event["encodedDataLength"]))
    page.goto(address, wait_until="commit")
    # the page's own policy forbids waiting by a function, so it is asked until it stands
    while (stood := page.evaluate("window.stoodAt ?? null")) is None:
        page.wait_for_timeout(20)
    return Visit(stood=float(stood), bytes=round(sum(sent)), requests=len(sent))


def opened(context: BrowserContext, *, slow: bool) -> tuple[Page, CDPSession]:
    """A page whose traffic is counted, on a phone's line and processor where it is to be slow."""
    page = context.new_page()
    page.add_init_script(STANDS)
    line = context.new_cdp_session(page)
    line.send("Network.enable")
    if slow:
        line.send("Emulation.setCPUThrottlingRate", {"rate": SLOW_CPU})
        line.send(
            "Network.emulateNetworkConditions",
            {
                "offline": False,
                "latency": 40,
                "downloadThroughput": SLOW_LINE,
                "uploadThroughput": SLOW_LINE,
            },
        )
    return page, line


def two_visits(made: Browser, address: str, *, cookie: str, slow: bool) -> tuple[Visit, Visit]:
    """A first visit with nothing kept from before, and a second one."""
    context = made.new_context()
    if cookie:
        context.add_cookies([{"name": COOKIE, "value": cookie, "url": address}])
    page, line = opened(context, slow=slow)
    first = visit(page, line, address)
    # until all that comes after has come
    page.wait_for_load_state("networkidle")
    page.close()
    page, line = opened(context, slow=slow)
    second = visit(page, line, address)
    context.close()
    return first, second


def static_twin(folder: Path) -> Path:
    """A page that only stands there: the same styles and fonts, and scripts of the size of those that the
    page names, which do nothing.
    """
    shutil.copytree(DIST / "assets", folder / "assets")
    page = (DIST / "index.html").read_text("utf-8")
    named = [p for p in (folder / "assets").iterdir() if f'"/assets/{p.name}"' in page]
    styles = "".join(f'<link rel="stylesheet" href="/assets/{p.name}">' for p in named if p.suffix == ".css")
    scripts = ""
    for path in named:
        if path.suffix != ".js":
            continue
        # a comment as long as the script, of no fewer different characters: it is no lighter on the way
        path.write_text("/*" + path.read_text("utf-8").replace("*/", "* /") + "*/", "utf-8")
        path.with_name(path.name + ".gz").unlink()
        scripts += f'<script type="module" src="/assets/{path.name}"></script>'
    (folder / "index.html").write_text(
        f"<!doctype html><html lang=en><title>x</title>{styles}{scripts}<body><h1>Sign in</h1></body></html>",
        "utf-8",
    )
    return folder


def sign_in_heading(made: Browser, database: str) -> tuple[float, float]:
    """The median of when the sign-in heading stands, ms, and that of a static page of the same weight,
    visited in turn.
    """
    with (
        tempfile.TemporaryDirectory(prefix="perch-twin-") as folder,
        served(database) as ours,
        served(database, web=static_twin(Path(folder) / "web")) as twin,
    ):

        def stood(port: int) -> float:
            context = made.new_context(service_workers="block")
            page, line = opened(context, slow=False)
            found = visit(page, line, f"http://127.0.0.1:{port}/").stood
            context.close()
            return found

        stood(ours), stood(twin)
        pairs = [(stood(ours), stood(twin)) for _ in range(ROUNDS)]
    return statistics.median(a for a, _ in pairs), statistics.median(b for _, b in pairs)


def today_stands(made: Browser, database: str, hall: Hall) -> dict[str, tuple[Visit, Visit]]:
    """First and second visits of Today, as it is and on a phone; the medians by the moment it stood."""
    found = {}
    with served(database) as port:
        for name, slow in (("as it is", False), ("on a phone", True)):
            pairs = [
                two_visits(made, f"http://127.0.0.1:{port}/", cookie=hall.signed_in, slow=slow)
                for _ in range(3)
            ]
            first, second = (sorted(visits, key=lambda v: v.stood)[1] for visits in zip(*pairs, strict=True))
            found[name] = (first, second)
    return found


DRAG = 60
"""So many moves of the thumb, one a frame."""
WATCH = """
    () => {
        const thumb = document.querySelector('[role=slider]')
        const box = document.querySelector('[data-testid=figures]')
        window.paints = { all: 0, behind: 0 }
        const look = () => {
            const at = JSON.parse(box.dataset.settings)['hands-to-feet']
            const shown = getComputedStyle(box).visibility === 'visible'
            window.paints.all += 1
            if (!shown || at !== Number(thumb.getAttribute('aria-valuenow'))) window.paints.behind += 1
            window.looking = requestAnimationFrame(look)
        }
        window.looking = requestAnimationFrame(look)
    }
"""


def dial_behind(made: Browser, port: int, hall: Hall) -> tuple[int, int]:
    """Of the paints while a thumb is dragged, how many show another setting's figure, or none."""
    context = signed_in(made, port, hall)
    page = context.new_page()
    page.goto(f"http://127.0.0.1:{port}/trainees/{hall.trainees[3]}/levers")
    page.get_by_label("Set up").select_option("pike-push-up")
    place = page.get_by_role("slider", name="Hands to feet, cm").bounding_box()
    assert place
    x, y = place["x"] + place["width"] / 2, place["y"] + place["height"] / 2
    # a hand that comes near, as it does before it takes hold
    page.mouse.move(x, y)
    page.wait_for_load_state("networkidle")
    page.mouse.down()
    page.evaluate(WATCH)
    for n in range(DRAG):
        page.mouse.move(x - n * 2, y)
    paints = page.evaluate("() => { cancelAnimationFrame(window.looking); return window.paints }")
    context.close()
    return int(paints["behind"]), int(paints["all"])


def signed_in(made: Browser, port: int, hall: Hall) -> BrowserContext:
    """A phone's window with the hall's session."""
    context = made.new_context(viewport={"width": 390, "height": 844})
    context.add_cookies([{"name": COOKIE, "value": hall.signed_in, "url": f"http://127.0.0.1:{port}/"}])
    return context


BARE_FIGURE = """
    const figure = document.body.appendChild(document.createElement('p'))
    figure.style = 'font: bold 5.5rem sans-serif; contain: content'
    const since = Date.now()
    setInterval(() => { figure.textContent = ((Date.now() - since) / 1000).toFixed(1) }, 100)
"""


def busy_in_a_hold(made: Browser, port: int, hall: Hall) -> tuple[float, float]:
    """The share of time in which the main thread works while a hold runs on the Floor, at 4 x CPU, %; and
    that of a page that has nothing but such a figure.
    """
    context = signed_in(made, port, hall)
    page = context.new_page()
    page.goto(f"http://127.0.0.1:{port}/floor")
    page.get_by_label("Bring somebody on").select_option(index=3)
    page.get_by_role("button", name=re.compile("^3")).first.click()
    page.get_by_role("button", name="Begin the session").click()
    figure = page.get_by_test_id("figure")
    page.get_by_role("region", name="Now").wait_for()
    while not (figure.count() and figure.inner_text().startswith("0.0")):
        page.keyboard.press("f")
        page.wait_for_timeout(200)
    page.keyboard.press("Space")
    ours = _busy(context, page)
    page.goto("about:blank")
    page.evaluate(f"() => {{ {BARE_FIGURE} }}")
    bare = _busy(context, page)
    context.close()
    return ours, bare


def _busy(context: BrowserContext, page: Page, *, seconds: float = 4) -> float:
    line = context.new_cdp_session(page)
    line.send("Performance.enable", {"timeDomain": "threadTicks"})
    line.send("Emulation.setCPUThrottlingRate", {"rate": SLOW_CPU})

    def worked() -> float:
        metrics = line.send("Performance.getMetrics")["metrics"]
        return float(next(m["value"] for m in metrics if m["name"] == "TaskDuration"))

    before, begun = worked(), time.perf_counter()
    time.sleep(seconds)
    share = (worked() - before) / (time.perf_counter() - begun)
    line.send("Emulation.setCPUThrottlingRate", {"rate": 1})
    return share * 100
