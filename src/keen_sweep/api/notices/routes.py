"""Notices to another program of what is done."""

from __future__ import annotations

from fastapi import APIRouter

from keen_sweep.api.deps import TheLibrary
from keen_sweep.api.notices.schemas import NoticeOut, NoticesOut, WebhookIn, WebhookMade
from keen_sweep.studio import notices

router = APIRouter(prefix="/api/notices", tags=["notices"])


@router.get("", operation_id="listNotices")
def list_notices(library: TheLibrary) -> NoticesOut:
    """Where notices are sent to, and the newest of them."""
    hook = notices.webhook(library)
    newest = [NoticeOut.of(each) for each in notices.notices(library)]
    return NoticesOut(address=None if hook is None else hook.address, newest=newest)


@router.put("", operation_id="sendNotices")
def send_notices(library: TheLibrary, body: WebhookIn) -> WebhookMade:
    """Send notices to an address, instead of where they were sent before."""
    made, secret = notices.send_to(library, body.address)
    return WebhookMade(address=made.address, secret=secret.get_secret_value())


@router.delete("", status_code=204, operation_id="sendNoNotices")
def send_no_notices(library: TheLibrary) -> None:
    """Tell nobody any more."""
    notices.send_no_more(library)


@router.post("/try", status_code=204, operation_id="tryNotices")
def try_notices(library: TheLibrary) -> None:
    """Send a notice of nothing, to see whether it arrives."""
    notices.try_out(library)
