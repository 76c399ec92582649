"""Originals and what is made from them for looking: pyramids on disk; patches, drawings and pieces in memory."""

from __future__ import annotations

import os
import shutil
import threading
from collections.abc import Callable
from pathlib import Path
from weakref import WeakKeyDictionary

import numpy as np
from cachetools import LRUCache, cachedmethod
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import Box
from keen_sweep.core.deliver.ledger import Ledger
from keen_sweep.core.deliver.xmp import ledger_in
from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.fill.patch import Patch, patch_from_bytes
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.pieces import PieceSize, pieces_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.pyramid import Pyramid
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.photo.write import PARTIAL_PREFIX
from keen_sweep.core.photo.xmp_packet import packet_of
from keen_sweep.core.sentences import sentence
from keen_sweep.document.mark import Drawn, Mark, drawing_from_bytes, guarded
from keen_sweep.store.library import Library

# Pyramids on disk: beyond this size those not used for longest are deleted.
CACHED_VIEW_BYTES = 12_000_000_000
# Pictures that are kept in memory.
CACHED_PICTURES = 24
# Patches that are kept in memory, bytes.
CACHED_PATCH_BYTES = 400_000_000
# Drawings that are kept in memory, points.
CACHED_POINTS = 3_000_000
# Segmented pictures that are kept in memory.
CACHED_SEGMENTATIONS = 6
# Ledgers that are kept in memory.
CACHED_LEDGERS = 1_000
# Masks that are kept in memory, bytes.
CACHED_MASK_BYTES = 200_000_000
# Guards that are kept in memory: each is as large as its picture.
CACHED_GUARDS = 4
# Pictures are segmented at this size or smaller, pixels.
SEGMENTED_PIXELS = 4_000_000

Labels = NDArray[np.int32]
Guard = tuple[Drawn | Area, ...]


