"""Models through the real interface: a service registered, paid, refused, broken, dead; nothing lost by any of it."""

import itertools
import re
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest
from playwright.sync_api import Page, expect

from keen_sweep.bench.tiny import tiny_onnx
from keen_sweep.simulated.app import DEMO_CREDITS, DEMO_KEY
from tests.support.application import Application, serving
from tests.support.axe import faults
from tests.support.desk import SIZE, brush, state, stroke, until
from tests.support.ports import free_port
from tests.support.service import Service
from tests.support.waiting import PATIENCE

NAME = "Paint Shed"
TURN = itertools.count()


class Process(Service):
    """The simulated service as a program of its own, which may die."""

    def __init__(self, folder: Path) -> None:
        self.port = free_port()
        super().__init__(self.port)
        self._folder = folder
        self._process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        program = str(Path(sys.executable).with_name("keen-sweep"))
        words = ["service", "--port", str(self.port), "--folder", str(self._folder)]
        self._process = subprocess.Popen([program, *words])
        for _ in range(10 * int(PATIENCE)):
            try:
                self.switch()
                return
            except httpx.HTTPError:
                time.sleep(0.1)
        raise AssertionError("the service did not start")

    def stop(self) -> None:
        assert self._process is not None
        self._process.kill()
        self._process.wait(timeout=PATIENCE)

    def dead(self) -> None:
        """Wait until it has ended by itself."""
        assert self._process is not None
        self._process.wait(timeout=PATIENCE)


@pytest.fixture(scope="module")
def application(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    """One of its own: models that are registered would be asked by others' fills."""
    yield from serving(tmp_path_factory.mktemp("library"))


@pytest.fixture(scope="module")
def service(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Process]:
    made = Process(tmp_path_factory.mktemp("service"))
    made.start()
    yield made
    made.stop()


@pytest.fixture(autouse=True)
def as_it_was(service: Process) -> None:
    """A service without faults, before each test."""
    service.switch()
    service.credits(DEMO_CREDITS)


def register(page: Page, service: Process) -> None:
    """Register the service with its key unless that was done before."""
    home = page.url
    page.get_by_role("link", name="Models").click()
    card = page.get_by_role("region", name=NAME, exact=True)
    expect(page.get_by_role("heading", name="Generative models")).to_be_visible()
    known = page.request.get(f"{home.split('/frames')[0].rstrip('/')}/api/models").json()
    if not any(each["name"] == NAME for each in known):
        page.get_by_label("Kind").select_option("generation service")
        page.get_by_label("Name of the model").fill(NAME)
        page.get_by_label("Location of the model").fill(service.address)
        page.get_by_role("button", name="Register").click()
        card.get_by_label(f"Key of {NAME}").fill(DEMO_KEY)
        card.get_by_role("button", name="Save", exact=True).click()
        expect(card.get_by_placeholder("saved; type to replace it")).to_be_visible()
    page.goto(home)


@pytest.fixture
def marked(page: Page, service: Process, photo: Path, request: pytest.FixtureRequest) -> Page:
    """The rod marked on the desk, to be filled by the service."""
    register(page, service)
    desk: Page = request.getfixturevalue("desk")
    brush(desk, 18)
    # Never the same request twice: the service would give what it has painted already.
    x = 400 + 4 * next(TURN)
    stroke(desk, SIZE, (x, 20 + (x - 400) / 5), (x + 40, 28 + (x - 400) / 5))
    state(desk, 1, "marked")
    desk.get_by_label("Method", exact=True).select_option("model")
    desk.get_by_label("Model", exact=True).select_option(NAME)
    expect(desk.get_by_test_id("price")).to_contain_text("3 credits")
    return desk


def yes(page: Page, key: str = "q") -> None:
    """Ask for a fill (one rough take), and say yes to its price."""
    page.keyboard.press(key)
    cost = page.get_by_role("region", name="Cost")
    expect(cost).to_contain_text("credit")
    page.keyboard.press("Enter")
    expect(cost).to_have_count(0)


def test_what_a_fill_costs_can_be_read_by_everyone(marked: Page) -> None:
    page = marked
    page.keyboard.press("q")
    expect(page.get_by_role("region", name="Cost")).to_contain_text("credit")
    assert faults(page) == []
    page.keyboard.press("Escape")


def again(page: Page) -> None:
    """Try again offers three takes for their price; one is enough here."""
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_role("region", name="Cost")).to_contain_text("credits")
    page.keyboard.press("Escape")
    yes(page)


