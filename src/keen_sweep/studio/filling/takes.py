"""Takes: how one is kept, and those of a sweep."""

from __future__ import annotations

from dataclasses import dataclass

from sqlmodel import Session, col, select

from keen_sweep import __version__
from keen_sweep.core.errors import Cancelled, NotFound
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import Patch, patch_to_bytes
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Take
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.provisional import let_stand


@dataclass(frozen=True)
class MadeFor:
    """What a take is made for, all of which may be others by now: the version of the picture by its content hash, and
    the patches that are seen below it. mark: of a run, the digest of its sweep's mark: the take may stand until one is
    picked."""

    original: str
    below: dict[str, str] | None = None
    mark: str | None = None


def takes_of(library: Library, sweep_id: str) -> list[Take]:
    """The takes of a sweep in the order they were made."""
    with library.session() as session:
        return list(session.exec(select(Take).where(Take.sweep_id == sweep_id).order_by(col(Take.id))))


def take_by(session: Session, take_id: int) -> Take:
    """A take by its number. Raises NotFound."""
    take = session.get(Take, take_id)
    if take is None:
        raise NotFound(sentence("This take no longer exists."))
    return take


def keep_take(
    library: Library,
    frame_id: int,
    sweep_id: str,
    run_id: int,
    patch: Patch,
    made_for: MadeFor | None = None,
) -> int:
    """Keep a patch as a take of a sweep, made for the present version if nothing else is said; its number. Raises
    Cancelled when the picture is gone."""
    name = library.files.add(patch_to_bytes(patch))
    # Laid again, it is still of the version that made it.
    provenance = patch.provenance.but(engine=patch.provenance.engine or f"{patch.method}, Keen Sweep {__version__}")
    with library.session() as session:
        frame = session.get(Frame, frame_id)
        if frame is None:
            raise Cancelled(sentence("The picture has been removed."))
        row = Take(
            frame_id=frame_id,
            sweep_id=sweep_id,
            run_id=run_id,
            patch=name,
            original=made_for.original if made_for is not None else frame.original,
            method=MadeBy(patch.method),
            seed=patch.seed,
            quality=provenance.quality,
            energy=patch.energy,
            seconds=patch.seconds,
            **patch.box.model_dump(),
            made=provenance.as_json(),
            below=made_for.below if made_for is not None else None,
            parts=[{**vars(part), "box": part.box.model_dump()} for part in patch.parts],
        )
        session.add(row)
        session.flush()
        if made_for is not None and made_for.mark is not None:
            let_stand(session, row, made_for.mark)
        note(session, EventKind.TAKE, shoot=frame.shoot_id, frame=frame_id, run=run_id or None)
        return row.id