class Originals:
    """Quick access to the pictures of one library, and the shelf of its stacks. Safe to use from several threads: what
    is wanted by several of them is made by one, and holds up only those who want the same."""

    def __init__(self, library: Library) -> None:
        # Not the library itself, which would never be let go.
        self._files, self._views = library.files, library.views
        self._pyramids: LRUCache[str, tuple[Pyramid, bytes | None]] = LRUCache(CACHED_PICTURES)
        self._patches: LRUCache[str, Patch] = LRUCache(CACHED_PATCH_BYTES, getsizeof=_bytes)
        self._drawings: LRUCache[str, Stroke | Outline] = LRUCache(
            CACHED_POINTS, getsizeof=lambda each: len(each.points)
        )
        self._labels: LRUCache[tuple[str, PieceSize], Labels] = LRUCache(CACHED_SEGMENTATIONS)
        self._ledgers: LRUCache[str, Ledger | None] = LRUCache(CACHED_LEDGERS)
        self._ledgers_turn = threading.Condition()
        self._masks: LRUCache[tuple[Mark, Guard, Box], Mask] = LRUCache(
            CACHED_MASK_BYTES, getsizeof=lambda mask: 1 + mask.pixels.nbytes
        )
        self._guards: LRUCache[tuple[Guard, Box], Bools | None] = LRUCache(CACHED_GUARDS)
        self._masks_turn, self._guards_turn = threading.Condition(), threading.Condition()
        self._pyramids_turn, self._patches_turn = threading.Condition(), threading.Condition()
        self._drawings_turn, self._labels_turn = threading.Condition(), threading.Condition()
        self._room = threading.Lock()

    def pyramid(self, original: str) -> Pyramid:
        """The pyramid of an original, mapped from disk, made if it is not there."""
        return self._opened(original)[0]

    def profile(self, original: str) -> bytes | None:
        """The colour profile of an original."""
        return self._opened(original)[1]

    @cachedmethod(lambda self: self._ledgers, lambda _, original: original, condition=lambda self: self._ledgers_turn)
    def ledger(self, original: str) -> Ledger | None:
        """What a delivery of ours wrote into an original, if it is one."""
        return ledger_in(packet_of(self._files.path(original)))

    def patch(self, name: str) -> Patch:
        """A patch by its hash, without offsets."""
        return self.made(name, lambda: patch_from_bytes(self.read(name), with_offsets=False))

    @cachedmethod(lambda self: self._patches, lambda _, key, make: key, condition=lambda self: self._patches_turn)
    def made(self, key: str, make: Callable[[], Patch]) -> Patch:
        """A patch that was made before, or is made now; what was not used for longest is let go."""
        return make()

    @cachedmethod(lambda self: self._drawings, lambda _, name: name, condition=lambda self: self._drawings_turn)
    def drawing(self, name: str) -> Stroke | Outline:
        """What was drawn, by its hash. Raises LibraryTrouble if damaged."""
        try:
            return drawing_from_bytes(self.read(name))
        except ValueError as error:
            raise LibraryTrouble(sentence("A stored stroke is damaged and cannot be shown.")) from error

    def read(self, name: str) -> bytes:
        """Any file of the library by its hash."""
        return self._files.read(name)

    @cachedmethod(lambda self: self._masks, lambda _, *key: key, condition=lambda self: self._masks_turn)
    def mask(self, mark: Mark, guard: Guard, picture: Box) -> Mask:
        """The mask of a mark in a picture of a size, under a guard. It is for all who ask: nobody may write into it."""
        return mark.mask(picture, self, self.guarded(guard, picture))

    @cachedmethod(lambda self: self._guards, lambda _, *key: key, condition=lambda self: self._guards_turn)
    def guarded(self, guard: Guard, picture: Box) -> Bools | None:
        """(H, W) of what a guard covers; None where nothing is guarded. Nobody may write into it."""
        return guarded(guard, picture, self)

    @cachedmethod(lambda self: self._labels, lambda _, *key: key, condition=lambda self: self._labels_turn)
    def pieces(self, original: str, size: PieceSize) -> Labels:
        """The number of the piece that each pixel of an original belongs to, cut at SEGMENTED_PIXELS pixels or
        fewer."""
        pyramid = self.pyramid(original)
        level = 0
        while pyramid.level(level).shape[0] * pyramid.level(level).shape[1] > SEGMENTED_PIXELS:
            level += 1
        return pieces_of(np.asarray(pyramid.level(level)), size)

    def keep(self, original: str, picture: Picture) -> None:
        """Save the pyramid of a picture that was just read."""
        folder = self._views / original
        part = folder.with_suffix(f"{PARTIAL_PREFIX}{os.getpid()}-{threading.get_ident()}")
        try:
            Pyramid.of(picture.pixels).save(part)
            (part / "profile.icc").write_bytes(picture.metadata.icc or b"")
            part.rename(folder)
        except OSError as error:
            shutil.rmtree(part, ignore_errors=True)
            if not folder.exists():  # somebody else may have made it meanwhile
                raise LibraryTrouble(
                    sentence("The library cannot be written: {reason}.", reason=error.strerror or error)
                ) from error

    @cachedmethod(lambda self: self._pyramids, lambda _, name: name, condition=lambda self: self._pyramids_turn)
    def _opened(self, original: str) -> tuple[Pyramid, bytes | None]:
        folder = self._views / original
        saved = _saved(folder)
        if saved is None:
            shutil.rmtree(folder, ignore_errors=True)
            self.keep(original, read_picture(self._files.path(original)))
            saved = _saved(folder)
            self._make_room(keep=folder)
        if saved is None:
            raise LibraryTrouble(sentence("The views of this picture cannot be written to the library."))
        return saved

    def _make_room(self, keep: Path) -> None:
        with self._room:
            folders = sorted((f for f in self._views.iterdir() if f.is_dir()), key=lambda f: f.stat().st_mtime)
            sizes = {folder: sum(file.stat().st_size for file in folder.iterdir()) for folder in folders}
            total = sum(sizes.values())
            with self._pyramids_turn:
                in_use = {keep.name, *self._pyramids}
            for folder in folders:
                if total <= CACHED_VIEW_BYTES:
                    return
                # A folder without its index is still being written.
                if folder.name not in in_use and PARTIAL_PREFIX not in folder.name:
                    shutil.rmtree(folder, ignore_errors=True)
                    total -= sizes[folder]


_ORIGINALS_BY_LIBRARY: WeakKeyDictionary[Library, Originals] = WeakKeyDictionary()
_REGISTRY_LOCK = threading.Lock()


def originals_of(library: Library) -> Originals:
    """The originals of a library: one for all who use it."""
    with _REGISTRY_LOCK:
        if library not in _ORIGINALS_BY_LIBRARY:
            _ORIGINALS_BY_LIBRARY[library] = Originals(library)
        return _ORIGINALS_BY_LIBRARY[library]


def _saved(folder: Path) -> tuple[Pyramid, bytes | None] | None:
    """A pyramid with the profile of its picture; None when they are not all there: views may go at any time."""
    pyramid = Pyramid.open(folder)
    try:
        return None if pyramid is None else (pyramid, (folder / "profile.icc").read_bytes() or None)
    except OSError:
        return None


def _bytes(patch: Patch) -> int:
    return patch.pixels.nbytes + patch.alpha.nbytes
