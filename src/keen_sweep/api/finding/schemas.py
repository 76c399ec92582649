"""Scouts and finds over the wire."""

from __future__ import annotations

from pydantic import BaseModel, Field

from keen_sweep.api.desk.schemas import DeskOut
from keen_sweep.core.box import Box
from keen_sweep.core.scout.found import Belonging, FindKind
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Scouting
from keen_sweep.store.words import RunState
from keen_sweep.studio.finding.ask import scoutings
from keen_sweep.studio.finding.finds import FindOnDesk, finds


class ScoutOut(BaseModel):
    """How far a scout is with a frame, and what it looks for."""

    kind: FindKind
    small: bool
    state: RunState
    progress: float
    doing: str
    error: str | None
    seconds: float | None
    looked_for: str

    @classmethod
    def of(cls, scouting: Scouting, looked_for: str) -> ScoutOut:
        return cls.model_validate({**scouting.model_dump(), "looked_for": looked_for})


class FindOut(BaseModel):
    """Something that may go. goes: it is chosen; with_also: what of its shadow and mirror image goes with it;
    frames: in how many frames of the shoot it sits at the same place of the sensor; what: of things, which kind;
    always: whether all of that kind go wherever they are found."""

    id: int
    kind: FindKind
    name: str
    confidence: float
    reason: str
    subject: bool
    goes: bool
    box: Box
    rings: list[list[float]]
    also: dict[str, list[list[float]]]
    with_also: list[Belonging]
    frames: int
    what: str
    always: bool

    @classmethod
    def of(cls, item: FindOnDesk) -> FindOut:
        seen = {"box": item.box, "rings": item.rings, "also": item.also, "frames": item.frames, "always": item.always}
        return cls.model_validate({**item.find.model_dump(), **seen})


class ScoutsOut(BaseModel):
    """How far each scout is, and the finds that are neither dropped nor kept."""

    scouts: list[ScoutOut]
    finds: list[FindOut]


def scouts_of(library: Library, frame_id: int) -> ScoutsOut:
    """The scouts and finds of a frame as they are now. Raises NotFound."""
    return ScoutsOut(
        scouts=[ScoutOut.of(*each) for each in scoutings(library, frame_id)],
        finds=[FindOut.of(each) for each in finds(library, frame_id)],
    )


class ScoutIn(BaseModel):
    """Which scouts are to look, all if none is named; small: far things too; again: even if they have looked."""

    kinds: list[FindKind] = Field(default_factory=list)
    small: bool = False
    again: bool = False


class PersonOut(BaseModel):
    """The find that a person pointed out became, and all finds since then."""

    find: int
    scouts: ScoutsOut


class KeepIn(BaseModel):
    """Finds that become sweeps; fill: they are filled at once, one by one; everywhere: specks, in every frame of the
    shoot that shows them at the same place of the sensor; belongings: with all their shadows and mirror images."""

    finds: list[int] = Field(min_length=1, max_length=5_000)
    fill: bool = False
    everywhere: bool = False
    belongings: bool = False


class KeptFinds(BaseModel):
    """The sweeps made of finds, in how many frames, and the desk since then."""

    sweeps: list[str]
    frames: int
    desk: DeskOut


class ReflectionIn(BaseModel):
    """Where a reflection is looked for: in what a sweep marks, or everywhere; anyway: even if there seems none."""

    sweep_id: str | None = None
    anyway: bool = False


class ReflectionOut(BaseModel):
    """Whether there is some, in words; the sweep that takes it off; the seconds that its best version takes; and the
    desk since then."""

    worth: bool
    text: str
    sweep_id: str | None
    seconds: float
    desk: DeskOut
