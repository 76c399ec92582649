"""The real application in headless Chromium: a server process, a library of its own, and pages."""

import re
import signal
from collections.abc import Generator, Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any

import httpx
import imagecodecs
import pytest
from numpy.typing import NDArray
from playwright.sync_api import Browser, Error, Page, Request, expect, sync_playwright
from skimage.draw import line

from tests.application import Application
from tests.browser import CLING_OFF, chromium, without_scouts

# States are waited for, however long they take: the machine may have much else to do.
expect.set_options(timeout=60_000)


SENT: pytest.StashKey[list[str]] = pytest.StashKey()


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(
    item: pytest.Item, call: pytest.CallInfo[None]
) -> Generator[None, pytest.TestReport, pytest.TestReport]:
    """What a page showed and had sent last, when its test fails: what fails once in many runs is to be understood."""
    report = yield
    pages = [each for each in getattr(item, "funcargs", {}).values() if isinstance(each, Page)]
    if call.when == "call" and report.failed and pages:
        with suppress(Error):
            room = pages[0].evaluate(
                "JSON.stringify(document.querySelector('[data-testid=picture]')?.getBoundingClientRect())"
            )
            words = pages[0].locator("body").inner_text()
            told = [pages[0].url, f"picture: {room}", words, *item.stash.get(SENT, [])[-12:]]
            report.sections.append(("The page", "\n".join(told)))
    return report


@pytest.fixture(scope="session")
def application(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    made = Application(tmp_path_factory.mktemp("library"))
    made.start()
    # What one test picks must not decide which take is the best in another.
    httpx.patch(f"{made.address}/api/taste", json={"followed": False}).raise_for_status()
    yield made
    made.stop(signal.SIGKILL)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        started = chromium(playwright.chromium)
        yield started
        started.close()


@pytest.fixture
def blank(browser: Browser, application: Application, request: pytest.FixtureRequest) -> Iterator[Page]:
    """A page that shows nothing yet."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, accept_downloads=True, reduced_motion="reduce"
    )
    if "newcomer" not in request.keywords:
        context.add_init_script(CLING_OFF)
    if "scouts" not in request.keywords:
        context.route("**/api/frames/*/scouts", without_scouts)
    made = context.new_page()
    made.set_default_timeout(60_000)
    wrong: list[str] = []
    ours = (application.address, "blob:", "data:")
    made.on("pageerror", lambda error: wrong.append(str(error)))
    # Nothing may be fetched from anywhere else.
    made.on("request", lambda request: None if request.url.startswith(ours) else wrong.append(request.url))
    remembered(made, request)
    # Somebody always listens for file choosers: told to only when one is about to open, a busy browser opens its own.
    made.on("filechooser", lambda _: None)
    yield made
    context.close()
    assert wrong == []


def remembered(page: Page, request: pytest.FixtureRequest) -> None:
    """Remember what a page sends, to be told if its test fails."""
    sent = request.node.stash[SENT] = []

    def remember(each: Request) -> None:
        if each.method != "GET":
            body = (each.post_data_buffer or b"")[:600]
            sent.append(f"{each.method} {each.url} {body.decode(errors='replace')}")

    page.on("request", remember)


@pytest.fixture
def page(blank: Page, application: Application) -> Page:
    """A page with all shoots."""
    blank.goto(application.address)
    return blank


@pytest.fixture(scope="module")
def photo(tmp_path_factory: pytest.TempPathFactory, photograph: NDArray[Any]) -> Path:
    """The photograph with a dark rod put into its sky."""
    pixels = photograph.copy()
    for shift in range(-3, 4):
        pixels[line(20 + shift, 400, 60 + shift, 600)] = (20, 20, 25)
    file = tmp_path_factory.mktemp("photo") / "rod.png"
    file.write_bytes(imagecodecs.png_encode(pixels))
    return file


@pytest.fixture
def desk(blank: Page, application: Application, photo: Path, request: pytest.FixtureRequest) -> Page:
    """A new shoot with the photograph, open on the desk."""
    page, address = blank, f"{application.address}/api/shoots"
    same = {"Origin": application.address}
    shoot = page.request.post(address, data={"name": request.node.name.replace("_", " ")}, headers=same).json()
    where = f"{address}/{shoot['id']}/frames"
    frame = page.request.post(where, params={"name": photo.name}, data=photo.read_bytes(), headers=same).json()
    page.goto(f"{application.address}/frames/{frame['id']}")
    expect(page.get_by_text("Paint over what should go", exact=False).first).to_be_visible()
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
    return page
