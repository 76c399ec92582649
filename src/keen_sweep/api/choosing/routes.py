"""Choosing: takes compared and picked, sweeps arranged, the second look."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from fastapi import APIRouter

from keen_sweep.api.choosing.schemas import MendOut, Mixed, MixIn, Reviewed, SnagChange, SweepChange, TakeChange
from keen_sweep.api.deps import SEEN_REVISION, TheLibrary
from keen_sweep.api.desk.schemas import DeskOut, desk_of
from keen_sweep.api.idempotency import once
from keen_sweep.api.marking.schemas import Marked
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.choosing import arrange, mend, mix, pick, review
from keen_sweep.studio.filling import sweep_method, words
from keen_sweep.studio.marking import draw

router = APIRouter(prefix="/api/frames/{frame_id}", tags=["choosing"], dependencies=[SEEN_REVISION])


def _pick(library: Library, frame_id: int, sweep_id: str, take: int | None) -> Revision:
    return pick.pick_by_hand(library, frame_id, sweep_id, take or None)


# Properties of a sweep that can be changed, with the function that changes each.
SWEEP_CHANGES: dict[str, Callable[[Library, int, str, Any], Revision]] = {
    "name": draw.rename_sweep,
    "method": sweep_method.choose_method,
    "model": sweep_method.choose_model,
    "hint": words.set_hint,
    "avoid": words.set_avoid,
    "knobs": sweep_method.set_knobs,
    "fit": draw.refit,
    "amount": arrange.set_amount,
    "shown": arrange.show,
    "pick": _pick,
    "later": arrange.reorder_sweep,
}
# Fields that may be null: no pick means as shot.
NULLABLE_FIELDS = ("pick",)


@router.patch("/sweeps/{sweep_id}", operation_id="changeSweep")
def change_sweep(library: TheLibrary, frame_id: int, sweep_id: str, body: SweepChange) -> DeskOut:
    """Change one thing of a sweep."""
    given = [name for name in body.model_fields_set if getattr(body, name) is not None or name in NULLABLE_FIELDS]
    if len(given) != 1:
        raise BadRequest(sentence("Change one property of a sweep at a time: {names}.", names=", ".join(SWEEP_CHANGES)))
    (name,) = given
    SWEEP_CHANGES[name](library, frame_id, sweep_id, getattr(body, name))
    return desk_of(library, frame_id, sweep_id if name == "fit" else None)


@router.post("/sweeps/{sweep_id}/mix", status_code=201, operation_id="mixTakes")
@once
def mix_takes(library: TheLibrary, frame_id: int, sweep_id: str, body: MixIn) -> Mixed:
    """A new take that shows one take, and another where shapes cover; it is picked."""
    made = mix.mix_takes(library, frame_id, sweep_id, body.under, body.over, body.shapes)
    return Mixed(take=made, desk=desk_of(library, frame_id))


@router.post("/sweeps/{sweep_id}/duplicate", status_code=201, operation_id="duplicateSweep")
@once
def duplicate(library: TheLibrary, frame_id: int, sweep_id: str) -> Marked:
    """The same mark once more, on top, to be filled anew."""
    made, _ = arrange.duplicate_sweep(library, frame_id, sweep_id)
    return Marked(sweep_id=made, desk=desk_of(library, frame_id))


@router.delete("/sweeps/{sweep_id}", operation_id="deleteSweep")
def delete_sweep(library: TheLibrary, frame_id: int, sweep_id: str) -> DeskOut:
    """Take the sweep out of the picture; undo brings it and its takes back."""
    arrange.delete_sweep(library, frame_id, sweep_id)
    return desk_of(library, frame_id)


@router.patch("/takes/{take_id}", operation_id="changeTake")
def change_take(library: TheLibrary, frame_id: int, take_id: int, body: TakeChange) -> DeskOut:
    """Make a take a favourite, or no longer."""
    pick.favour(library, frame_id, take_id, body.favourite)
    return desk_of(library, frame_id)


@router.post("/accept", operation_id="acceptAll")
def accept_all(library: TheLibrary, frame_id: int) -> DeskOut:
    """Pick every take that stands provisionally."""
    pick.accept_all(library, frame_id)
    return desk_of(library, frame_id)


@router.post("/sweeps/{sweep_id}/review", operation_id="review")
def review_sweep(library: TheLibrary, frame_id: int, sweep_id: str, again: bool = False) -> Reviewed:
    """Review the takes of a sweep that have not been yet, or all of them again."""
    found = review.review_sweep(library, frame_id, sweep_id, again)
    return Reviewed(snags=found, desk=desk_of(library, frame_id))


@router.patch("/snags/{snag_id}", operation_id="changeSnag")
def change_snag(library: TheLibrary, frame_id: int, snag_id: int, body: SnagChange) -> DeskOut:
    """Wave a snag through, or no longer: it is not listed again, even if the take is reviewed anew."""
    review.dismiss(library, frame_id, snag_id, body.dismissed)
    return desk_of(library, frame_id)


@router.post("/snags/{snag_id}/mend", operation_id="mendSnag")
@once
def mend_snag(library: TheLibrary, frame_id: int, snag_id: int) -> MendOut:
    """Do what a snag proposes: fill again, or make a take with its grain regrown or its tone matched."""
    done = mend.mend(library, frame_id, snag_id)
    return MendOut.model_validate({**vars(done), "desk": desk_of(library, frame_id)})


@router.post("/takes/{take_id}/mend", operation_id="mendTake")
@once
def mend_take(library: TheLibrary, frame_id: int, take_id: int) -> MendOut:
    """Do what all snags of a take propose that were not dismissed."""
    done = mend.mend_all(library, frame_id, take_id)
    return MendOut.model_validate({**vars(done), "desk": desk_of(library, frame_id)})
