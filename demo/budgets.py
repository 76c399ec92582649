"""What the desk costs in Chromium on this machine: first view, the next picture, long tasks while painting, frames a
second on the wall.

    .venv/bin/python demo/budgets.py LIBRARY

on a copy of the demo library; nothing else should run meanwhile. The figures are in docs/screen.md.
"""

from __future__ import annotations

import itertools
import re
import statistics
import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from playwright.sync_api import Browser, Page, expect, sync_playwright
from tests.support.application import Application
from tests.support.browser import CLING_OFF, chromium
from tests.support.waiting import PATIENCE

SETTLED = 25.0
VIEW = {"width": 1280, "height": 800}
WATCH = """() => {
  window.long = [];
  new PerformanceObserver((list) => window.long.push(...list.getEntries().map((each) => each.duration)))
    .observe({ type: 'longtask' });
}"""
# When the picture was drawn for the first time.
DRAWN = """new MutationObserver((_, me) => {
  if (document.querySelector('[data-testid=picture]')?.dataset.look === undefined) return;
  me.disconnect();
  window.drawn = performance.now();
}).observe(document, { subtree: true, childList: true, attributes: true, attributeFilter: ['data-look'] });"""
# From a key until another picture than the one that was there is drawn, into data-turned.
TURNED = """() => {
  const before = location.pathname;
  delete document.documentElement.dataset.turned;
  window.addEventListener('keydown', () => {
    const pressed = performance.now();
    delete document.querySelector('[data-testid=picture]').dataset.look;
    new MutationObserver((_, me) => {
      const look = document.querySelector('[data-testid=picture]')?.dataset.look;
      if (look === undefined || location.pathname === before) return;
      me.disconnect();
      document.documentElement.dataset.turned = performance.now() - pressed;
    }).observe(document, { subtree: true, childList: true, attributes: true, attributeFilter: ['data-look'] });
  }, { capture: true, once: true });
}"""
FRAMES = """() => {
  window.frames_ = [];
  const tick = (at) => { window.frames_.push(at); window.ticking && requestAnimationFrame(tick); };
  window.ticking = true;
  requestAnimationFrame(tick);
}"""


def first_view(browser: Browser, address: str) -> list[float]:
    """Seconds from the request until the picture is drawn, each time in a window that knows nothing yet."""
    out = []
    for _ in range(5):
        page = browser.new_context(viewport=VIEW).new_page()
        page.add_init_script(DRAWN)
        page.goto(f"{address}/frames/1", wait_until="commit")
        expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
        out.append(page.evaluate("window.drawn") / 1000)
        page.context.close()
    return out


def turning(page: Page) -> list[float]:
    """Seconds from Page Down or Page Up until the next picture is drawn, to and fro over four pictures."""
    out = []
    for key in (["PageDown"] * 3 + ["PageUp"] * 3) * 3:
        page.wait_for_load_state("networkidle")
        page.wait_for_timeout(700)
        page.evaluate(TURNED)
        page.keyboard.press(key)
        turned = page.wait_for_selector("html[data-turned]", timeout=1_000 * PATIENCE)
        assert turned is not None
        out.append(float(turned.get_attribute("data-turned") or "nan") / 1000)
    return out


def painting(page: Page) -> list[float]:
    """Long tasks (above 50 ms, W3C Long Tasks API) during eight strokes of forty movements."""
    page.evaluate(WATCH)
    room = page.get_by_test_id("layer").bounding_box()
    assert room is not None
    for k in range(8):
        y = room["y"] + 80 + 40 * k
        page.mouse.move(room["x"] + 200, y)
        page.mouse.down()
        for step in range(40):
            page.mouse.move(room["x"] + 200 + 6 * step, y + (step % 5))
        page.mouse.up()
        page.keyboard.press("n")
    page.wait_for_timeout(1_000)
    return list(page.evaluate("window.long"))


def panning(page: Page) -> float:
    """Frames a second while the wall is dragged about."""
    wall = page.get_by_role("region", name="Wall").bounding_box()
    assert wall is not None
    x, y = wall["x"] + wall["width"] / 4, wall["y"] + wall["height"] / 4
    page.wait_for_timeout(2_000)
    page.evaluate(FRAMES)
    page.mouse.move(x, y)
    page.mouse.down()
    for step in range(150):
        page.mouse.move(x + 60 * ((step // 15) % 2) + 4 * (step % 15), y + step % 9)
    page.mouse.up()
    at = page.evaluate("() => { window.ticking = false; return window.frames_; }")
    return float(1000 / statistics.median(b - a for a, b in itertools.pairwise(at)))


def main() -> None:
    application = Application(Path(sys.argv[1]))
    application.start()
    # What the server does when it starts is not the desk's.
    time.sleep(SETTLED)
    try:
        with sync_playwright() as playwright:
            browser = chromium(playwright.chromium)
            views = first_view(browser, application.address)
            print(f"first view of the desk: {statistics.median(views):.2f} s in the median, {max(views):.2f} s at most")
            page = browser.new_context(viewport=VIEW).new_page()
            page.add_init_script(CLING_OFF)
            page.goto(f"{application.address}/frames/1?sweep=1")
            page.wait_for_load_state("networkidle")
            page.keyboard.press("F2")
            expect(page.get_by_role("region", name="Wall")).to_be_visible(timeout=1_000 * PATIENCE)
            print(f"the wall with four pictures: {panning(page):.0f} frames a second in the median")
            page.keyboard.press("F2")
            page.goto(f"{application.address}/frames/1")
            expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
            turns = turning(page)
            print(f"the next picture: {statistics.median(turns):.2f} s in the median, {max(turns):.2f} s at most")
            page.goto(f"{application.address}/frames/{sys.argv[2] if len(sys.argv) > 2 else 1}")
            page.wait_for_load_state("networkidle")
            long = painting(page)
            print(f"long tasks while painting: {len(long)}, the longest {max(long, default=0):.0f} ms")
            browser.close()
    finally:
        application.stop()


if __name__ == "__main__":
    main()
