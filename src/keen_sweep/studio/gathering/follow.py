"""What was done to a picture follows it into a version that was straightened, cropped or made larger or smaller."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from sqlmodel import Session, select

from keen_sweep.core.box import Box
from keen_sweep.core.mask.fit import MAX_FEATHER_PX, MAX_MARGIN_PX, Fit
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.series.similarity import IDENTITY_SIMILARITY, Similarity
from keen_sweep.core.series.transferred_shape import transfer_shape
from keen_sweep.core.touch.source import transfer_source
from keen_sweep.document.mark import Filed, Mark, drawing_to_bytes, filed, filed_from, shapes_of
from keen_sweep.document.stack import Behind, Stack, Sweep
from keen_sweep.document.touch import Touch
from keen_sweep.store.tables import Find
from keen_sweep.studio.open_frame import OpenFrame

# Things whose sizes differ by less than this share are of the same size.
SIZE_TOLERANCE = 0.02


class Following:
    """Shapes, layers and finds of one version of a frame as they lie in another, which has the box picture."""

    def __init__(self, current: OpenFrame, lies: Similarity, picture: Box) -> None:
        self._shelf, self._keep = current.shelf, current.library.files.add
        self._lies, self._picture = lies, picture

    def stack(self, stack: Stack) -> Stack:
        """The stack, with all fills behind; without what lies outside."""
        layers = [self._sweep(layer) if isinstance(layer, Sweep) else self._touch(layer) for layer in stack.layers]
        inside = tuple(layer for layer in layers if layer is not None)
        return stack.model_copy(update={"layers": inside, "guard": self.shapes(stack.guard)})

    def shapes(self, shapes: tuple[Filed, ...]) -> tuple[Filed, ...]:
        """Shapes of a mark or a guard."""
        if self._lies == IDENTITY_SIMILARITY:
            return shapes
        known = shapes_of(shapes, self._shelf)
        return filed(
            [transfer_shape(each, self._lies.places, self._shelf.read, self._keep) for each in known], self._keep
        )

    def _sweep(self, sweep: Sweep) -> Sweep | None:
        behind = sweep.behind
        if sweep.pick is not None:
            behind = Behind(patch=sweep.pick, provisional=sweep.provisional)
        if behind is not None:
            behind = behind.model_copy(update={"lies": behind.lies.then(self._lies)})
        undecided = {"pick": None, "provisional": False, "behind": behind}
        if self._lies == IDENTITY_SIMILARITY:
            return sweep.model_copy(update=undecided)
        mark = Mark(shapes=self.shapes(sweep.mark.shapes), fit=self._fit(sweep.mark.fit))
        if mark.reach(self._picture).empty:
            return None
        ground = sweep.ground
        if ground is not None and ground.frame is None:
            box = self._box(ground.box)
            ground = None if box.empty else ground.model_copy(update={"box": box})
        lead = tuple(line.through(self._lies.places(line.xy)) for line in sweep.lead)
        return sweep.model_copy(update=undecided | {"mark": mark, "ground": ground, "lead": lead})

    def _touch(self, touch: Touch) -> Touch | None:
        if self._lies == IDENTITY_SIMILARITY:
            return touch
        stroke = transfer_shape(self._shelf.drawing(touch.stroke), self._lies.places, self._shelf.read, self._keep)
        assert isinstance(stroke, Stroke)
        box = stroke.box.intersect(self._picture)
        if box.empty:
            return None
        source = touch.source and transfer_source(touch.source, self._lies)
        return touch.model_copy(update={"stroke": self._keep(drawing_to_bytes(stroke)), "box": box, "source": source})

    def _fit(self, fit: Fit) -> Fit:
        by = self._lies.scale
        if abs(by - 1) < SIZE_TOLERANCE:
            return fit
        return Fit(
            margin=float(np.clip(fit.margin * by, -MAX_MARGIN_PX, MAX_MARGIN_PX)),
            feather=min(fit.feather * by, MAX_FEATHER_PX),
            holes=fit.holes,
            crumbs=round(fit.crumbs * by * by),
        )

    def _box(self, box: Box) -> Box:
        corners = np.array([(x, y) for x in (box.x, box.right) for y in (box.y, box.bottom)], np.float64) - 0.5
        moved_corners = np.rint(self._lies.places(corners) + 0.5).astype(int)
        (left, top), (right, bottom) = moved_corners.min(axis=0).tolist(), moved_corners.max(axis=0).tolist()
        return Box(x=left, y=top, width=right - left, height=bottom - top).intersect(self._picture)

    def finds(self, session: Session, frame_id: int, before: str, after: str) -> None:
        """What scouts found in the version before, as found in the one after; what was decided of it stays."""
        known = session.exec(select(Find).where(Find.frame_id == frame_id, Find.original == after)).first()
        if known is not None:
            return
        for row in session.exec(select(Find).where(Find.frame_id == frame_id, Find.original == before)):
            shapes = self.shapes(filed_from(row.shapes))
            if Mark(shapes=shapes).reach(self._picture).empty:
                continue
            also = [{**each, "area": self._area(each["area"])} for each in row.also]
            fields = row.model_dump(exclude={"id"})
            session.add(Find(**{**fields, "original": after, "shapes": [_json(each) for each in shapes], "also": also}))

    def _area(self, area: Mapping[str, object]) -> dict[str, object]:
        return _json(self.shapes(filed_from([area]))[0])


def _json(shape: Filed) -> dict[str, object]:
    return shape.model_dump(mode="json")
