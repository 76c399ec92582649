"""Parts of libraries that load by themselves when first used, loaded before anybody waits for them."""

from __future__ import annotations

import threading
from importlib import import_module

# A mark or a fill needs them. Loading them first took a quarter of a server's start.
PRELOADED_MODULES = (
    *("scipy.fft", "scipy.ndimage", "scipy.sparse.csgraph", "scipy.sparse.linalg", "scipy.spatial", "scipy.special"),
    *("skimage.morphology", "skimage.segmentation"),
)
# Time after which a server that was just started has drawn the desk, seconds.
SETTLE_SECONDS = 5.0


def load() -> None:
    """Load them now."""
    for name in PRELOADED_MODULES:
        import_module(name)


def load_later() -> threading.Timer:
    """Load them in a while; cancelled, not at all."""
    timer = threading.Timer(SETTLE_SECONDS, load)
    timer.daemon = True
    timer.start()
    return timer
