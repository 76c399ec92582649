"""Help with marking: cling, pieces, the guard."""

from __future__ import annotations

from fastapi import APIRouter, Response

from keen_sweep.api.deps import TheLibrary, TheOriginals, ThePieces
from keen_sweep.api.schemas import Changed, ClingIn, Marked, PiecesIn, RingsOut, SecondThoughts, ShapesIn
from keen_sweep.core.mask.pieces import Grain
from keen_sweep.studio import advice, cling, mark

router = APIRouter(prefix="/api/frames/{frame_id}", tags=["marking"])


@router.post("/cling", status_code=201, operation_id="cling")
def cling_to(library: TheLibrary, originals: TheOriginals, frame_id: int, body: ClingIn) -> Marked:
    """The thing that a careless mark means, instead of the mark itself."""
    made, revision = cling.cling_to(library, originals, frame_id, body.shape, body.sweep_id)
    return Marked(sweep_id=made, revision=revision.id or 0)


@router.get("/sweeps/{sweep_id}/advice", operation_id="getAdvice")
def get_advice(
    library: TheLibrary, originals: TheOriginals, frame_id: int, sweep_id: str, revision: int | None = None
) -> SecondThoughts:
    """What to think of before a mark is filled, and what seems to have been forgotten."""
    return SecondThoughts.of(*advice.advise(library, originals, frame_id, sweep_id, revision))


@router.get("/pieces/{grain}", response_class=Response, operation_id="getPieces")
def get_pieces(library: TheLibrary, pieces: ThePieces, frame_id: int, grain: Grain) -> Response:
    """The picture cut into pieces, as a PNG: the number of a piece is red + 256 green + 65536 blue."""
    # A browser's canvas may change colours that have a profile or none: these are numbers, and stay what they are.
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return Response(cling.pieces_png(library, pieces, frame_id, grain), media_type="image/png", headers=headers)


@router.post("/pieces/{grain}", status_code=201, operation_id="takePieces")
def take_pieces(library: TheLibrary, pieces: ThePieces, frame_id: int, grain: Grain, body: PiecesIn) -> Marked:
    """Some pieces, added to a sweep or taken away from it, or as a new one."""
    made, revision = cling.take_pieces(library, pieces, frame_id, grain, body.numbers, body.sweep_id, body.erase)
    return Marked(sweep_id=made, revision=revision.id or 0)


@router.post("/guard", status_code=201, operation_id="guard")
def guard(library: TheLibrary, frame_id: int, body: ShapesIn) -> Changed:
    """Guard more of the picture, or less: no mask enters it and no fill changes it."""
    return Changed(revision=mark.guard(library, frame_id, body.shapes).id or 0)


@router.post("/guard/subject", status_code=201, operation_id="guardSubject")
def guard_subject(library: TheLibrary, originals: TheOriginals, frame_id: int) -> Changed:
    """Guard what is sharp while the rest is not: the main subject."""
    return Changed(revision=cling.guard_subject(library, originals, frame_id).id or 0)


@router.delete("/guard", operation_id="clearGuard")
def clear_guard(library: TheLibrary, frame_id: int) -> Changed:
    return Changed(revision=mark.clear_guard(library, frame_id).id or 0)


@router.get("/guard/rings", operation_id="getGuardRings")
def get_guard_rings(library: TheLibrary, frame_id: int, revision: int | None = None) -> RingsOut:
    """The outline of what is guarded."""
    return RingsOut(rings=mark.guard_rings(library, frame_id, revision))
