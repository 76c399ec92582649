"""What has to be known of a graph, found out by trying: on a picture whose answer is known.

Outside the hole the answer must be the picture that went in. In the hole lies something that is like nothing round it:
what shows it again was not kept from seeing it, and what is nearest to the ground that lies there really comes first.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import product

import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Floats
from keen_sweep.core.errors import ModelTrouble
from keen_sweep.core.fill.model.facts import DEFAULT_MULTIPLE, Facts, Range
from keen_sweep.core.fill.model.onnx_file import OnnxModel
from keen_sweep.core.sentences import sentence

# Ranges of values that graphs are made for (common practice, no source).
VALUE_RANGES: tuple[Range, ...] = ((0.0, 1.0), (-1.0, 1.0), (0.0, 255.0))
# Mask values inside and outside the hole.
MASK_VALUES = ((1.0, 0.0), (0.0, 1.0), (255.0, 0.0), (0.0, 255.0))
# Mean difference outside the hole up to which an answer is plausible, 8-bit levels; graphs that repaint everything
# are not exact.
MAX_OUTSIDE_ERROR = 10.0
# Trial side for each multiple: the first size a graph accepts reveals its multiple.
TRIAL_SIDES_PX = {8: 136, 16: 144, 32: 160, 64: 192, 128: 128, 256: 256}
# A colour that does not occur in the picture.
MARKER_COLOUR = (230, 30, 200)
# Colour of a blanked hole.
BLANK_COLOUR = (127.5, 127.5, 127.5)
# Below this mean difference to the input, the hole was not painted, 8-bit levels.
MAX_UNPAINTED_DIFFERENCE = 3.0
# Weight of errors inside the hole, where the right answer is not known.
INSIDE_WEIGHT = 0.2


@dataclass(frozen=True)
class Finding:
    """What suits a graph.

    Attributes
    ----------
    told : Facts
        The settings.
    outside : float
        Mean difference from the picture outside the hole, 8-bit levels.
    inside : float
        Mean difference from the ground in the hole, 8-bit levels.
    """

    told: Facts
    outside: float
    inside: float

    @property
    def fits(self) -> bool:
        return self.outside <= MAX_OUTSIDE_ERROR

    @property
    def worth(self) -> float:
        """The lower, the better."""
        return self.outside + INSIDE_WEIGHT * self.inside


def find_settings(model: OnnxModel) -> Finding:
    """Find the settings that suit a graph best by trying them; its present ones are preferred if equally
    good. The graph uses them from then on.

    Parameters
    ----------
    model : OnnxModel
        The model.

    Returns
    -------
    Finding
        The settings.

    Raises
    ------
    ModelTrouble
        No setting gives a picture.
    """
    now = model.told
    if model.side is None:
        now = now.model_copy(update={"multiple": _steps(model, now)})
        model.use(now)
    side = model.side or TRIAL_SIDES_PX[max(now.multiple, DEFAULT_MULTIPLE)]
    truth, seen, hole = _case(side)
    best: Finding | None = None
    for facts in _guesses(now):
        model.use(facts)
        try:
            answer = model.answer(seen, hole)
        except ModelTrouble:
            continue
        for out in dict.fromkeys((now.out, *VALUE_RANGES)):
            found = _judged(facts.model_copy(update={"out": out}), answer, truth, hole)
            if best is None or found.worth < best.worth - 0.5:
                best = found
    if best is None:
        model.use(now)
        model.answer(seen, hole)
        raise ModelTrouble(sentence("{name} returned no picture.", name=model.name))
    model.use(best.told)
    return best


def _guesses(now: Facts) -> Iterator[Facts]:
    """What is used now, then everything else that is likely."""
    yield now
    for into, (hole, kept), blank in product(VALUE_RANGES, MASK_VALUES, (False, True)):
        yield now.model_copy(update={"into": into, "hole": hole, "kept": kept, "blank": blank})


def _steps(model: OnnxModel, now: Facts) -> int:
    """The steps of the sides that a graph takes. Raises ModelTrouble when it takes none."""
    why: ModelTrouble | None = None
    for steps, side in TRIAL_SIDES_PX.items():
        if steps < now.multiple:
            continue
        _, seen, hole = _case(side)
        try:
            model.answer(seen, hole)
        except ModelTrouble as error:
            why = why or error
        else:
            return steps
    raise why or ModelTrouble(sentence("{name} accepts no picture of any size that was tried.", name=model.name))


def _case(side: int) -> tuple[EightBit, EightBit, Bools]:
    """The ground, what is seen of it with something strange in its hole, and the hole."""
    y, x = np.mgrid[:side, :side] / side
    waves = 12 * np.sin(x * 60) * np.sin(y * 48)
    ground = np.stack([90 + 70 * x, 120 + 40 * y, 150 - 50 * x * y], axis=2) + waves[..., None]
    truth = np.asarray(np.rint(ground).clip(0, 255), np.uint8)
    hole = np.zeros((side, side), np.bool_)
    hole[side * 3 // 8 : side * 9 // 16, side * 3 // 8 : side * 5 // 8] = True
    seen = truth.copy()
    seen[hole] = MARKER_COLOUR
    return truth, seen, hole


def _judged(facts: Facts, answer: Floats, truth: EightBit, hole: Bools) -> Finding:
    low, high = facts.out
    painted = ((answer - low) / (high - low) * 255).clip(0, 255)
    painted = np.where(np.isfinite(painted), painted, 255)
    off = np.abs(painted - truth).mean(axis=2)
    went_in = np.array(BLANK_COLOUR if facts.blank else MARKER_COLOUR)
    as_it_was = np.abs(painted - went_in).mean(axis=2)[hole].mean() < MAX_UNPAINTED_DIFFERENCE
    return Finding(facts, float(off[~hole].mean()), 255.0 if as_it_was else float(off[hole].mean()))
