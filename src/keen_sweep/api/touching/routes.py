"""Touch-ups of a frame: strokes that clone, heal or bring back the original."""

from __future__ import annotations

from fastapi import APIRouter

from keen_sweep.api.deps import SEEN_REVISION, TheLibrary
from keen_sweep.api.desk.schemas import DeskOut, desk_of
from keen_sweep.api.touching.schemas import CautionOut, Touched, TouchesChange, TouchIn
from keen_sweep.studio.touching import touch

router = APIRouter(prefix="/api/frames/{frame_id}/touches", tags=["touch-ups"], dependencies=[SEEN_REVISION])


@router.post("", status_code=201, operation_id="touchUp")
def touch_up(library: TheLibrary, frame_id: int, body: TouchIn) -> Touched:
    """A stroke on top of everything; a heal without a source gets one near by."""
    made, _ = touch.touch_up(library, frame_id, body.brush, body.stroke, body.strength, body.source)
    return Touched(touch_id=made.id, source=made.source, desk=desk_of(library, frame_id))


@router.get("/{touch_id}/cautions", operation_id="getCautions")
def get_cautions(library: TheLibrary, frame_id: int, touch_id: str) -> list[CautionOut]:
    """What to point out about a stroke: the source ran into the thing, a patch repeats, the grain went soft."""
    return [CautionOut.model_validate(vars(each)) for each in touch.cautions_for(library, frame_id, touch_id)]


@router.patch("", operation_id="changeTouches")
def change(library: TheLibrary, frame_id: int, body: TouchesChange) -> DeskOut:
    """Switch touch-ups on or off, or take them out of the picture; undo brings them back."""
    if body.deleted:
        touch.delete_touches(library, frame_id, body.touches)
    elif body.shown is not None:
        touch.show_touches(library, frame_id, body.touches, body.shown)
    return desk_of(library, frame_id)
