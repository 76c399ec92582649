"""The real application in headless Chromium: a server process, a library of its own, and pages."""

import signal
from collections.abc import Callable, Generator, Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any

import httpx
import imagecodecs
import pytest
from numpy.typing import NDArray
from playwright.sync_api import Browser, Error, Page, expect, sync_playwright
from skimage.draw import line

from tests.support.application import Application
from tests.support.browser import chromium
from tests.support.desk import open_shoot
from tests.support.pages import Contexts, Watched

# States are waited for, however long they take: the machine may have much else to do.
PAGE_MS = 90_000
expect.set_options(timeout=PAGE_MS)


WATCHED: pytest.StashKey[list[Watched]] = pytest.StashKey()


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(
    item: pytest.Item, call: pytest.CallInfo[None]
) -> Generator[None, pytest.TestReport, pytest.TestReport]:
    """Keep what a page showed, said and sent when its test fails: what fails once in many runs is to be understood."""
    report = yield
    if report.failed and call.when != "teardown":
        for each in item.stash.get(WATCHED, []):
            with suppress(Error):
                report.sections.append(("The page", each.keep(item.nodeid)))
    return report


@pytest.fixture(scope="session")
def applications(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Callable[[str, bool], Application]]:
    """Servers by their engine and by whether takes are reviewed, each started when it is first asked for."""
    started: dict[tuple[str, bool], Application] = {}

    def get(engine: str, second_look: bool) -> Application:
        kind = engine, second_look
        if kind not in started:
            made = started[kind] = Application(tmp_path_factory.mktemp("library"), engine, second_look)
            made.start()
            # What one test picks must not decide which take is the best in another.
            httpx.patch(f"{made.address}/api/taste", json={"followed": False}).raise_for_status()
        return started[kind]

    yield get
    for each in started.values():
        each.stop(signal.SIGKILL)


@pytest.fixture(scope="module")
def application(applications: Callable[[str, bool], Application], request: pytest.FixtureRequest) -> Application:
    """The server of a module: its fills are flat and not reviewed, unless the module is marked `engines` or
    `second_look`."""
    if request.node.get_closest_marker("engines"):
        return applications("", True)
    return applications("flat", bool(request.node.get_closest_marker("second_look")))


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        started = chromium(playwright.chromium)
        yield started
        started.close()


@pytest.fixture(scope="session")
def contexts(browser: Browser) -> Contexts:
    return Contexts(browser)


@pytest.fixture
def blank(contexts: Contexts, application: Application, request: pytest.FixtureRequest) -> Iterator[Page]:
    """A page that shows nothing yet."""
    asked = request.keywords
    context = contexts.get(cling="newcomer" in asked, scouts="scouts" in asked, advice="advice" in asked)
    made = context.new_page()
    made.set_default_timeout(PAGE_MS)
    watched = watch(made, request)
    wrong: list[str] = []
    ours = (application.address, "blob:", "data:")
    # Nothing may be fetched from anywhere else.
    made.on("request", lambda request: None if request.url.startswith(ours) else wrong.append(request.url))
    # Somebody always listens for file choosers: told to only when one is about to open, a busy browser opens its own.
    made.on("filechooser", lambda _: None)
    yield made
    contexts.clear(context, application.address)
    assert wrong == []
    assert watched.errors == []


def watch(page: Page, request: pytest.FixtureRequest) -> Watched:
    """Remember what a page sends and says, to be told if its test fails."""
    made = Watched(page)
    request.node.stash.setdefault(WATCHED, []).append(made)
    return made


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
    open_shoot(blank, application.address, request.node.name.replace("_", " "), [photo])
    expect(blank.get_by_text("Paint over what should go", exact=False).first).to_be_visible()
    return blank