def takes(page: Page, count: int) -> None:
    expect(page.get_by_role("button", name=re.compile(r"^Take \d+"))).to_have_count(count)


def trouble(page: Page, words: str) -> None:
    expect(page.get_by_role("region", name="Takes").get_by_role("alert")).to_contain_text(words)


def test_a_service_is_registered_tried_paid_and_its_key_seen_by_nobody(
    page: Page, application: Application, service: Process
) -> None:
    heard: list[str] = []
    page.on("response", lambda answer: heard.append(answer.url) if DEMO_KEY in _text(answer) else None)
    page.on("console", lambda message: heard.append(message.text) if DEMO_KEY in message.text else None)
    register(page, service)
    page.get_by_role("link", name="Models").click()
    card = page.get_by_role("region", name=NAME, exact=True)
    card.get_by_role("button", name="Test, no cost").click()
    expect(card.get_by_role("status")).to_contain_text("60 credits left; a test fill costs 1 credit")
    card.get_by_role("button", name="Test with a fill").click()
    expect(card.get_by_role("status")).to_contain_text("It cost 1 credit")
    expect(card).to_contain_text("59 credits left")
    assert faults(page) == []
    page.reload()
    expect(card).to_contain_text("59 credits left")
    assert DEMO_KEY not in page.content()
    assert DEMO_KEY not in page.evaluate("JSON.stringify([{...localStorage}, {...sessionStorage}, document.cookie])")
    assert card.get_by_label(f"Key of {NAME}").input_value() == ""
    assert heard == []
    assert DEMO_KEY in application.keys.read_text()
    for file in [application.log, *application.library.rglob("*")]:
        assert not file.is_file() or DEMO_KEY.encode() not in file.read_bytes(), file


def _text(answer) -> str:  # type: ignore[no-untyped-def]
    try:
        return answer.text() if "/api/" in answer.url and "events" not in answer.url else ""
    except Exception:  # an answer without a body, or one that is gone
        return ""


def test_what_a_test_says_of_a_wrong_key_and_of_a_file(page: Page, service: Process, tmp_path: Path) -> None:
    page.get_by_role("link", name="Models").click()
    page.get_by_label("Kind").select_option("generation service")
    page.get_by_label("Name of the model").fill("Locked out")
    page.get_by_label("Location of the model").fill(service.address)
    page.get_by_role("button", name="Register").click()
    card = page.get_by_role("region", name="Locked out")
    card.get_by_role("button", name="Test, no cost").click()
    expect(card.get_by_role("status")).to_contain_text("does not accept the key")
    card.get_by_role("button", name="Remove", exact=True).click()
    expect(card).to_have_count(0)
    for place, words in (("relative.onnx", "whole path"), (str(tmp_path / "none.onnx"), "There is no file")):
        page.get_by_label("Kind").select_option("ONNX file")
        page.get_by_label("Name of the model").fill("Nought")
        page.get_by_label("Location of the model").fill(place)
        page.get_by_role("button", name="Register").click()
        expect(page.get_by_role("alert")).to_contain_text(words)
    page.get_by_label("Location of the model").fill(str(tiny_onnx(tmp_path / "nought.onnx", 64)))
    page.get_by_role("button", name="Register").click()
    card = page.get_by_role("region", name="Nought")
    card.get_by_role("button", name="Test", exact=True).click()
    expect(card.get_by_role("status")).to_contain_text("It works at 64 x 64 px")
    card.get_by_role("button", name="Remove", exact=True).click()


