"""Layers of a delivered picture, as painting programs understand them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from keen_sweep.core.arrays import EightBit, Pixels
from keen_sweep.core.box import Box, box_of
from keen_sweep.core.photo.channels import join
from keen_sweep.core.photo.picture import Metadata, Picture
from keen_sweep.core.photo.png import encode


@dataclass(frozen=True)
class Layer:
    """One layer: pixels (h, w, 3) and alpha (h, w) uint8 of a box of the picture, laid over what is below; opacity 0 to
    1; shown: whether it is switched on."""

    name: str
    box: Box
    pixels: Pixels
    alpha: EightBit
    opacity: float = 1.0
    shown: bool = True


def of_change(name: str, before: Pixels, after: Pixels) -> Layer | None:
    """What differs between two states of a picture (H, W, 3), as an opaque layer; None where nothing does."""
    changed = (before != after).any(axis=2)
    if not changed.any():
        return None
    box = box_of(changed)
    alpha = np.where(changed[box.slices], 255, 0).astype(np.uint8)
    return Layer(name, box, np.array(after[box.slices]), alpha)


def deep_alpha(layer: Layer) -> Pixels:
    """A layer's alpha in the bit depth of its pixels."""
    return layer.alpha if layer.pixels.dtype == np.uint8 else layer.alpha.astype(np.uint16) * np.uint16(257)


def layer_png(layer: Layer, icc: bytes | None) -> bytes:
    """A layer as a PNG with transparency, in its own bit depth; what is wholly clear is black, which packs well."""
    alpha = deep_alpha(layer)
    pixels = np.where(alpha[..., None] > 0, layer.pixels, 0).astype(layer.pixels.dtype)
    return encode(Picture(pixels=pixels, format="png", alpha=alpha, metadata=Metadata(icc=icc)))


def rgba(layer: Layer) -> Pixels:
    """A layer's four channels, (h, w, 4)."""
    return join(layer.pixels, deep_alpha(layer), grey=False, orientation=1)
