"""Take the pictures of docs/screenshots anew, from the demo library: .venv/bin/python demo/screenshots.py

Makes the demo library in a temporary folder, starts the application on it and drives it in Debian's chromium.
"""

from __future__ import annotations

import json
import re
import subprocess
import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

import httpx
from playwright.sync_api import Page, expect, sync_playwright
from tests.support.application import Application
from tests.support.browser import CLING_OFF, chromium
from tests.support.desk import brush, place, stroke

from keen_sweep.demo.service import simulated
from keen_sweep.simulated.app import DEMO_KEY
from keen_sweep.simulated.paintings import SERVICE_NAME

expect.set_options(timeout=120_000)
# Of the first frame, pixels.
SIZE = (2880, 1920)
LEARNED = ["mark", "fill", "wait", "choose", "judge"]
OUT = Path(__file__).parents[1] / "docs" / "screenshots"


def sharp(page: Page, name: str) -> None:
    page.mouse.move(2, 400)
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(4000)
    page.screenshot(path=OUT / f"{name}.png")


def split_at(page: Page, share: float) -> None:
    """Drag the line of a split from the middle to a share of the picture's room, where the takes differ."""
    room = page.get_by_test_id("picture").bounding_box()
    assert room is not None
    y = room["y"] + room["height"] / 2
    page.mouse.move(room["x"] + room["width"] / 2, y)
    page.mouse.down()
    page.mouse.move(room["x"] + share * room["width"], y, steps=5)
    page.mouse.up()


def take_all(page: Page, address: str) -> None:
    page.goto(address)
    expect(page.get_by_role("link", name="ov-0412")).to_be_visible()
    sharp(page, "shoots")
    page.get_by_role("link", name="Library").click()
    expect(page.get_by_role("button", name="Free up")).to_be_visible()
    sharp(page, "library")
    page.goto(address)
    found(page)
    page.goto(address)
    clung(page)
    page.goto(address)
    page.get_by_role("link", name="ov-0412").click()
    page.get_by_test_id("sweep-2").get_by_role("button").first.click()
    expect(page.get_by_role("status", name="Advice on the mark")).to_be_visible()
    sharp(page, "desk-mask")
    page.keyboard.press("f")
    expect(page.get_by_test_id("sweep-2")).to_contain_text("provisional")
    page.keyboard.press("m")
    sharp(page, "desk-takes")
    page.keyboard.press("F2")
    expect(page.get_by_role("region", name="Wall")).to_be_visible()
    sharp(page, "wall")
    page.keyboard.press("F2")
    page.keyboard.press("r")
    split_at(page, 0.743)
    sharp(page, "desk-split")
    page.keyboard.press("r")
    page.keyboard.press("m")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("sweep-2")).to_contain_text("kept")
    snag(page)
    touched(page)
    page.get_by_role("button", name="Deliver").click()
    expect(page.get_by_role("heading", name="Deliver")).to_be_visible()
    sharp(page, "deliver")
    page.get_by_role("link", name="Ledger").click()
    expect(page.get_by_role("row").nth(1)).to_be_visible()
    sharp(page, "ledger")
    page.goto(address)
    carried(page)
    page.goto(address)
    modelled(page)


def carried(page: Page) -> None:
    """The sweeps of the first frame on its sisters."""
    page.get_by_role("link", name="ov-0412").click()
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
    page.keyboard.press("F8")
    strip = page.get_by_role("list", name="Frames of the shoot")
    for name in ("ov-0413", "ov-0414", "ov-0415", "ov-0418"):
        strip.get_by_role("button", name=name).click(modifiers=["Control"])
    page.keyboard.press("Escape")
    page.keyboard.press("Control+Enter")
    last = page.get_by_role("button", name=re.compile("ov-0418.*another place"))
    expect(last).to_be_visible()
    expect(page.get_by_text("aligning")).to_have_count(0)
    expect(page.get_by_text("waiting for alignment")).to_have_count(0)
    sharp(page, "desk-strip")
    page.keyboard.press("F8")


def snag(page: Page) -> None:
    """What the second look finds where a sheet of paper was marked too tightly, gone to."""
    page.keyboard.press("n")
    brush(page, 40)
    stroke(page, SIZE, (1532, 1670), (1588, 1674))
    sweep = page.get_by_test_id("sweep-4")
    expect(sweep).to_contain_text("marked")
    page.keyboard.press("f")
    expect(sweep).to_contain_text("provisional")
    expect(page.get_by_role("region", name="Second look")).to_contain_text("Next of")
    page.wait_for_timeout(8000)
    page.keyboard.press(";")
    sharp(page, "desk-snag")
    page.keyboard.press("Delete")
    expect(sweep).to_have_count(0)
    page.keyboard.press("0")


