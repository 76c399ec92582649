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
    """A layer over part of a picture.

    Attributes
    ----------
    name : str
        Its name.
    box : Box
        Its box in the picture.
    pixels : (h, w, 3) uint8 or uint16
        Its pixels.
    alpha : (h, w) uint8
        Its transparency; 255 is opaque.
    opacity : float
        Opacity of the whole layer, 0 to 1.
    shown : bool
        Whether it is switched on.
    """

    name: str
    box: Box
    pixels: Pixels
    alpha: EightBit
    opacity: float = 1.0
    shown: bool = True


def layer_of_change(name: str, before: Pixels, after: Pixels) -> Layer | None:
    """Create an opaque layer from what differs between two states of a picture.

    Parameters
    ----------
    name : str
        Name of the layer.
    before : (H, W, 3) uint8 or uint16
        The first state.
    after : (H, W, 3) of the same dtype
        The second state.

    Returns
    -------
    Layer or None
        The layer; None where nothing differs.
    """
    changed = (before != after).any(axis=2)
    if not changed.any():
        return None
    box = box_of(changed)
    alpha = np.where(changed[box.slices], 255, 0).astype(np.uint8)
    return Layer(name, box, np.array(after[box.slices]), alpha)


def deep_alpha(layer: Layer) -> Pixels:
    """Transparency of a layer in the bit depth of its pixels.

    Parameters
    ----------
    layer : Layer
        The layer.

    Returns
    -------
    (h, w) uint8 or uint16
        The transparency.
    """
    return layer.alpha if layer.pixels.dtype == np.uint8 else layer.alpha.astype(np.uint16) * np.uint16(257)


def layer_png(layer: Layer, icc: bytes | None) -> bytes:
    """Encode a layer as a PNG with transparency in its own bit depth.

    Fully transparent pixels are black, which compresses well.

    Parameters
    ----------
    layer : Layer
        The layer.
    icc : bytes or None
        ICC profile.

    Returns
    -------
    bytes
        The file.
    """
    alpha = deep_alpha(layer)
    pixels = np.where(alpha[..., None] > 0, layer.pixels, 0).astype(layer.pixels.dtype)
    return encode(Picture(pixels=pixels, format="png", alpha=alpha, metadata=Metadata(icc=icc)))


def rgba(layer: Layer) -> Pixels:
    """The four channels of a layer.

    Parameters
    ----------
    layer : Layer
        The layer.

    Returns
    -------
    (h, w, 4) uint8 or uint16
        Red, green, blue, alpha.
    """
    return join(layer.pixels, deep_alpha(layer), grey=False, orientation=1)
