"""What a hand does on the desk, in picture pixels."""

import re
import time
from collections.abc import Callable, Sequence
from pathlib import Path

import imagecodecs
import numpy as np
from numpy.typing import NDArray
from playwright.sync_api import Page, expect

from tests.support.waiting import PATIENCE


def open_shoot(page: Page, home: str, name: str, files: Sequence[Path]) -> None:
    """A new shoot of some pictures, made without the page, and the first of them open on the desk of the page. home:
    the server's address."""
    same = {"Origin": home}
    shoot = page.request.post(f"{home}/api/shoots", data={"name": name}, headers=same).json()
    frames = [
        page.request.post(
            f"{home}/api/shoots/{shoot['id']}/frames", params={"name": file.name}, data=file.read_bytes(), headers=same
        ).json()
        for file in files
    ]
    page.goto(f"{home}/frames/{frames[0]['id']}")
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))


def places(page: Page, size: tuple[int, int], *points: tuple[float, float]) -> list[tuple[float, float]]:
    """Where picture pixels are on the page while the picture is fitted into its room."""
    room = page.get_by_test_id("picture").bounding_box()
    assert room is not None
    scale = min(room["width"] / size[0], room["height"] / size[1])
    left = room["x"] + (room["width"] - size[0] * scale) / 2
    top = room["y"] + (room["height"] - size[1] * scale) / 2
    return [(left + x * scale, top + y * scale) for x, y in points]


def place(page: Page, size: tuple[int, int], x: float, y: float) -> tuple[float, float]:
    """Where one picture pixel is on the page."""
    return places(page, size, (x, y))[0]


# How long a picture is waited for to be fitted into its room, seconds; a test that has zoomed goes on then.
FITTING = 10.0


def _is_fitted(page: Page, size: tuple[int, int]) -> bool:
    """Whether the picture on the screen is as large as its room allows: the room may have changed a moment ago, and the
    picture follows it a frame later."""
    zoom, room = page.get_by_label("Zoom"), page.get_by_test_id("picture").bounding_box()
    if room is None or not zoom.count():
        return True
    told = re.search(r"\d+", zoom.inner_text())
    density = float(page.evaluate("devicePixelRatio"))
    scale = 100 * density * min(room["width"] / size[0], room["height"] / size[1])
    return told is not None and abs(int(told[0]) - scale) < 1.5


def stroke(page: Page, size: tuple[int, int], *points: tuple[float, float]) -> None:
    """Paint along points of the fitted picture, once it lies still."""
    end = time.monotonic() + FITTING
    while not _is_fitted(page, size) and time.monotonic() < end:
        page.wait_for_timeout(50)
    way: list[tuple[float, float]] = []
    while (now := places(page, size, *points)) != way:
        way = now
        page.mouse.move(*way[0])
    page.mouse.down()
    for at in way[1:]:
        page.mouse.move(*at, steps=6)
    page.mouse.up()


SIZE = (640, 427)


def state(page: Page, number: int, words: str | re.Pattern[str]) -> None:
    expect(page.get_by_test_id(f"sweep-{number}")).to_contain_text(words, timeout=1_000 * PATIENCE)


def until(page: Page, holds: Callable[[], bool]) -> None:
    """Wait until something holds that only code can tell."""
    end = time.monotonic() + PATIENCE
    while not holds():
        assert time.monotonic() < end, "waited too long"
        page.wait_for_timeout(50)


def brush(page: Page, pixels: int) -> None:
    field = page.get_by_label("Size in px")
    field.fill(str(pixels))
    field.press("Enter")
    expect(field).to_have_value(str(pixels))


def look(page: Page) -> str:
    """The look that is on the screen, as the address of its tiles says it."""
    return page.get_by_test_id("picture").get_attribute("data-look") or ""


def screen_pixels(page: Page, x: float, y: float) -> list[int]:
    """The colour of the picture on screen, without masks and flags."""
    found: list[int] = page.evaluate(
        """([x, y]) => {
          const canvas = document.querySelector('[data-testid=picture] canvas');
          const edge = canvas.getBoundingClientRect();
          const ratio = canvas.width / edge.width;
          const at = canvas.getContext('2d').getImageData((x - edge.left) * ratio, (y - edge.top) * ratio, 1, 1);
          return [...at.data];
        }""",
        [x, y],
    )
    return found


def filled(page: Page) -> None:
    """The rod in the sky marked and filled; take 1 stands."""
    stroke(page, SIZE, (385, 18), (615, 64))
    state(page, 1, "marked")
    page.keyboard.press("f")
    state(page, 1, "provisional")
    expect(page.get_by_role("button", name="Take 3")).to_be_visible()


def dark(page: Page, x: float, y: float) -> bool:
    return sum(screen_pixels(page, *place(page, SIZE, x, y))[:3]) < 240


def until_dark(page: Page, x: float, y: float, wanted: bool) -> None:
    until(page, lambda: dark(page, x, y) == wanted)


Mask = NDArray[np.uint8]


def mask_of(page: Page, number: int = 1) -> Mask:
    """The mask that the server has of a sweep."""
    frame = page.url.split("?")[0].replace("/frames/", "/api/frames/")
    sweeps = page.request.get(frame).json()["sweeps"]
    answer = page.request.get(f"{frame}/sweeps/{sweeps[number - 1]['id']}/mask")
    return np.asarray(imagecodecs.png_decode(answer.body()))


def mask_colour(page: Page, x: float, y: float) -> list[int]:
    """The colour of the layer of masks over a picture pixel."""
    found: list[int] = page.evaluate(
        """([x, y]) => {
          const canvas = document.querySelector('[data-testid=layer]');
          const edge = canvas.getBoundingClientRect();
          const ratio = canvas.width / edge.width;
          return [...canvas.getContext('2d').getImageData((x - edge.left) * ratio, (y - edge.top) * ratio, 1, 1).data];
        }""",
        list(place(page, SIZE, x, y)),
    )
    return found
