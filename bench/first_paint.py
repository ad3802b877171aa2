"""The time to the first contentful paint of the sign-in page, against a static page of the same weight in the
same browser.
"""

import shutil
import statistics
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

from wise_perch.machine import server
from wise_perch.machine.browser import find_chromium
from wise_perch.machine.places import DIST, ROOT
from wise_perch.machine.postgres import free_port

FLAGS = (
    "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking"
    " --disable-component-update --disable-sync"
)
ROUNDS = 9
PAINT = "performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? null"


def static_twin(folder: Path) -> Path:
    """A page that only stands there: the same style and fonts, and a script of the same size that does
    nothing.
    """
    shutil.copytree(DIST / "assets", folder / "assets")
    styles = "".join(
        f'<link rel="stylesheet" href="/assets/{p.name}">' for p in (folder / "assets").glob("*.css")
    )
    scripts = ""
    for path in (folder / "assets").glob("*.js"):
        # a comment as long as the script, of no fewer different characters, so that it is no lighter on the
        # way
        path.write_text("/*" + path.read_text("utf-8").replace("*/", "* /") + "*/", "utf-8")
        scripts += f'<script type="module" src="/assets/{path.name}"></script>'
    (folder / "index.html").write_text(
        f"<!doctype html><html lang=en><title>x</title>{styles}{scripts}<body><h1>Sign in</h1></body></html>",
        "utf-8",
    )
    return folder


@contextmanager
def served(web: Path, database: str) -> Iterator[str]:
    """Serve a built folder by the real server process."""
    port = free_port()
    process = subprocess.Popen(
        server.command(port),
        cwd=ROOT,
        env=server.environment(database=database, web=web, demo=""),
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    try:
        server.wait_until_it_answers(port, process)
        yield f"http://127.0.0.1:{port}/"
    finally:
        process.terminate()
        process.wait()


def paint_ms(browser: Browser, address: str) -> float:
    """One first visit with nothing kept from before."""
    context = browser.new_context(service_workers="block")
    page = context.new_page()
    page.goto(address)
    # the page's own policy forbids waiting by a function, so it is asked until it has painted
    while (found := page.evaluate(PAINT)) is None:
        page.wait_for_timeout(20)
    context.close()
    return float(found)


def first_paint(database: str) -> tuple[float, float]:
    """The median first paint in ms of our page and of its static twin, visited in turn."""
    with (
        tempfile.TemporaryDirectory(prefix="perch-twin-") as folder,
        sync_playwright() as playwright,
        served(DIST, database) as ours,
        served(static_twin(Path(folder) / "web"), database) as twin,
    ):
        browser = playwright.chromium.launch(executable_path=find_chromium(), args=FLAGS.split())
        paint_ms(browser, ours), paint_ms(browser, twin)
        pairs = [(paint_ms(browser, ours), paint_ms(browser, twin)) for _ in range(ROUNDS)]
        browser.close()
    return statistics.median(a for a, _ in pairs), statistics.median(b for _, b in pairs)
