"""Colours on a screen of Display P3, as the browser keeps them for it."""

from typing import Any

import httpx
import numpy as np
import pytest
from playwright.sync_api import Browser

from keen_sweep.core.photo.picture import Metadata, Picture
from keen_sweep.core.photo.profiles import display_p3
from keen_sweep.core.photo.write import encode_picture
from tests.support.application import Application
from tests.support.browser import chromium
from tests.support.desk import until

# A green that sRGB does not have, in Display P3.
GREEN = (30, 240, 60)
# What the picture shows in its middle, in numbers of Display P3.
MIDDLE = """() => {
  const canvas = document.querySelector('[data-testid=picture] canvas');
  const at = [canvas.width / 2, canvas.height / 2, 1, 1];
  return [...canvas.getContext('2d').getImageData(...at, { colorSpace: 'display-p3' }).data].slice(0, 3);
}"""


@pytest.fixture(scope="module")
def frame(application: Application, tmp_path_factory: pytest.TempPathFactory) -> int:
    file = tmp_path_factory.mktemp("wide") / "green.png"
    picture = Picture(pixels=np.full((300, 400, 3), GREEN, np.uint8), format="png", metadata=Metadata(icc=display_p3()))
    file.write_bytes(encode_picture(picture, "png"))
    with httpx.Client(base_url=f"{application.address}/api") as client:
        shoot = client.post("/shoots", json={"name": "Wide gamut"}).json()["id"]
        made = client.post(f"/shoots/{shoot}/frames", params={"name": "green.png"}, content=file.read_bytes())
        return int(made.raise_for_status().json()["id"])


def middle(browser: Browser, application: Application, frame: int) -> list[int]:
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(f"{application.address}/frames/{frame}")
    seen: list[Any] = []

    def is_shown() -> bool:
        seen[:] = page.evaluate(MIDDLE) if page.locator("[data-testid=picture] canvas").count() else []
        return bool(seen) and seen[1] > 200

    until(page, is_shown)
    context.close()
    return seen


def test_a_screen_of_wide_gamut_shows_all_that_the_picture_has(
    browser: Browser, application: Application, frame: int
) -> None:
    wide = chromium(browser.browser_type, "--force-color-profile=display-p3-d65")
    assert np.abs(np.subtract(middle(wide, application, frame), GREEN)).max() <= 2
    wide.close()


def test_a_screen_of_srgb_shows_the_nearest_that_it_has(browser: Browser, application: Application, frame: int) -> None:
    """In numbers of Display P3 it has more red and less green."""
    red, green, _ = middle(browser, application, frame)
    assert red > GREEN[0] + 40
    assert green <= GREEN[1] + 2