def touched(page: Page) -> None:
    """Cloning grass over the hose, along its stripe of the lawn; taken back afterwards."""
    page.keyboard.press("3")
    brush(page, 84)
    page.get_by_label("Soft in %").fill("40")
    page.get_by_label("Soft in %").press("Enter")
    page.keyboard.down("c")
    page.mouse.click(*place(page, SIZE, 239, 1631))
    page.keyboard.up("c")
    stroke(page, SIZE, (281, 1786), (379, 1762), (463, 1745), (533, 1737), (561, 1725))
    expect(page.get_by_test_id("touch-ups")).to_contain_text("1 clone")
    page.wait_for_timeout(3000)
    page.mouse.move(*place(page, SIZE, 640, 1715))
    page.wait_for_timeout(1500)
    page.screenshot(path=OUT / "desk-touch.png")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("touch-ups")).to_have_count(0)
    page.keyboard.press("5")


def found(page: Page) -> None:
    """What scouts found: people with one of them chosen, and dust in harsh light."""
    page.get_by_role("link", name="ov-0431").click()
    page.get_by_role("tab", name="Finds").click()
    person = page.get_by_test_id("find-Person 2")
    expect(person).to_be_visible(timeout=120_000)
    expect(page.get_by_role("region", name="Things")).not_to_contain_text(
        re.compile("waiting|searching"), timeout=120_000
    )
    person.get_by_role("button").first.click()
    sharp(page, "desk-finds")
    page.goto(page.url.rsplit("/frames", 1)[0])
    page.get_by_role("link", name="ov-0418").click()
    page.get_by_role("tab", name="Finds").click()
    expect(page.get_by_role("region", name="Specks")).to_contain_text("found", timeout=120_000)
    expect(page.get_by_role("region", name="Things")).not_to_contain_text(
        re.compile("waiting|searching"), timeout=120_000
    )
    page.keyboard.press("h")
    page.wait_for_timeout(3000)
    sharp(page, "desk-harsh")
    page.keyboard.press("h")
    page.keyboard.press("j")


def clung(page: Page) -> None:
    """A careless scribble that became its thing, and a guard beside it."""
    page.get_by_role("link", name="ov-0431").click()
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
    page.wait_for_timeout(2000)
    size = (2400, 1600)
    page.keyboard.press("u")
    page.keyboard.press("6")
    stroke(page, size, (560, 840), (640, 800), (720, 830), (720, 1240), (540, 1240))
    page.keyboard.press("u")
    page.keyboard.press("5")
    page.keyboard.press("c")
    brush(page, 60)
    stroke(page, size, (1110, 860), (1150, 960), (1110, 1040), (1160, 1120), (1120, 1190))
    expect(page.get_by_test_id("sweep-1")).to_contain_text("marked")
    page.get_by_text("Masks and guard").click()
    sharp(page, "desk-cling")


def modelled(page: Page) -> None:
    """A bicycle with a hint, to be filled by the simulated service for a price; and the page of models."""
    page.get_by_role("link", name="Models").click()
    card = page.get_by_role("region", name=SERVICE_NAME)
    card.get_by_role("button", name="Test, no cost").click()
    expect(card.get_by_role("status")).to_contain_text("60 credits left")
    sharp(page, "models")
    page.get_by_role("link", name="Shoots").click()
    page.get_by_role("link", name="ov-0458").click()
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
    page.wait_for_timeout(2000)
    page.keyboard.press("8")
    stroke(page, (2400, 1600), (640, 888), (1612, 1450))
    expect(page.get_by_test_id("sweep-1")).to_contain_text("marked")
    page.get_by_label("Method", exact=True).select_option("model")
    page.get_by_label("Model", exact=True).select_option(SERVICE_NAME)
    hint = page.get_by_label("Hint", exact=True)
    hint.fill("brick wall over paving")
    hint.press("Enter")
    expect(page.get_by_test_id("price")).to_contain_text("credits")
    page.keyboard.press("f")
    expect(page.get_by_role("region", name="Cost")).to_contain_text("Yes")
    sharp(page, "desk-cost")
    page.keyboard.press("Escape")


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        library = Path(folder) / "library"
        program = str(Path(sys.executable).with_name("keen-sweep"))
        subprocess.run([program, "demo", "--prepare", "--library", str(library)], check=True)
        application = Application(library)
        with simulated(Path(folder) / "service") as address:
            application.start()
            try:
                register(application.address, address)
                with sync_playwright() as playwright:
                    browser = chromium(playwright.chromium)
                    page = browser.new_page(viewport={"width": 1280, "height": 800})
                    # As somebody sees it who knows the way.
                    page.add_init_script(f"localStorage.setItem('desk.learned', '{json.dumps(LEARNED)}')")
                    page.add_init_script(CLING_OFF)
                    take_all(page, application.address)
                    browser.close()
            finally:
                application.stop()


def register(application: str, service: str) -> None:
    """Register the simulated service with an application, as its user would."""
    models = f"{application}/api/models"
    with httpx.Client(trust_env=False) as client:
        made = (
            client.post(models, json={"name": SERVICE_NAME, "kind": "service", "place": service})
            .raise_for_status()
            .json()
        )
        client.put(f"{models}/{made['id']}/key", json={"key": DEMO_KEY}).raise_for_status()


if __name__ == "__main__":
    main()
