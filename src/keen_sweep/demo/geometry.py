"""Where one demo frame is seen in another, as the renderer knows: truth for alignments."""

from __future__ import annotations

import cv2
import imagecodecs
import numpy as np

from keen_sweep.core.arrays import Bools, Doubles, Floats
from keen_sweep.demo.shoot import PICTURES_FOLDER, Camera, facts

# Inverse metres of the stored depths (demo/render/depth.py).
DEPTH_UNITS = 131070.0
# Ratio of the picture's size to that of the depths.
DEPTH_REDUCTION = 4


def inverse_depth(frame: str) -> Doubles:
    """The inverse distance of what each place shows, along its ray, (H / 4, W / 4), 1 / m; 0 is the sky."""
    known = facts(frame)
    assert known.depth is not None
    return np.asarray(imagecodecs.png_decode((PICTURES_FOLDER / known.depth).read_bytes()), np.float64) / DEPTH_UNITS


def seen_at(frame: str, other: str) -> tuple[Floats, Bools]:
    """Where each place of a frame's quarter is seen in another frame, (H / 4, W / 4, 2) in pixels of that frame at full
    size, pixel centres at whole numbers; and whether it is seen there at all: within the picture, and nothing
    before it."""
    near = inverse_depth(frame)
    height, width = near.shape
    x, y = np.meshgrid(np.arange(width) + 0.5, np.arange(height) + 0.5)
    first, second = (_camera(each) for each in (frame, other))
    rays = _rays(first, x, y, width, height)
    # The sky is as far as anything can be.
    points = np.asarray(first.at) + rays / np.maximum(near, 1e-5)[..., None]
    away = points - np.asarray(second.at)
    right, up, ahead = second.axes
    scale = width / 2 / np.tan(np.radians(second.fov) / 2)
    depth = away @ ahead
    u, v = width / 2 + scale * (away @ right) / depth, height / 2 - scale * (away @ up) / depth
    sampled = cv2.remap(
        inverse_depth(other).astype(np.float32), (u - 0.5).astype(np.float32), (v - 0.5).astype(np.float32),
        cv2.INTER_NEAREST, borderValue=-1,
    )  # fmt: skip
    own = 1 / np.linalg.norm(away, axis=2)
    seen = (depth > 0) & (sampled >= 0) & (np.abs(sampled - np.where(near > 0, own, 0)) < 0.03 * own + 1e-3)
    place = np.stack([u * DEPTH_REDUCTION - 0.5, v * DEPTH_REDUCTION - 0.5], axis=2)
    return place.astype(np.float32), seen


def _camera(frame: str) -> Camera:
    camera = facts(frame).camera
    assert camera is not None
    return camera


def _rays(camera: Camera, x: Doubles, y: Doubles, width: int, height: int) -> Doubles:
    """Unit vectors (..., 3) through places of a picture."""
    right, up, ahead = camera.axes
    scale = 2 * np.tan(np.radians(camera.fov) / 2) / width
    rays = ahead + ((x - width / 2) * scale)[..., None] * right - ((y - height / 2) * scale)[..., None] * up
    return np.asarray(rays / np.linalg.norm(rays, axis=-1, keepdims=True))
