"""Pages of headless Chromium: one context per worker and kind, cleared between tests; what a failed test leaves."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, BrowserContext, ConsoleMessage, Error, Page, Request

from tests.support.browser import ADVICE_OFF, CLING_OFF, SCOUTS_OFF

EVIDENCE = Path(__file__).parents[2] / ".flaky"
# How much of what a request carried is kept, bytes.
BODY_BYTES = 600
DESKTOP: dict[str, Any] = {
    "viewport": {"width": 1280, "height": 800},
    "accept_downloads": True,
    "reduced_motion": "reduce",
}


@dataclass
class Contexts:
    """Browser contexts that are kept from test to test, since a warm cache saves a second at each page."""

    browser: Browser
    _kept: dict[str, BrowserContext] = field(default_factory=dict)

    def get(self, cling: bool, scouts: bool, advice: bool, **options: Any) -> BrowserContext:
        """A context as a new one would be; cling: it is on from the start; scouts: they search when a desk is opened;
        advice: the server is asked for advice on marks."""
        key = f"{cling} {scouts} {advice} {sorted(options.items())}"
        if key not in self._kept:
            made = self._kept[key] = self.browser.new_context(**(options or DESKTOP))
            if not cling:
                made.add_init_script(CLING_OFF)
            if not scouts:
                made.add_init_script(SCOUTS_OFF)
            if not advice:
                made.add_init_script(ADVICE_OFF)
            made.tracing.start(snapshots=False)
        self._kept[key].tracing.start_chunk()
        return self._kept[key]

    def clear(self, context: BrowserContext, origin: str) -> None:
        """Make a context as good as new: no pages, cookies or storage. One that cannot be cleared is closed."""
        try:
            context.tracing.stop_chunk()
            first, *others = context.pages or [context.new_page()]
            for page in others:
                page.close()
            session = context.new_cdp_session(first)
            kinds = "cookies,local_storage,session_storage,indexeddb,cache_storage,service_workers"
            session.send("Storage.clearDataForOrigin", {"origin": origin, "storageTypes": kinds})
            first.close()
            context.clear_cookies()
        except Error:
            self.drop(context)

    def drop(self, context: BrowserContext) -> None:
        """Close a context: the next test gets a new one."""
        self._kept = {key: each for key, each in self._kept.items() if each is not context}
        context.close()


@dataclass
class Watched:
    """What a page sent, said and broke, to be told if its test fails."""

    page: Page
    sent: list[str] = field(default_factory=list)
    said: list[str] = field(default_factory=list)
    errors: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.page.on("request", self._request)
        self.page.on("console", self._console)
        self.page.on("pageerror", lambda error: self.errors.append(str(error)))

    def _request(self, each: Request) -> None:
        body = (each.post_data_buffer or b"")[:BODY_BYTES].decode(errors="replace")
        self.sent.append(f"{each.method} {each.url} {body}")

    def _console(self, each: ConsoleMessage) -> None:
        self.said.append(f"{each.type}: {each.text}")

    def keep(self, name: str) -> str:
        """Write picture, console, requests and trace of the page into a folder named after the test; a summary."""
        folder = EVIDENCE / re.sub(r"[^\w.-]+", "_", name)
        folder.mkdir(parents=True, exist_ok=True)
        room = self.page.evaluate(
            "JSON.stringify(document.querySelector('[data-testid=picture]')?.getBoundingClientRect())"
        )
        words = self.page.locator("body").inner_text()
        (folder / "page.txt").write_text("\n".join([self.page.url, f"picture: {room}", words]))
        (folder / "console.txt").write_text("\n".join([*self.errors, *self.said]))
        (folder / "requests.txt").write_text("\n".join(self.sent))
        self.page.screenshot(path=folder / "page.png")
        self.page.context.tracing.stop_chunk(path=folder / "trace.zip")
        self.page.context.tracing.start_chunk()
        edits = [each for each in self.sent if not each.startswith("GET")]
        return "\n".join([self.page.url, f"picture: {room}", words, *edits[-12:], *self.errors, f"kept in {folder}"])
