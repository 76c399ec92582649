"""What of a hole is painted in one go: areas that lie apart on their own, long ones section by section."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.box import Box
from keen_sweep.core.fill.local.laying_out import clusters_of, stages_of
from keen_sweep.core.fill.model.context import CONTEXT_RATIO, context_box
from keen_sweep.core.fill.model.port import Model
from keen_sweep.core.mask.parts import Part

# Long holes are shown to a model at this scale or larger.
MIN_SCALE = 0.5
# A hole is long from this ratio of length to width on.
MIN_LENGTH_RATIO = 3.0
# Overlap with the section painted before, as a share of the section's length.
OVERLAP_SHARE = 0.125


@dataclass(frozen=True)
class Section:
    """A part of a hole that is painted at once.

    Attributes
    ----------
    part : Part
        The part.
    overlap : int
        Overlap with what was painted before, pixels.
    """

    part: Part
    overlap: int


def sections_of(hole: Bools, model: Model, staged: bool) -> list[Section]:
    """Divide a hole into sections, in the order in which to paint them.

    Parameters
    ----------
    hole : (H, W) bool
        The hole.
    model : Model
        The model.
    staged : bool
        Whether large holes are divided too.

    Returns
    -------
    list of Section
        The sections.
    """
    length = round((model.side or model.most) / (CONTEXT_RATIO * MIN_SCALE))
    out = []
    for cluster in clusters_of(hole):
        longer = max(cluster.box.width, cluster.box.height)
        long = longer >= MIN_LENGTH_RATIO * 2 * cluster.radius
        if longer > length * 1.5 and (long or staged):
            out += [Section(part, round(OVERLAP_SHARE * length)) for part in stages_of(cluster, length)]
        else:
            out.append(Section(cluster, 0))
    return out


def sizes_of(sections: list[Section], picture: Box, model: Model) -> list[tuple[int, int]]:
    """Sizes at which the sections are shown to a model.

    Parameters
    ----------
    sections : list of Section
        The sections.
    picture : Box
        Box of the picture.
    model : Model
        The model.

    Returns
    -------
    list of tuple of 2 int
        Width and height of each, pixels.
    """
    out = []
    for section in sections:
        box = context_box(section.part.box, picture, model)
        scale = min(1.0, (model.side or model.most) / max(box.width, box.height))
        step = model.multiple

        def side(length: int, scale: float = scale, step: int = step) -> int:
            return model.side or -(-max(round(length * scale), 1) // step) * step

        out.append((side(box.width), side(box.height)))
    return out


def ramp(unpainted: Bools, over: Bools, overlap: int) -> Floats:
    """Opacity of a new section over earlier ones.

    Parameters
    ----------
    unpainted : (h, w) bool
        Pixels that were not painted before.
    over : (h, w) bool
        Pixels that were.
    overlap : int
        Width of the transition, pixels.

    Returns
    -------
    (h, w) float32
        1 on new pixels, falling to 0 over painted ones.
    """
    out = unpainted.astype(np.float32)
    if overlap and over.any():
        away = cv2.distanceTransform((~unpainted).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
        out[over] = np.clip(1 - away[over] / (overlap + 1), 0, 1)
    return out
