"""Marking: shapes, cling, pieces, mask files, areas, the guard."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import ValidationError

from keen_sweep.api.deps import SEEN_REVISION, TheLibrary
from keen_sweep.api.desk.schemas import DeskOut, desk_of
from keen_sweep.api.idempotency import once
from keen_sweep.api.marking.schemas import (
    ClingIn,
    DabIn,
    JoinIn,
    LoadedMask,
    Marked,
    PiecesIn,
    RingsOut,
    SecondThoughts,
    ShapesIn,
    SweepIn,
)
from keen_sweep.api.media import sends
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.pieces import PieceSize
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.studio.finding import protect
from keen_sweep.studio.marking import advice, areas, cling, draw, guarding, mask_files, pieces
from keen_sweep.studio.marking.straying import strays_of

router = APIRouter(prefix="/api/frames/{frame_id}", tags=["marking"], dependencies=[SEEN_REVISION])
Place = Annotated[float, Query(ge=-200_000, le=200_000, allow_inf_nan=False)]
MASK_FILE_SCHEMA = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}


@router.post("/sweeps", status_code=201, operation_id="newSweep")
@once
def new_sweep(library: TheLibrary, frame_id: int, body: SweepIn) -> Marked:
    """A new sweep from strokes, outlines and areas, in picture pixels."""
    made, _ = draw.new_sweep(library, frame_id, body.shapes, body.name)
    return Marked(sweep_id=made, desk=desk_of(library, frame_id, made))


@router.post("/sweeps/from-mask", status_code=201, operation_id="loadMask", openapi_extra=MASK_FILE_SCHEMA)
async def load_mask(library: TheLibrary, request: Request, frame_id: int, sweep_id: str | None = None) -> LoadedMask:
    """A mask as a new sweep, or added to one: the body is a picture file of the picture's size."""
    data = await request.body()

    def load() -> LoadedMask:
        made, _ = mask_files.load_mask(library, frame_id, data, sweep_id)
        flipped = mask_files.seems_flipped(library, frame_id, made)
        return LoadedMask(sweep_id=made, desk=desk_of(library, frame_id, made), seems_flipped=flipped)

    return await run_in_threadpool(load)


@router.post("/sweeps/join", operation_id="joinSweeps")
def join(library: TheLibrary, frame_id: int, body: JoinIn) -> DeskOut:
    """One sweep of several that have not been filled."""
    areas.join(library, frame_id, body.sweeps)
    return desk_of(library, frame_id)


@router.post("/sweeps/{sweep_id}/split", operation_id="splitSweep")
def split(library: TheLibrary, frame_id: int, sweep_id: str) -> DeskOut:
    """A sweep for each separate area of this one."""
    areas.split(library, frame_id, sweep_id)
    return desk_of(library, frame_id)


@router.post("/sweeps/{sweep_id}/flip", operation_id="flipMask")
def flip(library: TheLibrary, frame_id: int, sweep_id: str) -> DeskOut:
    """Mark what this sweep does not mark, and the other way round."""
    mask_files.flip(library, frame_id, sweep_id)
    return desk_of(library, frame_id, sweep_id)


@router.post("/sweeps/{sweep_id}/shapes", status_code=201, operation_id="addShapes")
def add_shapes(library: TheLibrary, frame_id: int, sweep_id: str, body: ShapesIn) -> DeskOut:
    draw.add_shapes(library, frame_id, sweep_id, body.shapes)
    return desk_of(library, frame_id, sweep_id)


@router.delete("/sweeps/{sweep_id}/shapes", operation_id="clearMark")
def clear_mark(library: TheLibrary, frame_id: int, sweep_id: str) -> DeskOut:
    draw.clear_mark(library, frame_id, sweep_id)
    return desk_of(library, frame_id)


@router.get("/sweeps/{sweep_id}/mask", response_class=Response, responses=sends("image/png"), operation_id="getMask")
def get_mask(library: TheLibrary, frame_id: int, sweep_id: str, revision: int | None = None) -> Response:
    """The mask as a PNG of the picture's size, white where it is to be replaced."""
    return Response(mask_files.mask_png(library, frame_id, sweep_id, revision), media_type="image/png")


