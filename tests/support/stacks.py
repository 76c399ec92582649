"""Takes made up without a fill, and what a frame shows."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.fill.method import MadeBy, Quality
from keen_sweep.core.fill.patch import Patch, patch_to_bytes
from keen_sweep.document.render import render
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Take
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.originals import Originals


def take_of(library: Library, frame: Frame, sweep_id: str, number: int) -> int:
    """A take made up by its number, without a fill."""
    random = np.random.default_rng(number)
    box = Box(x=number % 90, y=number % 60, width=40, height=30)
    pixels = random.integers(0, 65535, (30, 40, 3)).astype(np.uint16)
    patch = Patch(box=box, pixels=pixels, alpha=np.full((30, 40), 255, np.uint8), method=MadeBy.WEAVE, seed=number)
    name = library.files.add(patch_to_bytes(patch))
    with library.session() as session:
        row = Take(
            frame_id=frame.id, sweep_id=sweep_id, run_id=1, patch=name, original=frame.original, method=MadeBy.WEAVE,
            seed=number, quality=Quality.FINE,
            energy=0.0, seconds=0.0, **box.model_dump(),
        )  # fmt: skip
        session.add(row)
        session.flush()
        assert row.id is not None
        return row.id


def shown(library: Library, frame: Frame) -> tuple[NDArray[Any], list[NDArray[Any]]]:
    """The rendered picture, and every mask."""
    originals = Originals(library)
    stack = open_frame(library, frame.id or 0).stack
    pixels = render(originals.pyramid(frame.original), stack, originals)
    return pixels, [open_frame(library, frame.id or 0).mask(s.id).full(frame.width, frame.height) for s in stack.sweeps]
