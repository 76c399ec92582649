"""Parts of libraries that load by themselves when first used, loaded before anybody waits for them."""

from __future__ import annotations

import threading
from importlib import import_module

# A quarter of what a server took to start when they were loaded there; a mark or a fill asks for them.
LATE = (
    *("scipy.fft", "scipy.ndimage", "scipy.sparse.csgraph", "scipy.sparse.linalg", "scipy.spatial", "scipy.special"),
    *("skimage.morphology", "skimage.segmentation"),
)
# After which a server that was just started has drawn the desk that was asked for, seconds.
SETTLED = 5.0


def load() -> None:
    """Load them now."""
    for name in LATE:
        import_module(name)


def load_later() -> threading.Timer:
    """Load them in a while; cancelled, not at all."""
    timer = threading.Timer(SETTLED, load)
    timer.daemon = True
    timer.start()
    return timer
