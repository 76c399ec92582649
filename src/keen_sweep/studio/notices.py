"""Notices to another program of what is done: kept until they arrive, told with numbers alone."""

from __future__ import annotations

from datetime import datetime, timedelta
from uuid import uuid4

from pydantic import SecretStr
from sqlmodel import Session, col, delete, select

from keen_sweep.core.errors import NotFound
from keen_sweep.core.sentences import sentence
from keen_sweep.remote.address import checked_address
from keen_sweep.remote.webhook import NotTaken, new_secret, send
from keen_sweep.settings import Settings
from keen_sweep.store.keys import keys_of
from keen_sweep.store.library import Library
from keen_sweep.store.moment import now
from keen_sweep.store.tables import Notice, Run, Webhook
from keen_sweep.store.words import NoticeKind, RunState

# Delay before a notice is sent again: it doubles up to the longest.
FIRST_RETRY_DELAY = timedelta(seconds=5)
MAX_RETRY_DELAY = timedelta(hours=3)
# After this many attempts, about a day, a notice is given up.
MAX_ATTEMPTS = 18
# Number of notices that are kept for display.
MAX_LISTED_NOTICES = 200
NOTICES_BY_STATE = {RunState.DONE: NoticeKind.FILL_DONE, RunState.FAILED: NoticeKind.RUN_FAILED}


def webhook(library: Library) -> Webhook | None:
    """Where notices are sent to, if anywhere."""
    with library.session() as session:
        return session.get(Webhook, 1)


def send_to(library: Library, address: str) -> tuple[Webhook, SecretStr]:
    """Send notices to an address from now on; and the secret by which they are signed, which is told once. Raises
    BadRequest for an address that will not do."""
    place = checked_address(address)
    secret, key = new_secret(), f"webhook-{uuid4().hex}"
    keys = keys_of(Settings().keys)
    keys.put(key, secret)
    with library.session(write=True) as session:
        made = session.get(Webhook, 1) or Webhook(address=place, key=key)
        before, made.address, made.key = made.key, place, key
        session.add(made)
    if before != key:
        keys.put(before, None)
    return made, secret


def send_no_more(library: Library) -> None:
    """Nobody is told any more, nor of what has not arrived. Raises NotFound."""
    with library.session(write=True) as session:
        webhook_row = session.get(Webhook, 1)
        if webhook_row is None:
            raise NotFound(sentence("Notices are sent nowhere."))
        session.delete(webhook_row)
        for notice in session.exec(select(Notice).where(col(Notice.due_at).is_not(None))):
            notice.due_at = None
            session.add(notice)
    keys_of(Settings().keys).put(webhook_row.key, None)


def tell(session: Session, kind: NoticeKind, **facts: int | str | None) -> None:
    """Tell of something in the same transaction as it is done in, if anybody wants to know."""
    if session.get(Webhook, 1) is None:
        return
    moment = now()
    content: dict[str, object] = {"type": kind.value, "at": moment.isoformat(), **facts}
    session.add(Notice(name=f"notice_{uuid4().hex}", kind=kind, told=content, made_at=moment, due_at=moment))


def tell_of_run(session: Session, run: Run) -> None:
    """Tell of the end of a run; of one that was called off nobody has to be told."""
    if run.state in NOTICES_BY_STATE:
        tell(session, NOTICES_BY_STATE[run.state], run=run.id, frame=run.frame_id, sweep=run.sweep_id)


def try_out(library: Library) -> None:
    """Tell of nothing, to see whether it arrives. Raises NotFound when notices are sent nowhere."""
    if webhook(library) is None:
        raise NotFound(sentence("Notices are sent nowhere."))
    with library.session(write=True) as session:
        tell(session, NoticeKind.TRIED)


def notices(library: Library) -> list[Notice]:
    """The newest notices, newest first."""
    with library.session() as session:
        return list(session.exec(select(Notice).order_by(col(Notice.id).desc()).limit(MAX_LISTED_NOTICES)))


def send_due(library: Library, moment: datetime | None = None) -> int:
    """Send what is due, oldest first, until one does not arrive: the others would not either. How much of it did; what
    did not is tried again, later each time."""
    webhook_row = webhook(library)
    if webhook_row is None:
        return 0
    at = moment or now()
    with library.session() as session:
        due = session.exec(select(Notice).where(col(Notice.due_at) <= at).order_by(col(Notice.id))).all()
    arrived = 0
    for notice in due:
        why = _sent(webhook_row, notice, at)
        arrived += why is None
        with library.session(write=True) as session:
            row = session.get(Notice, notice.id)
            if row is None or row.due_at is None:
                continue
            row.attempts += 1
            row.answer = why
            row.sent_at, row.due_at = (at, None) if why is None else (None, _next(row.attempts, at))
            session.add(row)
        if why is not None:
            break
    if due:
        _forget_old(library)
    return arrived


def _sent(webhook_row: Webhook, notice: Notice, at: datetime) -> str | None:
    """Why a notice did not arrive; None if it did."""
    secret = keys_of(Settings().keys).get(webhook_row.key)
    if not secret.get_secret_value():
        return sentence("Its secret is not on this machine: set the address again.")
    try:
        send(webhook_row.address, secret, notice.name, notice.told, at)
    except NotTaken as error:
        return str(error)
    return None


def _next(attempts: int, at: datetime) -> datetime | None:
    if attempts >= MAX_ATTEMPTS:
        return None
    wait: timedelta = min(FIRST_RETRY_DELAY * 2 ** (attempts - 1), MAX_RETRY_DELAY)
    return at + wait


def _forget_old(library: Library) -> None:
    with library.session(write=True) as session:
        kept = session.exec(select(Notice.id).order_by(col(Notice.id).desc()).limit(MAX_LISTED_NOTICES)).all()
        if len(kept) == MAX_LISTED_NOTICES:
            session.exec(delete(Notice).where(col(Notice.id) < kept[-1], col(Notice.due_at).is_(None)))