def test_a_price_is_said_before_and_what_is_left_after(marked: Page, service: Process) -> None:
    page = marked
    before = service.books()["paid"]
    page.keyboard.press("f")
    cost = page.get_by_role("region", name="Cost")
    expect(cost).to_contain_text(f"Sweep 1 by {NAME}: 3 credits, about")
    expect(cost).to_contain_text("60 left at the service")
    page.keyboard.press("Escape")
    expect(cost).to_have_count(0)
    state(page, 1, "marked")
    assert service.books()["paid"] == before, "no is no"
    page.keyboard.press("f")
    cost.get_by_role("button", name=re.compile("^Yes, 3 credits")).click()
    takes(page, 3)
    assert service.books()["paid"] == before + 3
    expect(page.get_by_test_id("price")).to_contain_text("57 left")
    told = page.get_by_role("button", name="Take 1", exact=True).get_attribute("data-tip") or ""
    assert f"{NAME}, {service.address}" in told
    assert "1 credit" in told
    page.keyboard.press("Enter")
    state(page, 1, "kept")
    page.get_by_role("link", name="All shoots").click()
    expect(page.get_by_role("region", name=re.compile("a price is said"))).to_contain_text("credits, 3 spent")


def test_a_budget_is_kept(marked: Page, service: Process) -> None:
    page = marked
    desk = page.url
    before = service.books()["paid"]
    page.get_by_role("link", name="All shoots").click()
    field = page.get_by_label(re.compile("^Budget of test a budget is kept"))
    field.fill("2")
    with page.expect_response(re.compile("/budget$")):
        field.press("Enter")
    page.goto(desk)
    page.get_by_test_id("sweep-1").get_by_role("button").first.click()
    page.keyboard.press("f")
    cost = page.get_by_role("region", name="Cost")
    expect(cost).to_contain_text("costs 3 credits, and this shoot's budget has 2 left")
    expect(cost.get_by_role("button", name=re.compile("^Yes"))).to_have_count(0)
    cost.get_by_role("button", name="Weave instead").click()
    takes(page, 3)
    assert service.books()["paid"] == before


FAULTS: list[tuple[dict[str, Any], str]] = [
    ({"outage": True}, "has a problem"),
    ({"policy": "closed for stocktaking"}, "refused this picture: closed for stocktaking. Nothing was charged"),
    ({"fails": True}, "failed to make this result: its painter broke off. Nothing was charged"),
    ({"broken": "words"}, "cannot be understood"),
    ({"broken": "picture"}, "sent a broken picture"),
    ({"broken": "size"}, "64 x 64"),
    ({"drip": 2_000}, "sends too slowly"),
]


def test_faults_lose_no_mask_no_take_no_credit(marked: Page, service: Process) -> None:
    page = marked
    before = service.books()["paid"]
    yes(page)
    takes(page, 1)
    for fault, words in FAULTS:
        # The take is there a moment before its run has ended.
        expect(page.get_by_role("button", name="Quick look")).to_be_enabled()
        page.keyboard.press("q")
        expect(page.get_by_role("region", name="Cost")).to_contain_text("Yes, 1 credit")
        # It was well when its price was asked.
        service.switch(**fault)
        page.keyboard.press("Enter")
        trouble(page, words)
        takes(page, 1)
        state(page, 1, "last fill failed")
        service.switch()
    again(page)
    takes(page, 2)
    assert service.books()["paid"] == before + 2, "two takes, each paid once"


def test_a_service_in_trouble_says_so_before_anything_is_asked(marked: Page, service: Process) -> None:
    page = marked
    service.switch(outage=True)
    page.keyboard.press("q")
    cost = page.get_by_role("region", name="Cost")
    expect(cost).to_contain_text("has a problem")
    cost.get_by_role("button", name="Weave instead").click()
    takes(page, 1)
    expect(page.get_by_label("Method", exact=True)).to_have_value("weave")


