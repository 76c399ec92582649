"""What goes over the wire, in the words of the screen."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from keen_sweep.core.box import Box
from keen_sweep.core.fill.protocol import Method, Quality
from keen_sweep.core.mask.advice import Advice
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mark import Shape
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.review.snag import Mend, SnagKind
from keen_sweep.core.scout.find import Kind
from keen_sweep.core.touch.touch import Brush, Source
from keen_sweep.store.tables import Frame, Run, Scouting, Shoot, Snag, Take
from keen_sweep.studio.advice import Proposal
from keen_sweep.studio.desk import Desk, SweepOnDesk
from keen_sweep.studio.history import Step
from keen_sweep.studio.scout import FindOnDesk

RunState = Literal["waiting", "running", "stopping", "done", "failed", "cancelled"]
SweepState = Literal["marked", "waiting", "filling", "stopping", "choose", "kept", "failed"]


class FrameOut(BaseModel):
    id: int
    shoot_id: int
    name: str
    format: Literal["jpeg", "png", "tiff"]
    width: int
    height: int
    depth: int
    revision: int
    added_at: datetime

    @classmethod
    def of(cls, frame: Frame) -> FrameOut:
        return cls.model_validate({**frame.model_dump(), "revision": frame.revision_id})


class ShootOut(BaseModel):
    id: int
    name: str
    made_at: datetime
    frames: list[FrameOut]

    @classmethod
    def of(cls, shoot: Shoot, frames: list[Frame]) -> ShootOut:
        return cls.model_validate({**shoot.model_dump(), "frames": [FrameOut.of(frame) for frame in frames]})


class ShootIn(BaseModel):
    name: str = Field(max_length=500)


class PartOut(BaseModel):
    """How one connected part was filled, and why so."""

    method: str
    why: str
    box: Box
    area: int


class TakeOut(BaseModel):
    id: int
    seed: int
    method: Method | Literal["mix", "mend"]
    quality: Quality
    seconds: float
    box: Box
    batch: int
    favourite: bool
    reviewed: bool
    parts: list[PartOut]
    made_at: datetime

    @classmethod
    def of(cls, take: Take) -> TakeOut:
        box = {"x": take.x, "y": take.y, "width": take.width, "height": take.height}
        reviewed = take.review is not None
        return cls.model_validate({**take.model_dump(), "box": box, "batch": take.run_id, "reviewed": reviewed})


class SnagOut(BaseModel):
    """A fault that the second look found in a take. strength: 0 hardly seen, 1 seen by everybody; visible: the smallest
    scale at which it can be seen, 1 for full size; mend: what one click does about it."""

    id: int
    take: int
    kind: SnagKind
    strength: float
    why: str
    visible: float
    mend: Mend
    box: Box
    dismissed: bool

    @classmethod
    def of(cls, snag: Snag) -> SnagOut:
        return cls.model_validate({**snag.model_dump(), "take": snag.take_id, "box": snag.area["box"]})


class RunOut(BaseModel):
    id: int
    frame_id: int
    sweep_id: str
    state: RunState
    progress: float
    doing: str
    seconds_left: float | None
    error: str | None

    @classmethod
    def of(cls, run: Run) -> RunOut:
        return cls.model_validate(run.model_dump())


class SweepOut(BaseModel):
    id: str
    number: int
    name: str
    method: Method
    shown: bool
    state: SweepState
    shapes: list[Shape]
    fit: Fit
    together: bool
    amount: int
    mask: str = Field(description="changes whenever the mask does")
    box: Box
    takes: list[TakeOut]
    best: int | None
    pick: int | None
    run: RunOut | None
    snags: list[SnagOut]

    @classmethod
    def of(cls, item: SweepOnDesk) -> SweepOut:
        return cls.model_validate(
            {
                **item.sweep.model_dump(include={"id", "name", "method", "shown", "together", "amount"}),
                "shapes": item.sweep.mark.shapes,
                "fit": item.sweep.mark.fit,
                "mask": item.mask,
                "number": item.number,
                "state": item.state,
                "box": item.box,
                "takes": [TakeOut.of(take) for take in item.takes],
                "best": item.best,
                "pick": item.pick,
                "run": RunOut.of(item.run) if item.run else None,
                "snags": [SnagOut.of(snag) for snag in item.snags],
            }
        )


class TouchOut(BaseModel):
    """A stroke of a touch-up brush. over: how many sweeps lie below it."""

    id: str
    brush: Brush
    box: Box
    strength: int
    shown: bool
    over: int


class TouchIn(BaseModel):
    """A stroke of a touch-up brush, its strength in per cent; clone needs a source, heal may find one by itself."""

    brush: Brush
    stroke: Stroke
    strength: int = Field(default=100, ge=1, le=100)
    source: Source | None = None


class Touched(BaseModel):
    touch_id: str
    revision: int
    source: Source | None


class TouchesIn(BaseModel):
    touches: list[str] = Field(min_length=1, max_length=2_000)


class CautionOut(BaseModel):
    """Something to point out about a stroke."""

    kind: Literal["thing", "edge", "pattern", "soft"]
    text: str


class Neighbour(BaseModel):
    id: int
    name: str


class DeskOut(BaseModel):
    frame: FrameOut
    shoot: str
    neighbours: list[Neighbour]
    revision: int
    undo: str | None
    redo: str | None
    guard: str | None = Field(description="changes whenever the guard does; null where there is none")
    sweeps: list[SweepOut]
    touches: list[TouchOut]

    @classmethod
    def of(cls, desk: Desk) -> DeskOut:
        return cls(
            frame=FrameOut.of(desk.frame),
            shoot=desk.shoot.name,
            neighbours=[Neighbour(id=number, name=name) for number, name in desk.neighbours],
            revision=desk.revision,
            undo=desk.undo,
            redo=desk.redo,
            guard=desk.guard,
            sweeps=[SweepOut.of(item) for item in desk.sweeps],
            touches=[TouchOut.model_validate({**touch.model_dump(), "over": over}) for touch, over in desk.touches],
        )


class SweepIn(BaseModel):
    shapes: list[Shape] = Field(min_length=1, max_length=1_000)
    name: str = ""


class ShapesIn(BaseModel):
    shapes: list[Shape] = Field(min_length=1, max_length=1_000)


class ClingIn(BaseModel):
    """A scribble over a thing or a loose outline round it, for a sweep or, without one, for a new one."""

    shape: Annotated[Stroke | Outline, Field(discriminator="kind")]
    sweep_id: str | None = None


class PiecesIn(BaseModel):
    numbers: list[int] = Field(min_length=1, max_length=10_000)
    sweep_id: str | None = None
    erase: bool = False


class AdviceOut(BaseModel):
    kind: Literal["tight", "guard", "large", "areas", "edge"]
    text: str
    margin: int | None = None


class ProposalOut(BaseModel):
    kind: Literal["shadow", "mirror", "rest"]
    area: Area
    rings: list[list[float]]


class SecondThoughts(BaseModel):
    """Advice on a mark, and what seems to belong to it too: proposals to take or leave."""

    advice: list[AdviceOut]
    proposals: list[ProposalOut]

    @classmethod
    def of(cls, advice: list[Advice], proposals: list[Proposal]) -> SecondThoughts:
        return cls(
            advice=[AdviceOut.model_validate(vars(each)) for each in advice],
            proposals=[ProposalOut.model_validate(vars(each)) for each in proposals],
        )


class ScoutOut(BaseModel):
    """How far a scout is with a frame, and what it looks for."""

    kind: Kind
    small: bool
    state: Literal["waiting", "running", "done", "failed"]
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
    frames: in how many frames of the shoot it sits at the same place of the sensor."""

    id: int
    kind: Kind
    name: str
    confidence: float
    reason: str
    subject: bool
    goes: bool
    box: Box
    rings: list[list[float]]
    also: dict[str, list[list[float]]]
    with_also: list[Literal["shadow", "mirror"]]
    frames: int

    @classmethod
    def of(cls, item: FindOnDesk) -> FindOut:
        seen = {"box": item.box, "rings": item.rings, "also": item.also, "frames": item.frames}
        return cls.model_validate({**item.find.model_dump(), **seen})


