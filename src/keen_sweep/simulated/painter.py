"""The one painter of the simulated service: weave, on the picture that was sent."""

from __future__ import annotations

import base64
import os
import threading
from collections.abc import Callable

import imagecodecs
import numpy as np

from keen_sweep.core.box import whole
from keen_sweep.core.errors import KeenSweepError
from keen_sweep.core.fill.engine import FillInput, Sources
from keen_sweep.core.fill.flat import FlatEngine
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.patch import lay
from keen_sweep.core.fill.words.understood import interpret_hints
from keen_sweep.core.photo.png_encoder import packed_png
from keen_sweep.remote.wire import PaintingIn
from keen_sweep.simulated.skin import looks_like_skin
from keen_sweep.simulated.switches import Switches
from keen_sweep.simulated.till import Job, Till

POLL_SECONDS = 0.05


class Painter:
    """Works paintings off one after the other in a thread of its own."""

    def __init__(self, till: Till, switches: Callable[[], Switches]) -> None:
        self._till, self._switches = till, switches
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._loop, name="painter", daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._stop.set()
        self._thread.join(timeout=2)

    def _loop(self) -> None:
        while not self._stop.wait(POLL_SECONDS):
            job = self._till.next()
            if job is None:
                continue
            try:
                self._work(job)
            except (KeenSweepError, ValueError) as error:
                self._till.end(job, "failed", "broken", str(error))

    def _work(self, job: Job) -> None:
        switches = self._switches()
        for _ in range(job.ahead + 1):
            if self._stop.wait(switches.delay):
                return
        asked = PaintingIn.model_validate_json(self._till.request_file(job.id).read_bytes())
        picture = np.asarray(imagecodecs.png_decode(base64.b64decode(asked.picture)))
        hole = np.asarray(imagecodecs.png_decode(base64.b64decode(asked.hole)))
        if switches.dies == "painting":
            os._exit(1)
        if switches.policy:
            self._till.end(job, "refused", "refused", switches.policy)
        elif switches.refuse_skin and looks_like_skin(picture, hole > 0):
            self._till.end(job, "refused", "refused", "the area shows skin, which it does not touch")
        elif switches.fails:
            self._till.end(job, "failed", "broken", "its painter broke off")
        else:
            # Words that name no ground here are no reason to fail: a model would make something of them.
            found = interpret_hints(picture, hole > 0, asked.hint, asked.avoid)
            given = FillInput(
                below=picture,
                mask=hole,
                seed=asked.seed % 2**31,
                takes=1,
                quality=Quality.FAST,
                sources=Sources(draw_from=found.draw_from, barred=found.barred, foreign=found.foreign),
            )
            engine = FlatEngine(Method.WEAVE) if switches.flat else ByPart(Method.WEAVE)
            (take,) = engine.fill(given)
            lay(picture, whole(picture), take)
            self._till.picture_file(job.id).write_bytes(packed_png(picture))
            # Nobody can hear of it before the lock is given back.
            with self._till.lock:
                self._till.end(job, "done")
                if switches.dies == "paid":
                    os._exit(1)