def test_too_many_requests_are_waited_for(marked: Page, service: Process) -> None:
    page = marked
    page.keyboard.press("q")
    expect(page.get_by_role("region", name="Cost")).to_contain_text("1 credit")
    service.switch(turn_away=3, retry_after=1.5)
    page.keyboard.press("Enter")
    tray = page.get_by_role("region", name="Takes")
    expect(tray).to_contain_text("accepts no more requests at the moment: trying again")
    takes(page, 1)


def test_a_queue_is_shown_and_a_cancel_costs_nothing(marked: Page, service: Process) -> None:
    page = marked
    before = service.books()
    service.switch(delay=20, ahead=2)
    yes(page)
    tray = page.get_by_role("region", name="Takes")
    expect(tray).to_contain_text("painting")
    page.get_by_role("button", name="Cancel fill").click()
    state(page, 1, "marked")
    frame = page.url.split("?")[0].replace("/frames", "/api/frames")
    until(page, lambda: page.request.get(frame).json()["sweeps"][0]["run"]["state"] == "cancelled")
    assert service.books()["left"] == before["left"]
    service.stop()
    service.start()


def test_too_few_credits_are_said_before(marked: Page, service: Process) -> None:
    page = marked
    service.credits(2)
    page.keyboard.press("f")
    cost = page.get_by_role("region", name="Cost")
    expect(cost).to_contain_text("costs 3 credits, and 2 are left")
    expect(cost.get_by_role("link", name="To the models")).to_be_visible()
    page.keyboard.press("Escape")
    yes(page)
    takes(page, 1)


def test_a_key_that_is_no_longer_good_is_asked_for_again(marked: Page, service: Process) -> None:
    page = marked
    desk = page.url

    def key(words: str) -> None:
        page.goto(desk.split("/frames")[0] + "/models")
        card = page.get_by_role("region", name=NAME, exact=True)
        card.get_by_label(f"Key of {NAME}").fill(words)
        with page.expect_response(re.compile("/key$")):
            card.get_by_role("button", name="Save", exact=True).click()
        expect(card.get_by_role("button", name="Save", exact=True)).to_be_disabled()
        page.goto(desk)
        page.get_by_test_id("sweep-1").get_by_role("button").first.click()

    key("an-old-key")
    page.keyboard.press("q")
    cost = page.get_by_role("region", name="Cost")
    expect(cost).to_contain_text("does not accept the key. Enter it again on the page Models")
    expect(cost.get_by_role("link", name="To the models")).to_be_visible()
    expect(cost.get_by_role("button", name=re.compile("^Yes"))).to_have_count(0)
    key(DEMO_KEY)
    yes(page)
    takes(page, 1)


def test_skin_is_refused_and_woven_here_instead(marked: Page, service: Process) -> None:
    page = marked
    page.keyboard.press("n")
    brush(page, 36)
    stroke(page, SIZE, (293, 322), (298, 325))
    state(page, 2, "marked")
    page.get_by_label("Method", exact=True).select_option("model")
    page.get_by_label("Model", exact=True).select_option(NAME)
    expect(page.get_by_test_id("price")).to_contain_text("credits")
    paid = service.books()["paid"]
    yes(page)
    trouble(page, "the area shows skin, which it does not touch. Nothing was charged.")
    expect(page.get_by_role("region", name="Takes")).to_contain_text("Try a smaller mask")
    page.get_by_role("button", name="Weave instead").click()
    takes(page, 3)
    assert service.books()["paid"] == paid


@pytest.mark.parametrize("when", ["painting", "paid"])
def test_a_service_that_dies_half_way_is_paid_once(marked: Page, service: Process, when: str) -> None:
    page = marked
    before = service.books()["paid"]
    page.keyboard.press("q")
    expect(page.get_by_role("region", name="Cost")).to_contain_text("1 credit")
    service.switch(dies=when)
    page.keyboard.press("Enter")
    service.dead()
    trouble(page, "cannot be reached")
    service.start()
    again(page)
    takes(page, 1)
    assert service.books()["paid"] == before + 1


