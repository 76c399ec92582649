"""Scouts of a frame and their finds."""

from __future__ import annotations

from fastapi import APIRouter

from keen_sweep.api.deps import TheLibrary, TheOriginals
from keen_sweep.api.schemas import (
    FindChange,
    FindOut,
    KeepIn,
    Kept,
    ReflectionIn,
    ReflectionOut,
    ScoutIn,
    ScoutOut,
    ScoutsOut,
)
from keen_sweep.core.box import Box
from keen_sweep.core.scout.scouts import KINDS
from keen_sweep.studio import keep, reflection, scout

router = APIRouter(prefix="/api/frames/{frame_id}", tags=["scouts"])


@router.get("/scouts", operation_id="getScouts")
def get_scouts(library: TheLibrary, frame_id: int) -> ScoutsOut:
    """How far each scout is, and the finds that are neither dropped nor kept."""
    told = scout.scoutings(library, frame_id)
    found = scout.finds(library, frame_id)
    return ScoutsOut(scouts=[ScoutOut.of(*each) for each in told], finds=[FindOut.of(each) for each in found])


@router.post("/scouts", status_code=202, operation_id="askScouts")
def ask_scouts(library: TheLibrary, frame_id: int, body: ScoutIn) -> list[ScoutOut]:
    """Let scouts look, each kind once unless asked again; they give way to painting and fills."""
    scout.ask_scouts(library, frame_id, body.kinds or KINDS, body.small, body.again)
    return [ScoutOut.of(*each) for each in scout.scoutings(library, frame_id)]


@router.post("/scouts/person", status_code=201, operation_id="findPerson")
def find_person(library: TheLibrary, originals: TheOriginals, frame_id: int, body: Box) -> int:
    """Whoever is in a box drawn by hand, as a find; its number."""
    return scout.person_in_box(library, originals, frame_id, body).id or 0


@router.post("/reflection", status_code=201, operation_id="seekReflection")
def seek_reflection(library: TheLibrary, originals: TheOriginals, frame_id: int, body: ReflectionIn) -> ReflectionOut:
    """Whether glass adds light to the picture, or to what a sweep marks; if so, a sweep that takes it off."""
    answer = reflection.seek_reflection(library, originals, frame_id, body.sweep_id, body.anyway)
    return ReflectionOut.model_validate(vars(answer))


@router.patch("/finds/{find_id}", status_code=204, operation_id="changeFind")
def change_find(library: TheLibrary, frame_id: int, find_id: int, body: FindChange) -> None:
    """Choose or drop a find, let its shadow go with it, add to its mask or take away."""
    scout.change_find(library, frame_id, find_id, body.goes, body.dropped, body.also, body.shapes)


@router.post("/finds/keep", status_code=201, operation_id="keepFinds")
def keep_finds(library: TheLibrary, frame_id: int, body: KeepIn) -> Kept:
    """Finds become sweeps, in one step that can be undone; with fill they all wait to be filled, or none is kept."""
    made = keep.keep(library, frame_id, body.finds, body.everywhere, body.fill)
    return Kept(sweeps=made[frame_id], frames=len(made))