@router.get("/sweeps/{sweep_id}/rings", operation_id="getRings")
def get_rings(
    library: TheLibrary,
    frame_id: int,
    sweep_id: str,
    revision: int | None = None,
    margin: float | None = None,
    feather: float = 0.0,
    holes: bool = False,
    crumbs: int = 0,
) -> RingsOut:
    """The outline of the mask; with a margin given, as it would be with another fit."""
    try:
        fit = None if margin is None else Fit(margin=margin, feather=feather, holes=holes, crumbs=crumbs)
    except ValidationError as error:
        raise BadRequest(str(error.errors()[0]["msg"])) from error
    return RingsOut(rings=mask_files.rings_at(library, frame_id, sweep_id, revision, fit))


@router.get("/sweeps/{sweep_id}/advice", operation_id="getAdvice")
def get_advice(library: TheLibrary, frame_id: int, sweep_id: str, revision: int | None = None) -> SecondThoughts:
    """What to think of before a mark is filled, and what seems to have been forgotten."""
    thoughts = advice.advise(library, frame_id, sweep_id, revision)
    return SecondThoughts.of(*thoughts, strays_of(library, frame_id, sweep_id, revision))


@router.post("/cling", status_code=201, operation_id="cling")
@once
def cling_to(library: TheLibrary, frame_id: int, body: ClingIn) -> Marked:
    """The thing that a careless mark means, instead of the mark itself."""
    made, _ = cling.cling_to(library, frame_id, body.shape, body.sweep_id)
    return Marked(sweep_id=made, desk=desk_of(library, frame_id, made))


@router.get("/under", operation_id="getUnder")
def get_under(
    library: TheLibrary, frame_id: int, x: Place, y: Place, size: Annotated[float, Query(ge=1, le=5_000)]
) -> RingsOut:
    """The outline of what one click of a brush takes there with Cling, people and things that scouts found first."""
    return RingsOut(rings=cling.rings_under(library, frame_id, Stroke(points=((x, y),), size=size)))


@router.get("/pieces/{size}", response_class=Response, responses=sends("image/png"), operation_id="getPieces")
def get_pieces(library: TheLibrary, frame_id: int, size: PieceSize) -> Response:
    """The picture cut into pieces, as a PNG: the number of a piece is red + 256 green + 65536 blue."""
    # A browser's canvas may change colours that have a profile or none: these are numbers, and stay what they are.
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return Response(pieces.pieces_png(library, frame_id, size), media_type="image/png", headers=headers)


@router.post("/pieces/{size}", status_code=201, operation_id="takePieces")
@once
def take_pieces(library: TheLibrary, frame_id: int, size: PieceSize, body: PiecesIn) -> Marked:
    """Some pieces, added to a sweep or taken away from it, or as a new one."""
    made, _ = pieces.take_pieces(library, frame_id, size, body.numbers, body.sweep_id, body.erase)
    return Marked(sweep_id=made, desk=desk_of(library, frame_id, made))


@router.post("/guard", status_code=201, operation_id="guard")
def guard(library: TheLibrary, frame_id: int, body: ShapesIn) -> DeskOut:
    """Guard more of the picture, or less: no mask enters it and no fill changes it."""
    guarding.guard(library, frame_id, body.shapes)
    return desk_of(library, frame_id)


@router.post("/guard/under", status_code=201, operation_id="guardUnder")
def guard_under(library: TheLibrary, frame_id: int, body: DabIn) -> DeskOut:
    """Guard the person or thing under a place of the picture, with its edge."""
    protect.protect_under(library, frame_id, Stroke(points=((body.x, body.y),), size=body.size))
    return desk_of(library, frame_id)


@router.post("/guard/subject", status_code=201, operation_id="guardSubject")
def guard_subject(library: TheLibrary, frame_id: int) -> DeskOut:
    """Guard what is sharp while the rest is not: the main subject."""
    guarding.guard_subject(library, frame_id)
    return desk_of(library, frame_id)


@router.delete("/guard", operation_id="clearGuard")
def clear_guard(library: TheLibrary, frame_id: int) -> DeskOut:
    guarding.clear_guard(library, frame_id)
    return desk_of(library, frame_id)


@router.get("/guard/rings", operation_id="getGuardRings")
def get_guard_rings(library: TheLibrary, frame_id: int, revision: int | None = None) -> RingsOut:
    """The outline of what is guarded."""
    return RingsOut(rings=guarding.guard_rings(library, frame_id, revision))
