"""Deliver frames, and show their ledgers."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Query, Response
from fastapi.responses import StreamingResponse

from keen_sweep.api.delivering.schemas import (
    MAX_FRAMES,
    FilesOut,
    IntoIn,
    LastTime,
    MadeIn,
    NamedOut,
    NamesIn,
    WantedQuery,
    ZipQuery,
)
from keen_sweep.api.deps import TheLibrary
from keen_sweep.api.media import sends
from keen_sweep.core.deliver.ledger import Ledger
from keen_sweep.core.deliver.ledger_pages import as_csv, as_page
from keen_sweep.studio.delivering import into
from keen_sweep.studio.delivering.deliver import MEDIA_TYPES, Place, deliver, handed_over
from keen_sweep.studio.delivering.ledger import ledger_of, ledgers_of
from keen_sweep.studio.delivering.wanted import Wanted

router = APIRouter(prefix="/api", tags=["deliver"])
Frames = Annotated[list[int], Query(min_length=1, max_length=MAX_FRAMES)]
Title = Annotated[str, Query(max_length=300)]


@router.get(
    "/frames/{frame_id}/delivery",
    response_class=Response,
    responses=sends(*MEDIA_TYPES.values()),
    operation_id="getDelivery",
)
def get_delivery(library: TheLibrary, frame_id: int, asked: Annotated[WantedQuery, Query()]) -> Response:
    """The picture at full size with all picks, as a file. Nothing is noted of it: see noteDeliveries."""
    wanted = Wanted.model_validate(asked.model_dump(exclude={"revision"}))
    made = deliver(library, frame_id, wanted, asked.revision)
    return Response(made.data, media_type=made.media_type, headers=_attached(made.name.rsplit("/", 1)[-1]))


@router.get(
    "/deliveries/zip", response_class=StreamingResponse, responses=sends("application/zip"), operation_id="getZip"
)
def get_zip(library: TheLibrary, asked: Annotated[ZipQuery, Query()]) -> StreamingResponse:
    """The files of some frames as one ZIP; what cannot be delivered is named in NOT DELIVERED.txt in it."""
    wanted = Wanted.model_validate(asked.model_dump(exclude={"frames"}))
    pieces = into.zipped(library, asked.frames, wanted)
    return StreamingResponse(pieces, media_type="application/zip", headers=_attached("swept.zip"))


@router.post("/deliveries/made", status_code=204, operation_id="noteDeliveries")
def note_deliveries(library: TheLibrary, body: MadeIn) -> None:
    """These frames were handed over as they are now: whoever fetches a file says so when it is kept."""
    for frame in body.frames:
        handed_over(library, frame)


@router.post("/deliveries/names", operation_id="nameDeliveries")
def name_deliveries(library: TheLibrary, body: NamesIn) -> list[NamedOut]:
    """The names that files will have, and which of them are there already."""
    return [NamedOut(**vars(each)) for each in into.names_of(library, body.frames, body.wanted, body.folder)]


@router.post("/frames/{frame_id}/delivery", status_code=201, operation_id="deliverInto")
def deliver_into(library: TheLibrary, frame_id: int, body: IntoIn) -> FilesOut:
    """Write a frame's file into a folder of this machine."""
    place = Place(body.number, body.count)
    files = into.deliver_into(library, frame_id, body.wanted, body.folder, place, body.over)
    return FilesOut(files=[str(file) for file in files])


@router.get("/shoots/{shoot_id}/delivery", operation_id="showLastDelivery")
def show_last_delivery(library: TheLibrary, shoot_id: int) -> LastTime | None:
    """How a shoot was delivered last; null if it was not."""
    found = into.last_time(library, shoot_id)
    return None if found is None else LastTime(wanted=found[0], folder=found[1])


@router.put("/shoots/{shoot_id}/delivery", status_code=204, operation_id="rememberDelivery")
def remember_delivery(library: TheLibrary, shoot_id: int, body: LastTime) -> None:
    """Keep how a shoot was delivered, to be repeated."""
    into.remember(library, shoot_id, body.wanted, body.folder)


@router.get("/frames/{frame_id}/ledger", operation_id="showLedger")
def show_ledger(library: TheLibrary, frame_id: int) -> Ledger:
    """What in a frame is not as shot, and how it was made."""
    return ledger_of(library, frame_id)


@router.get("/ledger.csv", response_class=Response, responses=sends("text/csv"), operation_id="getLedgerCsv")
def get_ledger_csv(library: TheLibrary, frames: Frames) -> Response:
    """The ledgers of some frames for a spreadsheet."""
    text = as_csv(ledgers_of(library, frames))
    return Response(text, media_type="text/csv; charset=utf-8", headers=_attached("ledger.csv"))


@router.get("/ledger.html", response_class=Response, responses=sends("text/html"), operation_id="getLedgerPage")
def get_ledger_page(library: TheLibrary, frames: Frames, title: Title = "Ledger") -> Response:
    """The ledgers of some frames as a page to print."""
    page = as_page(ledgers_of(library, frames), title, datetime.now().date())
    return Response(page, media_type="text/html; charset=utf-8")


def _attached(name: str) -> dict[str, str]:
    return {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
