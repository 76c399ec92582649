"""Real photographs out of registry packages, and the outlines of real things in them.

No training and no other bench shows them, but for the car park, whose video the people scout is measured on too.
Outlines were drawn by hand, by looking, drawn onto the edge by a cut in a band of a few pixels and looked at again;
what belongs to a thing (its shadow) has outlines of its own. Half of the photographs is kept back: nothing is tuned
on them. The photographs themselves are fetched, never kept in the repository.
"""

from __future__ import annotations

import json
import tempfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.errors import BadRequest
from keen_sweep.install.packages import download, member

OUTLINES_FILE = Path(__file__).with_name("outlines.json")
# Longer side at working size, so that outlines are exact to a pixel or two.
WORKING_SIDE_PX = 1200
# Outlines are integers in this many parts of the picture's sides.
OUTLINE_SCALE = 10_000
Outlines = list[list[list[int]]]


@dataclass(frozen=True)
class FieldThing:
    """A thing in a photograph (H, W, 3) uint8: where it is and where what belongs to it is, (H, W) each."""

    photograph: str
    name: str
    kept_back: bool
    picture: EightBit
    outlines: Outlines
    belonging: Outlines

    @cached_property
    def truth(self) -> Bools:
        return self._within(self.outlines)

    @cached_property
    def belongs(self) -> Bools:
        return self._within(self.belonging) & ~self.truth

    def _within(self, outlines: Outlines) -> Bools:
        height, width = self.picture.shape[:2]
        out = np.zeros((height, width), np.uint8)
        rings = [np.rint(np.array(ring) * (width, height) / OUTLINE_SCALE - 0.5).astype(np.int32) for ring in outlines]
        if rings:
            # A ring within a ring is a hole.
            cv2.fillPoly(out, rings, 1)
        return out > 0


def field_things(folder: Path, say: Callable[[str], None], only: str | None = None) -> Iterator[FieldThing]:
    """All things, photograph by photograph, or those of one; what is not in a folder yet is fetched into it.

    Raises KeenSweepError where a package cannot be had.
    """
    listed: list[dict[str, Any]] = [
        each for each in json.loads(OUTLINES_FILE.read_text()) if only is None or each["name"] == only
    ]
    _fetch(listed, folder, say)
    for number, each in enumerate(listed):
        picture = _read(_place(folder, each), each.get("frame"))
        for thing in each["things"]:
            yield FieldThing(
                each["name"], thing["name"], each["kept_back"], picture, thing["outlines"], thing.get("belongs", [])
            )
        say(f"{each['name']}: {number + 1} of {len(listed)}")


def _place(folder: Path, each: dict[str, Any]) -> Path:
    """Where a photograph is kept: by package and name."""
    package = str(each["package"]).split(":")[1]
    return folder / package / Path(str(each["file"])).name


def _fetch(listed: list[dict[str, Any]], folder: Path, say: Callable[[str], None]) -> None:
    missing = [each for each in listed if not _place(folder, each).is_file()]
    for package in sorted({each["package"] for each in missing}):
        say(f"Fetching {package}")
        with tempfile.TemporaryDirectory() as room:
            archive = download(package, Path(room))
            for each in missing:
                if each["package"] == package:
                    place = _place(folder, each)
                    place.parent.mkdir(parents=True, exist_ok=True)
                    place.write_bytes(member(archive, each["file"]))


def _read(file: Path, frame: int | None) -> EightBit:
    if frame is None:
        picture = cv2.imread(str(file))
    else:
        video = cv2.VideoCapture(str(file))
        video.set(cv2.CAP_PROP_POS_FRAMES, frame)
        picture = video.read()[1]
    if picture is None:
        raise BadRequest(f"{file} cannot be read.")
    small = min(WORKING_SIDE_PX / max(picture.shape[:2]), 1.0)
    if small < 1:
        picture = cv2.resize(picture, None, fx=small, fy=small, interpolation=cv2.INTER_AREA)
    return np.ascontiguousarray(np.asarray(picture, np.uint8)[..., ::-1])
