"""Takes: how one is kept."""

from __future__ import annotations

from keen_sweep import __version__
from keen_sweep.core.errors import Cancelled
from keen_sweep.core.fill.patch import Patch, patch_to_bytes
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Take
from keen_sweep.studio.events import note


def keep_take(library: Library, frame_id: int, sweep_id: str, run_id: int, patch: Patch) -> int:
    """Keep a patch as a take of a sweep; its number. Raises Cancelled when the picture is gone."""
    name = library.files.add(patch_to_bytes(patch))
    with library.session() as session:
        frame = session.get(Frame, frame_id)
        if frame is None:
            raise Cancelled("The picture was removed meanwhile.")
        row = Take(
            frame_id=frame_id,
            sweep_id=sweep_id,
            run_id=run_id,
            patch=name,
            method=patch.method,
            seed=patch.seed,
            quality=str(patch.parameters.get("quality", "fine")),
            energy=patch.energy,
            seconds=patch.seconds,
            **patch.box.model_dump(),
            made={"engine": f"{patch.method}, Keen Sweep {__version__}", **patch.parameters},
            parts=[{**vars(part), "box": part.box.model_dump()} for part in patch.parts],
        )
        session.add(row)
        session.flush()
        assert row.id is not None
        note(session, "take", shoot=frame.shoot_id, frame=frame_id, run=run_id or None)
        return row.id