def test_the_application_killed_half_way_pays_once(marked: Page, application: Application, service: Process) -> None:
    page = marked
    before = service.books()["paid"]
    service.switch(delay=3)
    yes(page)
    expect(page.get_by_role("region", name="Takes")).to_contain_text("painting")
    application.stop(signal.SIGKILL)
    # It is painted and paid for while nobody is there to take it.
    until(page, lambda: service.books()["paid"] == before + 1)
    application.start()
    page.reload()
    page.get_by_test_id("sweep-1").get_by_role("button").first.click()
    takes(page, 1)
    assert service.books()["paid"] == before + 1


def test_hints_are_kept_answered_and_remembered(desk: Page) -> None:
    page = desk
    brush(page, 18)
    stroke(page, SIZE, (400, 20), (440, 28))
    state(page, 1, "marked")
    page.get_by_text("Hints", exact=True).click()
    hint = page.get_by_label("Hint", exact=True)
    hint.fill("remove the rod")
    hint.press("Enter")
    expect(page.get_by_role("status", name="About your hint")).to_contain_text(
        "what the fill should show, not what to do"
    )
    hint.fill("wood")
    hint.press("Enter")
    expect(page.get_by_role("status", name="About your hint")).to_contain_text("No wood was found")
    hint.fill("sky")
    hint.press("Enter")
    expect(page.get_by_role("status", name="About your hint")).to_have_count(0)
    page.keyboard.press("q")
    takes(page, 1)
    assert "hint: sky" in (page.get_by_role("button", name="Take 1", exact=True).get_attribute("data-tip") or "")
    page.keyboard.press("n")
    stroke(page, SIZE, (520, 44), (560, 52))
    state(page, 2, "marked")
    page.get_by_text("Hints", exact=True).click()
    expect(page.locator("datalist option[value=sky]")).to_have_count(1)
    page.keyboard.press("=")
    expect(page.get_by_label("Hint", exact=True)).to_be_focused()


def test_a_patch_is_pulled_up_to_draw_from(desk: Page) -> None:
    page = desk
    brush(page, 18)
    stroke(page, SIZE, (400, 20), (440, 28))
    state(page, 1, "marked")
    page.get_by_text("Hints", exact=True).click()
    page.get_by_role("button", name="Copy from…").click()
    stroke(page, SIZE, (60, 20), (160, 80))
    expect(page.get_by_test_id("sweep-1")).to_contain_text("From 100 × 60 px of this picture")
    page.keyboard.press("q")
    takes(page, 1)
    page.get_by_role("button", name="Anywhere").click()
    expect(page.get_by_role("button", name="Copy from…")).to_be_visible()


def test_a_patch_of_a_sister_frame_is_drawn_from(desk: Page, photo: Path, tmp_path: Path) -> None:
    page = desk
    here = page.url
    page.get_by_role("link", name="All shoots").click()
    sister = tmp_path / "sister.png"
    # What is behind the end is no part of it: the same picture, but not the same file.
    sister.write_bytes(photo.read_bytes() + b"\0")
    name = "test a patch of a sister frame is drawn from"
    page.get_by_label(f"Pictures for {name}").set_input_files(str(sister))
    expect(page.get_by_role("region", name=name).get_by_role("link", name="sister.png")).to_be_visible()
    page.goto(here)
    brush(page, 18)
    stroke(page, SIZE, (400, 20), (440, 28))
    state(page, 1, "marked")
    page.get_by_text("Hints", exact=True).click()
    page.get_by_label("Picture to copy from").select_option("sister.png")
    dialog = page.get_by_role("dialog", name="Copy from sister.png")
    expect(dialog).to_be_visible()
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    page.get_by_label("Picture to copy from").select_option("sister.png")
    room = page.get_by_test_id("sister").bounding_box()
    assert room is not None
    page.mouse.move(room["x"] + 40, room["y"] + 30)
    page.mouse.down()
    page.mouse.move(room["x"] + 140, room["y"] + 90, steps=4)
    page.mouse.up()
    expect(page.get_by_test_id("sweep-1")).to_contain_text("From 100 × 60 px of sister.png")
    page.keyboard.press("q")
    takes(page, 1)
