"""Sweeps of a frame: marking, filling, choosing."""

from __future__ import annotations

from fastapi import APIRouter, Response

from keen_sweep.api.deps import TheLibrary
from keen_sweep.api.schemas import Changed, FillIn, Marked, RunOut, StrokesIn, SweepChange, SweepIn
from keen_sweep.core.errors import BadRequest
from keen_sweep.store.tables import Revision
from keen_sweep.studio import choose, fill, mark

router = APIRouter(prefix="/api/frames/{frame_id}/sweeps", tags=["sweeps"])


@router.post("", status_code=201, operation_id="newSweep")
def new_sweep(library: TheLibrary, frame_id: int, body: SweepIn) -> Marked:
    """A new sweep from strokes in picture pixels."""
    sweep_id, revision = mark.new_sweep(library, frame_id, body.strokes, body.name)
    return Marked(sweep_id=sweep_id, revision=revision.id or 0)


@router.post("/{sweep_id}/strokes", status_code=201, operation_id="addStrokes")
def add_strokes(library: TheLibrary, frame_id: int, sweep_id: str, body: StrokesIn) -> Changed:
    return _changed(mark.add_strokes(library, frame_id, sweep_id, body.strokes))


@router.delete("/{sweep_id}/strokes", operation_id="clearMark")
def clear_mark(library: TheLibrary, frame_id: int, sweep_id: str) -> Changed:
    return _changed(mark.clear_mark(library, frame_id, sweep_id))


@router.get("/{sweep_id}/mask", response_class=Response, operation_id="getMask")
def get_mask(library: TheLibrary, frame_id: int, sweep_id: str, revision: int | None = None) -> Response:
    """The mask as a PNG of the picture's size, white where it is to be replaced."""
    return Response(mark.mask_of(library, frame_id, sweep_id, revision), media_type="image/png")


@router.patch("/{sweep_id}", operation_id="changeSweep")
def change_sweep(library: TheLibrary, frame_id: int, sweep_id: str, body: SweepChange) -> Changed:
    """Rename, switch on or off, choose the method, or pick a take (0 is as shot): one at a time."""
    given = body.model_dump(exclude_none=True)
    if len(given) != 1:
        raise BadRequest("Change one thing of a sweep at a time: its name, method, pick, or whether it shows.")
    if body.name is not None:
        return _changed(mark.rename_sweep(library, frame_id, sweep_id, body.name))
    if body.method is not None:
        return _changed(choose.choose_method(library, frame_id, sweep_id, body.method))
    if body.shown is not None:
        return _changed(choose.show(library, frame_id, sweep_id, body.shown))
    return _changed(choose.pick(library, frame_id, sweep_id, body.pick or None))


@router.delete("/{sweep_id}", operation_id="deleteSweep")
def delete_sweep(library: TheLibrary, frame_id: int, sweep_id: str) -> Changed:
    """Take the sweep out of the picture; undo brings it and its takes back."""
    return _changed(choose.delete_sweep(library, frame_id, sweep_id))


@router.post("/{sweep_id}/fill", status_code=202, operation_id="fill")
def ask_fill(library: TheLibrary, frame_id: int, sweep_id: str, body: FillIn) -> RunOut:
    """Queue takes of this sweep; those that are there already stay. staged: a long one section by section."""
    run = fill.ask_fill(library, frame_id, sweep_id, body.takes, body.quality, body.seed, body.staged)
    return RunOut.of(run)


def _changed(revision: Revision) -> Changed:
    return Changed(revision=revision.id or 0)
