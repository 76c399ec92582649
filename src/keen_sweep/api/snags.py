"""The second look: review takes, dismiss snags, mend them."""

from __future__ import annotations

from fastapi import APIRouter

from keen_sweep.api.deps import TheLibrary, TheOriginals
from keen_sweep.studio import choose, review
from keen_sweep.studio.review import Mended

router = APIRouter(prefix="/api/frames/{frame_id}", tags=["second look"])


@router.post("/sweeps/{sweep_id}/review", operation_id="review")
def review_sweep(
    library: TheLibrary, originals: TheOriginals, frame_id: int, sweep_id: str, again: bool = False
) -> int:
    """Review the takes of a sweep that have not been yet, or all of them again; how many snags were found."""
    return review.review_sweep(library, originals, frame_id, sweep_id, again)


@router.post("/snags/{snag_id}/dismiss", status_code=204, operation_id="dismissSnag")
def dismiss(library: TheLibrary, frame_id: int, snag_id: int, dismissed: bool = True) -> None:
    """Wave a snag through: it is not listed again, even if the take is reviewed anew."""
    review.dismiss(library, frame_id, snag_id, dismissed)


@router.post("/snags/{snag_id}/mend", operation_id="mendSnag")
def mend(library: TheLibrary, originals: TheOriginals, frame_id: int, snag_id: int) -> Mended:
    """Do what a snag proposes: fill again, or make a take with its grain regrown or its tone evened out."""
    return review.mend(library, originals, frame_id, snag_id)


@router.post("/takes/{take_id}/favourite", status_code=204, operation_id="favourTake")
def favour(library: TheLibrary, frame_id: int, take_id: int, favourite: bool) -> None:
    choose.favour(library, frame_id, take_id, favourite)
