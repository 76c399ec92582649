"""The frames of the shoot by name."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from facade import facade, facade_a_step_back, facade_a_step_on, facade_from_the_left, roof_and_sky
from hedges import hedge_path
from pane import through_the_pane
from scene import Scene
from shed import potting_shed, potting_shed_large

from studio import potted_plant

SCENES: dict[str, Callable[[], Scene]] = {
    "ov-0412": facade,
    "ov-0413": facade_from_the_left,
    "ov-0414": facade_a_step_on,
    "ov-0415": facade_a_step_back,
    "ov-0418": roof_and_sky,
    "ov-0431": hedge_path,
    "ov-0446": through_the_pane,
    "ov-0458": potting_shed,
    "ov-0459": potting_shed_large,
    **{f"ov-052{k}": partial(potted_plant, k) for k in range(1, 6)},
}
