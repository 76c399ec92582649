"""Deliver a frame."""

from __future__ import annotations

from urllib.parse import quote

from fastapi import APIRouter, Response

from keen_sweep.api.deps import TheLibrary
from keen_sweep.core.photo.picture import Written
from keen_sweep.studio.delivering.deliver import deliver

router = APIRouter(prefix="/api/frames/{frame_id}", tags=["frames"])


@router.get("/delivery", response_class=Response, operation_id="getDelivery")
def get_delivery(
    library: TheLibrary,
    frame_id: int,
    format: Written | None = None,
    revision: int | None = None,
) -> Response:
    """The picture at full size with all picks, in a format, the original's own if none is named."""
    made = deliver(library, frame_id, format, revision)
    disposition = f"attachment; filename*=UTF-8''{quote(made.name)}"
    return Response(made.data, media_type=made.media_type, headers={"Content-Disposition": disposition})
