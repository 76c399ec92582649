"""Touch-ups of a frame: strokes that clone, heal or bring back the original."""

from __future__ import annotations

from fastapi import APIRouter

from keen_sweep.api.deps import TheLibrary, TheOriginals
from keen_sweep.api.schemas import CautionOut, Changed, Touched, TouchesIn, TouchIn
from keen_sweep.studio import touch

router = APIRouter(prefix="/api/frames/{frame_id}/touches", tags=["touch-ups"])


@router.post("", status_code=201, operation_id="touchUp")
def touch_up(library: TheLibrary, originals: TheOriginals, frame_id: int, body: TouchIn) -> Touched:
    """A stroke on top of everything; a heal without a source gets one near by."""
    made, revision = touch.touch_up(library, originals, frame_id, body.brush, body.stroke, body.strength, body.source)
    return Touched(touch_id=made.id, revision=revision.id or 0, source=made.source)


@router.get("/{touch_id}/cautions", operation_id="getCautions")
def get_cautions(library: TheLibrary, originals: TheOriginals, frame_id: int, touch_id: str) -> list[CautionOut]:
    """What to point out about a stroke: the source ran into the thing, a patch repeats, the grain went soft."""
    found = touch.cautions_for(library, originals, frame_id, touch_id)
    return [CautionOut.model_validate(vars(each)) for each in found]


@router.post("/show", operation_id="showTouches")
def show(library: TheLibrary, frame_id: int, body: TouchesIn, shown: bool) -> Changed:
    """Switch touch-ups on or off."""
    return Changed(revision=touch.show_touches(library, frame_id, body.touches, shown).id or 0)


@router.post("/delete", operation_id="deleteTouches")
def delete(library: TheLibrary, frame_id: int, body: TouchesIn) -> Changed:
    """Take touch-ups out of the picture; undo brings them back."""
    return Changed(revision=touch.delete_touches(library, frame_id, body.touches).id or 0)
