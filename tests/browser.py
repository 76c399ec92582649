"""Debian's Chromium without a head."""

import shutil

from playwright.sync_api import Browser, BrowserType, Route

QUIET = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
# Most tests mark to the pixel; who comes for the first time finds Cling on.
# A page that was never gone to has no storage.
CLING_OFF = """location.protocol === 'http:' &&
  (localStorage.getItem('desk.cling') ?? localStorage.setItem('desk.cling', 'false'))"""


def chromium(kind: BrowserType, *more: str) -> Browser:
    """The browser without windows, which draws no frame that nobody sees; where it is not there, the whole one."""
    program = shutil.which("chromium-headless-shell") or shutil.which("chromium")
    assert program, "Debian's chromium is needed: make chromium"
    return kind.launch(executable_path=program, args=[*QUIET, *more])


def without_scouts(route: Route) -> None:
    """Turns away what a desk asks for when it opens: scouts look at each picture for seconds, and few tests need it."""
    asked = route.request
    if asked.method == "POST" and not (asked.post_data_json or {}).get("kinds"):
        route.abort()
    else:
        route.continue_()
