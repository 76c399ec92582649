"""One frame at one revision: everything that a use case needs of it, read once.

The stack of a revision never changes, and which takes stand provisionally is read once, so that nothing here goes out
of date.
"""

from __future__ import annotations

from dataclasses import dataclass

from keen_sweep.core.arrays import Bools, EightBit, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.pyramid import Pyramid
from keen_sweep.document.mark import Mark
from keen_sweep.document.render import render
from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.history import frame_of, revision_of
from keen_sweep.studio.originals import Originals, originals_of
from keen_sweep.studio.provisional import seen_stack


@dataclass(frozen=True)
class OpenFrame:
    """A frame at one of its revisions; its stack has provisional takes where nothing was picked."""

    library: Library
    frame: Frame
    revision: int
    stack: Stack

    @property
    def box(self) -> Box:
        """The whole picture."""
        return Box(x=0, y=0, width=self.frame.width, height=self.frame.height)

    @property
    def standing(self) -> tuple[str, ...]:
        """The ids of the sweeps whose takes are seen."""
        return tuple(sweep.id for sweep in self.stack.sweeps if sweep.shown and sweep.pick is not None)

    @property
    def shelf(self) -> Originals:
        return originals_of(self.library)

    @property
    def pyramid(self) -> Pyramid:
        return self.shelf.pyramid(self.frame.original)

    @property
    def profile(self) -> bytes | None:
        return self.shelf.profile(self.frame.original)

    @property
    def guard(self) -> Bools | None:
        """What must stay, (H, W); None where nothing is guarded."""
        return self.shelf.guarded(self.stack.guard, self.box)

    def mask(self, sweep_id: str, fit: Fit | None = None, unguarded: bool = False) -> Mask:
        """The mask of a sweep, perhaps with another fit than its own; unguarded: as if nothing were. Raises
        NotFound."""
        mark = self.stack.sweep(sweep_id).mark
        return self.mask_of(mark if fit is None else mark.model_copy(update={"fit": fit}), unguarded)

    def mask_of(self, mark: Mark, unguarded: bool = False) -> Mask:
        """The mask of any mark in this picture; unguarded: as if nothing were."""
        return self.shelf.mask(mark, () if unguarded else self.stack.guard, self.box)

    def full(self, mask: Mask) -> EightBit:
        """A mask at the picture's size, (H, W)."""
        return mask.full(self.frame.width, self.frame.height)

    def seen(self, window: Box | None = None, level: int = 0, stack: Stack | None = None) -> Pixels:
        """What is seen of the picture, or would be with another stack, in a window of a level; all of it for None."""
        return render(self.pyramid, self.stack if stack is None else stack, self.shelf, window, level)

    def below(self, sweep_id: str, window: Box | None = None, level: int = 0) -> Pixels:
        """What lies under a sweep. Raises NotFound."""
        return self.seen(window, level, self.stack.below(sweep_id))


def open_frame(library: Library, frame_id: int, revision_id: int | None = None) -> OpenFrame:
    """Sit down to a frame at a revision, its present one if none is named. Raises NotFound."""
    with library.session() as session:
        frame = frame_of(session, frame_id)
        revision = revision_of(session, frame, revision_id)
        # A frame as it was in that state: it may be of an earlier version of the picture.
        shown = Frame.model_validate({**frame.model_dump(), **revision.version})
        return OpenFrame(library, shown, revision.id, seen_stack(session, shown, revision))
