"""What a first and a second visit cost in the real browser: bytes as sent, and the moment the content stands, not
a placeholder; as it is, and on a phone (4 x CPU, 50 kB/s); the sign-in page beside a static page of the same weight.
"""

import shutil
import statistics
import tempfile
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
    """A page that only stands there: the same styles and fonts, and scripts of the size of those that the page
    names, which do nothing.
    """
    shutil.copytree(DIST / "assets", folder / "assets")
    page = (DIST / "index.html").read_text("utf-8")
    named = [p for p in (folder / "assets").iterdir() if f'"/assets/{p.name}"' in page]
    styles = "".join(f'<link rel="stylesheet" href="/assets/{p.name}">' for p in named if p.suffix == ".css")
    scripts = ""
    for path in named:
        if path.suffix != ".js":
            continue
        # a comment as long as the script, of no fewer different characters, so that it is no lighter on the way
        path.write_text("/*" + path.read_text("utf-8").replace("*/", "* /") + "*/", "utf-8")
        path.with_name(path.name + ".gz").unlink()
        scripts += f'<script type="module" src="/assets/{path.name}"></script>'
    (folder / "index.html").write_text(
        f"<!doctype html><html lang=en><title>x</title>{styles}{scripts}<body><h1>Sign in</h1></body></html>",
        "utf-8",
    )
    return folder


def sign_in_heading(made: Browser, database: str) -> tuple[float, float]:
    """The median of when the sign-in heading stands, ms, and that of a static page of the same weight, visited
    in turn.
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
