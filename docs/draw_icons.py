"""Draws the app's icons for every platform out of icon.svg: PYTHONPATH=. python docs/draw_icons.py"""

from pathlib import Path

from playwright.sync_api import sync_playwright

from wise_perch.machine.browser import find_chromium

PUBLIC = Path(__file__).parents[1] / "web" / "public"
PAPER = "#f6f2e9"
ICONS = {
    "icon-192.png": (192, 0.8),
    "icon-512.png": (512, 0.8),
    "icon-maskable.png": (512, 0.6),
    "icon-180.png": (180, 0.76),
}
"""The size of each, and how much of it the drawing fills: what is cut to a circle keeps clear of its edge."""


def main() -> None:
    """Draw them all."""
    drawing = (PUBLIC / "icon.svg").read_text("utf-8")
    with sync_playwright() as runs:
        browser = runs.chromium.launch(executable_path=find_chromium(), args=["--no-sandbox"])
        for name, (size, share) in ICONS.items():
            page = browser.new_page(viewport={"width": size, "height": size})
            side = round(size * share)
            page.set_content(
                f"<style>body{{margin:0;background:{PAPER};display:grid;place-items:center;height:100vh}}"
                f"svg{{width:{side}px;height:{side}px}}</style>{drawing}"
            )
            page.screenshot(path=PUBLIC / name)
            page.close()
            print(name)
        browser.close()


if __name__ == "__main__":
    main()
