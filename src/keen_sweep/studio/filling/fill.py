"""A fill, as it is asked for."""

from __future__ import annotations

from pydantic import BaseModel, Field

from keen_sweep.core.fill.method import Method, Quality


class Fill(BaseModel):
    """How to fill: one value from the key that is pressed to the worker. seed: of the first take, or the next that is
    free; staged: a long mark section by section; credits: how many a service may take, as it was quoted; without them
    none is asked; pick: the first take is picked as it comes."""

    takes: int = Field(default=3, ge=1, le=12)
    quality: Quality = Quality.FINE
    staged: bool = False
    seed: int | None = Field(default=None, ge=0, lt=2**31)
    credits: float = Field(default=0.0, ge=0, le=1_000_000)
    pick: bool = False


DEFAULT_FILL = Fill()


class FillRequest(Fill):
    """A fill that was asked for, kept with its run: the revision that was shown then, the sweep's method, and under
    which consent a service may be paid: the runs of separate areas share one."""

    revision: int
    method: Method = Method.AUTO
    consent: str = ""
