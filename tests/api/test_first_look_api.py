"""A first look at a fill: at once, roughly what will be there, where the hole is."""

import base64
import io
from itertools import pairwise

import imagecodecs
import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image
from skimage import data

from keen_sweep.core.fill.first_look import WORKING_SIDE_PX, first_look

SIZES = [(400, 600), (1500, 2200), (2401, 3601)]


@pytest.mark.parametrize("size", SIZES)
def test_it_lies_where_the_hole_is_and_shows_what_is_round_it(client: TestClient, size: tuple[int, int]) -> None:
    height, width = size
    shoot = client.post("/api/shoots", json={"name": "Ramps"}).json()["id"]
    y, x = np.mgrid[:height, :width]
    ramp = np.stack([x * 255 / width, y * 255 / height, np.full(size, 90.0)], 2).astype(np.uint8)
    left, top, right, bottom = (
        round(part * side) for part, side in zip((0.4, 0.3, 0.55, 0.6), (width, height) * 2, strict=True)
    )
    photo = ramp.copy()
    photo[top:bottom, left:right] = (255, 0, 255)
    png = bytes(imagecodecs.png_encode(photo))
    frame = client.post(f"/api/shoots/{shoot}/frames", params={"name": "ramp.png"}, content=png).json()["id"]
    points = [[left, top], [right, top], [right, bottom], [left, bottom]]
    body = {"shapes": [{"kind": "outline", "points": points}]}
    sweep = client.post(f"/api/frames/{frame}/sweeps", json=body).json()["sweep_id"]
    told = client.get(f"/api/frames/{frame}/sweeps/{sweep}/first-look").json()
    box, pixels = told["box"], np.asarray(Image.open(io.BytesIO(base64.b64decode(told["png"]))))
    assert pixels.shape[2] == 4
    assert max(pixels.shape) <= WORKING_SIDE_PX
    near = 3 * max(height, width) / WORKING_SIDE_PX
    for edge, want in zip((box["x"], box["y"]), (left, top), strict=True):
        assert want - near <= edge <= want
    for edge, want in zip((box["x"] + box["width"], box["y"] + box["height"]), (right, bottom), strict=True):
        assert want <= edge <= want + near
    inside = pixels[pixels[..., 3] == 255][:, :3].astype(int)
    ground = ramp[top:bottom, left:right].reshape(-1, 3).astype(int)
    assert np.abs(inside.mean(0) - ground.mean(0)).max() < 12, "what is round it, and nothing of the thing"
    assert (inside[:, 2] < 150).all()


def test_nothing_is_shown_where_a_rough_fill_says_nothing(client: TestClient, here: str) -> None:
    body = {"shapes": [{"kind": "stroke", "points": [[60, 60], [90, 60]], "size": 20}]}
    sweep = client.post(f"{here}/sweeps", json=body).json()["sweep_id"]
    assert client.get(f"{here}/sweeps/{sweep}/first-look").json() is not None
    client.patch(f"{here}/sweeps/{sweep}", json={"method": "reflection"}).raise_for_status()
    told = client.get(f"{here}/sweeps/{sweep}/first-look")
    assert (told.status_code, told.json()) == (200, None)
    assert client.get(f"{here}/sweeps/none/first-look").status_code == 404


def test_it_is_the_same_every_time_and_changes_nothing_that_it_was_given() -> None:
    photo = np.ascontiguousarray(data.astronaut()[:300, :300])
    mask = np.zeros(photo.shape[:2], np.uint8)
    mask[120:180, 130:170] = 255
    before = photo.copy()
    looks = [first_look(photo, mask) for _ in range(2)]
    assert all(look is not None for look in looks)
    for one, other in pairwise(looks):
        assert one is not None
        assert other is not None
        assert one.box == other.box
        assert np.array_equal(one.pixels, other.pixels)
    assert np.array_equal(photo, before)
    assert first_look(photo, np.zeros_like(mask)) is None
    assert first_look(photo[:60, :60], np.full((60, 60), 255, np.uint8)) is None
