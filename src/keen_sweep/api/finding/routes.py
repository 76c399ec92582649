"""Scouts of a frame and their finds."""

from __future__ import annotations

from fastapi import APIRouter

from keen_sweep.api.deps import SEEN_REVISION, TheLibrary
from keen_sweep.api.desk.schemas import DeskOut, desk_of
from keen_sweep.api.finding.schemas import (
    KeepIn,
    KeptFinds,
    PersonOut,
    ReflectionIn,
    ReflectionOut,
    ScoutIn,
    ScoutsOut,
    scouts_of,
)
from keen_sweep.core.box import Box
from keen_sweep.core.scout.scouts import ALL_KINDS
from keen_sweep.studio.finding import ask, finds, keep, person, protect, reflection
from keen_sweep.studio.finding.finds import FindChange

router = APIRouter(prefix="/api/frames/{frame_id}", tags=["scouts"], dependencies=[SEEN_REVISION])


@router.get("/scouts", operation_id="getScouts")
def get_scouts(library: TheLibrary, frame_id: int) -> ScoutsOut:
    """How far each scout is, and the finds that are neither dropped nor kept."""
    return scouts_of(library, frame_id)


@router.post("/scouts", status_code=202, operation_id="askScouts")
def ask_scouts(library: TheLibrary, frame_id: int, body: ScoutIn) -> ScoutsOut:
    """Let scouts look, each kind once unless asked again; they give way to painting and fills."""
    ask.ask_scouts(library, frame_id, body.kinds or ALL_KINDS, body.small, body.again)
    return scouts_of(library, frame_id)


@router.post("/scouts/person", status_code=201, operation_id="findPerson")
def find_person(library: TheLibrary, frame_id: int, body: Box) -> PersonOut:
    """Whoever is in a box drawn by hand, as a find."""
    found = person.person_in_box(library, frame_id, body)
    return PersonOut(find=found.id, scouts=scouts_of(library, frame_id))


@router.post("/reflection", status_code=201, operation_id="seekReflection")
def seek_reflection(library: TheLibrary, frame_id: int, body: ReflectionIn) -> ReflectionOut:
    """Whether glass adds light to the picture, or to what a sweep marks; if so, a sweep that takes it off."""
    answer = reflection.seek_reflection(library, frame_id, body.sweep_id, body.anyway)
    return ReflectionOut.model_validate({**vars(answer), "desk": desk_of(library, frame_id)})


@router.patch("/finds/{find_id}", operation_id="changeFind")
def change_find(library: TheLibrary, frame_id: int, find_id: int, body: FindChange) -> ScoutsOut:
    """Choose or drop a find, let its shadow go with it, add to its mask or take away."""
    finds.change_find(library, frame_id, find_id, body)
    return scouts_of(library, frame_id)


@router.post("/finds/{find_id}/protect", status_code=201, operation_id="protectFind")
def protect_find(library: TheLibrary, frame_id: int, find_id: int) -> DeskOut:
    """Guard a find with its edge: no mask, margin or fill enters it."""
    protect.protect(library, frame_id, find_id)
    return desk_of(library, frame_id)


@router.post("/finds/keep", status_code=201, operation_id="keepFinds")
def keep_finds(library: TheLibrary, frame_id: int, body: KeepIn) -> KeptFinds:
    """Finds become sweeps, in one step that can be undone; with fill they all wait to be filled, or none is kept."""
    made = keep.keep(library, frame_id, body.finds, body.everywhere, body.fill, body.belongings)
    return KeptFinds(sweeps=made[frame_id], frames=len(made), desk=desk_of(library, frame_id))
