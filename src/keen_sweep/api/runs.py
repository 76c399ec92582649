"""Runs of the queue."""

from __future__ import annotations

from fastapi import APIRouter

from keen_sweep.api.deps import TheLibrary
from keen_sweep.api.schemas import RunOut
from keen_sweep.studio import fill

router = APIRouter(prefix="/api/runs", tags=["runs"])


@router.post("/{run_id}/cancel", operation_id="cancelRun")
def cancel(library: TheLibrary, run_id: int) -> RunOut:
    """Stop a run; takes that are ready stay."""
    return RunOut.of(fill.cancel(library, run_id))
