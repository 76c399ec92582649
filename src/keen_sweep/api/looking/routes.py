"""What is seen of a frame: tiles and crops."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Query, Response

from keen_sweep.api.deps import TheLibrary
from keen_sweep.api.media import sends
from keen_sweep.core.box import Box
from keen_sweep.core.photo.display import Screen
from keen_sweep.core.photo.png import encode_for_display
from keen_sweep.studio.look import Look, Shown, alone_look, crop, difference_look, harsh_look, look, stays

router = APIRouter(prefix="/api/frames/{frame_id}", tags=["frames"])
TILE_SIDE_PX = 512
IMMUTABLE_HEADERS = {"Cache-Control": "private, max-age=31536000, immutable"}


def _look(
    without: Annotated[list[str] | None, Query()] = None,
    takes: Annotated[list[int] | None, Query()] = None,
    revision: int | None = None,
    shot: bool = False,
    sweep: str | None = None,
    take: int | None = None,
    provisional: Annotated[int, Query(description="of the frame: a picture of another one is not kept")] = 0,
) -> Look:
    return Look(
        revision=revision,
        as_shot=shot,
        sweep=sweep,
        take=take,
        takes=tuple(takes or ()),
        without=tuple(without or ()),
        provisional=provisional,
    )


TheLook = Annotated[Look, Depends(_look)]


@router.get(
    "/tiles/{level}/{column}/{row}", response_class=Response, responses=sends("image/png"), operation_id="getTile"
)
def get_tile(
    library: TheLibrary,
    frame_id: int,
    level: int,
    column: int,
    row: int,
    at: TheLook,
    harsh: Annotated[float | None, Query(gt=0, le=50)] = None,
    alone: bool = False,
    unlike: int | None = None,
    screen: Screen = Screen.SRGB,
) -> Response:
    """A tile of 512 pixels of a pyramid level (0 is full size), lossless, as it looks at a revision.

    harsh: in the harsh-light view, with a threshold in per cent of light; alone: what the take looked at took off;
    unlike: how it differs from another take (0 is as shot), four times as strong about grey; screen: the colours that
    the screen has: on one of Display P3 a picture of a wider gamut than sRGB comes in those, and says so by a profile.
    """
    window = Box(x=column * TILE_SIDE_PX, y=row * TILE_SIDE_PX, width=TILE_SIDE_PX, height=TILE_SIDE_PX)
    level = min(max(level, 0), 16)
    if harsh is not None:
        seen = Shown(harsh_look(library, frame_id, at, window, level, harsh / 100)[..., None], None)
    elif unlike is not None:
        seen = Shown(difference_look(library, frame_id, at, unlike, window, level), None)
    elif alone:
        seen = Shown(alone_look(library, frame_id, at, window, level), None)
    else:
        seen = look(library, frame_id, at, window, level, screen)
    return _png(seen, stays(library, frame_id, at))


@router.get("/crop", response_class=Response, responses=sends("image/png"), operation_id="getCrop")
def get_crop(
    library: TheLibrary,
    frame_id: int,
    at: TheLook,
    x: int,
    y: int,
    width: Annotated[int, Query(ge=1, le=100_000)],
    height: Annotated[int, Query(ge=1, le=100_000)],
    across: Annotated[int, Query(ge=16, le=2_000)] = 240,
    screen: Screen = Screen.SRGB,
) -> Response:
    """A small picture of a box in full-size pixels, about so many pixels across; screen: as for a tile."""
    box = Box(x=x, y=y, width=width, height=height)
    seen = crop(library, frame_id, at, box, across, screen)
    return _png(seen, stays(library, frame_id, at))


def _png(shown: Shown, stays: bool) -> Response:
    """A picture; stays: it may be kept for good."""
    if shown.pixels.size == 0:
        return Response(status_code=404)
    return Response(
        encode_for_display(shown.pixels, shown.profile),
        media_type="image/png",
        headers=IMMUTABLE_HEADERS if stays else None,
    )
