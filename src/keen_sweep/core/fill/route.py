"""Which method suits a part, and why."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import whole
from keen_sweep.core.fill.method import Method
from keen_sweep.core.mask.parts import Part, rejoined, sections
from keen_sweep.core.methods.grain import smooth_known
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.sentences import sentence

Way = Literal["close", "weave"]
ROUTE_NAMES: tuple[Way, Way] = ("close", "weave")
# Holes up to this radius are closed on calm ground, pixels.
NARROW_RADIUS_PX = 7.0
# Holes up to this radius are closed on very calm ground, pixels.
SMOOTH_RADIUS_PX = 28.0
# Relief of calm ground: 8-bit levels per pixel after grain is smoothed away.
CALM_RELIEF = 0.8
VERY_CALM_RELIEF = 0.5
# Length of the sections that are judged separately, pixels.
SECTION_LENGTH_PX = 32


def relief_round(below: Pixels, part: Part, known: Bools) -> float:
    """Unevenness of the surroundings of a part.

    Parameters
    ----------
    below : (H, W, 3) uint8 or uint16
        The picture below the sweep.
    part : Part
        The part.
    known : (H, W) bool
        Pixels that may be read.

    Returns
    -------
    float
        90th percentile of the slope, 8-bit levels per pixel.
    """
    reach = int(np.clip(2 * part.radius, 8, 40))
    box = part.box.grow(reach + 4, whole(below))
    seen = known[box.slices]
    inside = np.zeros(seen.shape, np.uint8)
    inside[part.box.relative_to(box).slices] = part.inside
    distance = cv2.distanceTransform(1 - inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    ring = (distance > 2) & (distance <= reach) & seen
    if not ring.any():
        return float("inf")
    grey = to_eight_bit(below[box.slices]).astype(np.float32).mean(axis=2, keepdims=True)
    calm = smooth_known(grey, seen, 2.0)[..., 0]
    slope = np.hypot(cv2.Sobel(calm, cv2.CV_32F, 1, 0), cv2.Sobel(calm, cv2.CV_32F, 0, 1)) / 8
    return float(np.percentile(slope[ring], 90))


@dataclass(frozen=True)
class Routed:
    """How one part will be filled.

    Attributes
    ----------
    part : Part
        The part.
    close : tuple of Part
        Sections that are closed.
    weave : tuple of Part
        Sections that are woven.
    why : str
        The reason in one sentence.
    """

    part: Part
    close: tuple[Part, ...]
    weave: tuple[Part, ...]
    why: str

    @property
    def way(self) -> str:
        return " + ".join(name for name, bits in (("close", self.close), ("weave", self.weave)) if bits)


def route(below: Pixels, part: Part, known: Bools, method: Method, led: bool = False) -> Routed:
    """Choose between closing and weaving for a part, section by section for long ones.

    A method other than auto is obeyed.

    Parameters
    ----------
    below : (H, W, 3) uint8 or uint16
        The picture below the sweep.
    part : Part
        The part.
    known : (H, W) bool
        Pixels that may be read.
    method : Method
        The requested method.
    led : bool, optional
        Whether lines were drawn that the fill follows: these are woven along.

    Returns
    -------
    Routed
        The choice.
    """
    if method != "auto":
        return _routed(part, [(part, "close" if method == "close" else "weave")], sentence("you chose it"))
    if led:
        return _routed(part, [(part, "weave")], sentence("woven as your lines lead it"))
    # A wide part is woven as one; only what looks calm as a whole may still cross something.
    alike = part.radius > NARROW_RADIUS_PX and _judge(below, part, known)[0] == "weave"
    bits = [part] if alike else sections(part, max(SECTION_LENGTH_PX, round(2 * part.radius)))
    judged = [(bit, *_judge(below, bit, known)) for bit in bits]
    ways = {way for _, way, _ in judged}
    if len(ways) == 1:
        return _routed(part, [(bit, way) for bit, way, _ in judged], judged[0][2])
    calm = sum(bit.area for bit, way, _ in judged if way == "close") / part.area
    why = sentence(
        "narrow ({width:.0f} px across): continued where the ground is calm ({calm:.0%} of it), "
        "woven where it crosses texture",
        width=2 * part.radius,
        calm=calm,
    )
    return _routed(part, [(bit, way) for bit, way, _ in judged], why)


def _routed(part: Part, bits: list[tuple[Part, Way]], why: str) -> Routed:
    if len({way for _, way in bits}) == 1:
        bits = [(part, bits[0][1])]
    close, weave = (tuple(rejoined(part, [bit for bit, way in bits if way == wanted])) for wanted in ROUTE_NAMES)
    return Routed(part=part, close=close, weave=weave, why=why)


def _judge(below: Pixels, part: Part, known: Bools) -> tuple[Way, str]:
    across = sentence("{width:.0f} px across", width=2 * part.radius)
    relief = relief_round(below, part, known)
    if part.radius <= NARROW_RADIUS_PX and relief <= CALM_RELIEF:
        return "close", sentence("narrow ({across}) and on calm ground: the surroundings are continued", across=across)
    if part.radius <= SMOOTH_RADIUS_PX and relief <= VERY_CALM_RELIEF:
        return "close", sentence("{across} on very smooth ground: the surroundings are continued", across=across)
    if part.radius <= NARROW_RADIUS_PX:
        return "weave", sentence("narrow ({across}) but on texture: woven from similar places", across=across)
    return "weave", sentence("{across}: woven from other places of the picture", across=across)
