"""What workers need, loaded and its kernels with it: imported once, by the process that all workers are forked from.

Nothing that has threads may run here, for they would be missing in whoever is forked.
"""

from __future__ import annotations

from contextlib import suppress

import cv2

from keen_sweep.document.warm import warm
from keen_sweep.studio.running import ahead, carriers, queue, scouts

__all__ = ["carriers", "queue", "scouts"]

cv2.setNumThreads(0)
ahead.load()
# A worker whose kernels are not loaded is slow at first, and not broken.
with suppress(Exception):
    warm(lambda _: None)
