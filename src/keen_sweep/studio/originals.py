"""Originals and what is made from them for looking: pyramids on disk, patches and profiles in memory."""

from __future__ import annotations

import os
import shutil
import threading
from collections import OrderedDict
from collections.abc import Callable
from pathlib import Path

from pydantic import ValidationError

from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.fill.patch import Patch, patch_from_bytes
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.pyramid import Pyramid
from keen_sweep.core.photo.read import read_picture
from keen_sweep.store.library import Library

# Bytes of pyramids kept on disk before those not used for longest are thrown away.
VIEWS_KEPT = 12_000_000_000
PATCHES_KEPT = 400_000_000
STROKES_KEPT = 2_000


class Originals:
    """Quick access to the pictures of one library. Safe to use from several threads."""

    def __init__(self, library: Library) -> None:
        self.library = library
        self._lock = threading.RLock()
        self._pyramids: OrderedDict[str, tuple[Pyramid, bytes | None]] = OrderedDict()
        self._patches_held = 0
        self._making: dict[str, threading.Lock] = {}
        self._patches: OrderedDict[str, Patch] = OrderedDict()
        self._strokes: OrderedDict[str, Stroke] = OrderedDict()

    def pyramid(self, original: str) -> Pyramid:
        """The pyramid of an original, mapped from disk, made if it is not there."""
        return self._opened(original)[0]

    def profile(self, original: str) -> bytes | None:
        """The colour profile of an original."""
        return self._opened(original)[1]

    def patch(self, name: str) -> Patch:
        """A patch by its hash, without offsets."""
        return self.made(name, lambda: patch_from_bytes(self.library.files.read(name), with_offsets=False))

    def made(self, key: str, make: Callable[[], Patch]) -> Patch:
        """A patch that was made before, or is made now; what was not used for longest is let go."""
        if (known := self._known(key)) is not None:
            return known
        with self._lock:
            # Tiles are asked for side by side and need the same patches: each is made by one of them.
            making = self._making.setdefault(key, threading.Lock())
        with making:
            if (known := self._known(key)) is not None:
                return known
            try:
                patch = make()
                self._keep_patch(key, patch)
                return patch
            finally:
                with self._lock:
                    self._making.pop(key, None)

    def _known(self, key: str) -> Patch | None:
        with self._lock:
            if key in self._patches:
                self._patches.move_to_end(key)
            return self._patches.get(key)

    def _keep_patch(self, key: str, patch: Patch) -> None:
        with self._lock:
            gone = [self._patches.pop(key)] if key in self._patches else []
            self._patches[key] = patch
            self._patches_held += _bytes(patch) - sum(_bytes(each) for each in gone)
            while len(self._patches) > 1 and self._patches_held > PATCHES_KEPT:
                _, oldest = self._patches.popitem(last=False)
                self._patches_held -= _bytes(oldest)

    def stroke(self, name: str) -> Stroke:
        """A touch-up's stroke by its hash. Raises LibraryTrouble if damaged."""
        with self._lock:
            if name in self._strokes:
                self._strokes.move_to_end(name)
                return self._strokes[name]
        try:
            stroke = Stroke.model_validate_json(self.library.files.read(name))
        except ValidationError as error:
            raise LibraryTrouble("A stored stroke is damaged and cannot be shown.") from error
        with self._lock:
            self._strokes[name] = stroke
            while len(self._strokes) > STROKES_KEPT:
                self._strokes.popitem(last=False)
        return stroke

    def keep(self, original: str, picture: Picture) -> None:
        """Save the pyramid of a picture that was just read."""
        folder = self.library.views / original
        part = folder.with_suffix(f".part-{os.getpid()}-{threading.get_ident()}")
        try:
            Pyramid.of(picture.pixels).save(part)
            (part / "profile.icc").write_bytes(picture.metadata.icc or b"")
            part.rename(folder)
        except OSError as error:
            shutil.rmtree(part, ignore_errors=True)
            if not folder.exists():  # somebody else may have made it meanwhile
                raise LibraryTrouble(f"The library cannot be written: {error.strerror or error}.") from error

    def _opened(self, original: str) -> tuple[Pyramid, bytes | None]:
        with self._lock:
            if original in self._pyramids:
                self._pyramids.move_to_end(original)
                return self._pyramids[original]
            folder = self.library.views / original
            pyramid = Pyramid.open(folder)
            if pyramid is None:
                shutil.rmtree(folder, ignore_errors=True)
                self.keep(original, read_picture(self.library.files.path(original)))
                pyramid = Pyramid.open(folder)
                self._make_room(keep=folder)
            if pyramid is None:
                raise LibraryTrouble("The views of this picture cannot be written to the library.")
            opened = pyramid, (folder / "profile.icc").read_bytes() or None
            self._pyramids[original] = opened
            while len(self._pyramids) > 24:
                self._pyramids.popitem(last=False)
            return opened

    def _make_room(self, keep: Path) -> None:
        folders = sorted((f for f in self.library.views.iterdir() if f.is_dir()), key=lambda f: f.stat().st_mtime)
        sizes = {folder: sum(file.stat().st_size for file in folder.iterdir()) for folder in folders}
        total = sum(sizes.values())
        for folder in folders:
            if total <= VIEWS_KEPT:
                return
            if folder != keep and folder.name not in self._pyramids:
                shutil.rmtree(folder, ignore_errors=True)
                total -= sizes[folder]


def _bytes(patch: Patch) -> int:
    return patch.pixels.nbytes + patch.alpha.nbytes