class ScoutsOut(BaseModel):
    scouts: list[ScoutOut]
    finds: list[FindOut]


class ScoutIn(BaseModel):
    """Which scouts are to look, all if none is named; small: far things too; again: even if they have looked."""

    kinds: list[Kind] = Field(default_factory=list)
    small: bool = False
    again: bool = False


class FindChange(BaseModel):
    """What changes about a find."""

    goes: bool | None = None
    dropped: bool | None = None
    also: list[Literal["shadow", "mirror"]] | None = None
    shapes: list[Shape] = Field(default_factory=list, max_length=1_000)


class KeepIn(BaseModel):
    """Finds that become sweeps; fill: they are filled at once, one by one; everywhere: specks, in every frame of the
    shoot that shows them at the same place of the sensor."""

    finds: list[int] = Field(min_length=1, max_length=5_000)
    fill: bool = False
    everywhere: bool = False


class ReflectionIn(BaseModel):
    """Where a reflection is looked for: in what a sweep marks, or everywhere; anyway: even if there seems none."""

    sweep_id: str | None = None
    anyway: bool = False


class ReflectionOut(BaseModel):
    """Whether there is one, in words; the sweep that takes it off; the seconds that its best version takes."""

    found: bool
    text: str
    sweep_id: str | None
    seconds: float


class Kept(BaseModel):
    """The sweeps made of finds, and in how many frames."""

    sweeps: list[str]
    frames: int


class JoinIn(BaseModel):
    sweeps: list[str] = Field(min_length=2, max_length=500)


class RingsOut(BaseModel):
    """Closed lines x, y, x, y, ... in picture pixels, to be filled by the even-odd rule."""

    rings: list[list[float]]


class Marked(BaseModel):
    sweep_id: str
    revision: int


class SweepChange(BaseModel):
    """One change to a sweep: exactly one field is given. pick 0 is as shot."""

    name: str | None = None
    method: Method | None = None
    shown: bool | None = None
    fit: Fit | None = None
    pick: int | None = None
    amount: int | None = Field(default=None, ge=0, le=100)


class MixIn(BaseModel):
    """Two takes of a sweep (0 is as shot), and where the second one shows."""

    under: int
    over: int
    shapes: list[Shape] = Field(min_length=1, max_length=1_000)


class MoveIn(BaseModel):
    """How far a sweep is moved, pixels; it is filled again where it is then."""

    across: float
    down: float


class FillIn(BaseModel):
    takes: int = Field(default=3, ge=1, le=12)
    quality: Quality = "fine"
    staged: bool = False
    seed: int | None = Field(default=None, ge=0, lt=2**31)


class StepOut(BaseModel):
    """A step of a frame's history: what was done, from which step on; on: it leads to the present one; now: it is that
    one; sweep: the one it was done to, whose place is its picture."""

    revision: int
    parent: int | None
    title: str
    made_at: datetime
    on: bool
    now: bool
    box: Box

    @classmethod
    def of(cls, step: Step) -> StepOut:
        return cls.model_validate(vars(step))


class Changed(BaseModel):
    revision: int


class Health(BaseModel):
    name: Literal["keen-sweep"] = "keen-sweep"
    version: str
    library: str
