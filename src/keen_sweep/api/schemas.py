"""What goes over the wire, in the words of the screen."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, SecretStr

from keen_sweep.core.box import Box
from keen_sweep.core.errors import Remedy
from keen_sweep.core.fill.model.port import Knobs
from keen_sweep.core.fill.protocol import Method, Quality
from keen_sweep.core.mask.advice import Advice
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mark import Shape
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.review.snag import Mend, SnagKind
from keen_sweep.core.scout.find import Kind
from keen_sweep.core.stack import Ground
from keen_sweep.core.touch.touch import Brush, Source
from keen_sweep.store.states import RunState
from keen_sweep.store.tables import Frame, RegisteredModel, Run, Scouting, Shoot, Snag, Take
from keen_sweep.studio.advice import Proposal
from keen_sweep.studio.desk import Desk, SweepOnDesk
from keen_sweep.studio.history import Step
from keen_sweep.studio.models import ModelKind
from keen_sweep.studio.quote import Quoted
from keen_sweep.studio.scout import FindOnDesk

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
    budget: float | None
    spent: float
    frames: list[FrameOut]

    @classmethod
    def of(cls, shoot: Shoot, frames: list[Frame], spent: float = 0.0) -> ShootOut:
        seen = {"frames": [FrameOut.of(frame) for frame in frames], "spent": spent}
        return cls.model_validate({**shoot.model_dump(), **seen})


class ShootIn(BaseModel):
    name: str = Field(max_length=500)


class BudgetIn(BaseModel):
    """Credits that services may cost for a shoot; null for no limit."""

    credits: float | None = Field(ge=0, le=1_000_000)


class ModelIn(BaseModel):
    name: str = Field(max_length=500)
    kind: ModelKind
    place: str = Field(max_length=2_000)


class ModelChange(BaseModel):
    """What changes about a model; a limit of 0 is none."""

    name: str | None = Field(default=None, max_length=500)
    place: str | None = Field(default=None, max_length=2_000)
    largest: int | None = Field(default=None, ge=0, le=8192)
    most_credits: float | None = Field(default=None, ge=0, le=1_000_000)
    for_auto: bool | None = None


class KeyIn(BaseModel):
    key: SecretStr = Field(max_length=2_000)


class ModelOut(BaseModel):
    """A registered model. has_key: a key is kept for it; trial: what came back when it was tried; left: its credits."""

    id: int
    name: str
    kind: ModelKind
    place: str
    largest: int | None
    most_credits: float | None
    for_auto: bool
    has_key: bool
    trial: str | None
    trial_good: bool | None
    tried_at: datetime | None
    left: float | None

    @classmethod
    def of(cls, row: RegisteredModel, has_key: bool) -> ModelOut:
        return cls.model_validate({**row.model_dump(exclude={"key"}), "has_key": has_key})


class WordsOut(BaseModel):
    """Words that were used before, the latest first."""

    hints: list[str]
    avoids: list[str]


class SaidOut(BaseModel):
    """What there is to say of words; empty if they are understood."""

    text: str


class QuoteOut(BaseModel):
    """What a fill means before it is made. model: the one that would be asked, null for the local engines; seconds and
    limits are null where they are not known or not there; problem: what stands in the way."""

    model: str | None
    service: bool
    why: str
    paintings: int
    credits: float
    seconds: float | None
    left: float | None
    budget_left: float | None
    problem: str | None
    remedy: Remedy | None

    @classmethod
    def of(cls, quoted: Quoted) -> QuoteOut:
        return cls.model_validate({**vars(quoted), **vars(quoted.cost)})


class MadeOut(BaseModel):
    """The ledger of a take: its engine, the model and its hash or service, words, knobs, what it cost, and why it was
    made so."""

    engine: str = ""
    model: str | None = None
    sha256: str | None = None
    service: str | None = None
    hint: str = ""
    avoid: str = ""
    knobs: Knobs | None = None
    credits: float = 0.0
    why: str = ""

    @classmethod
    def of(cls, made: dict[str, Any]) -> MadeOut:
        model = made.get("model") or {}
        told = {"model": model.get("name"), "sha256": model.get("sha256"), "service": model.get("service")}
        return cls.model_validate({**made, **told})


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
    made: MadeOut
    parts: list[PartOut]
    made_at: datetime

    @classmethod
    def of(cls, take: Take) -> TakeOut:
        box = {"x": take.x, "y": take.y, "width": take.width, "height": take.height}
        reviewed = take.review is not None
        seen = {"box": box, "batch": take.run_id, "reviewed": reviewed, "made": MadeOut.of(take.made)}
        return cls.model_validate({**take.model_dump(), **seen})


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
    remedy: Remedy | None

    @classmethod
    def of(cls, run: Run) -> RunOut:
        return cls.model_validate(run.model_dump())


SAME_IN_BOTH = ("id", "name", "method", "model", "hint", "avoid", "ground", "knobs", "shown", "together", "amount")


class SweepOut(BaseModel):
    id: str
    number: int
    name: str
    method: Method
    model: int | None
    hint: str
    avoid: str
    ground: Ground | None
    knobs: Knobs
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
                **item.sweep.model_dump(include={*SAME_IN_BOTH}),
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
    kind: Literal["tight", "gap", "guard", "large", "areas", "edge"]
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
    model: int | None = None
    hint: str | None = Field(default=None, max_length=300)
    avoid: str | None = Field(default=None, max_length=300)
    knobs: Knobs | None = None


class GroundIn(BaseModel):
    """The patch to draw from, of this frame or a sister; null for wherever it fits."""

    ground: Ground | None


class MixIn(BaseModel):
    """Two takes of a sweep (0 is as shot), and where the second one shows."""

    under: int
    over: int
    shapes: list[Shape] = Field(min_length=1, max_length=1_000)


class MoveIn(BaseModel):
    """How far a sweep is moved, pixels; it is filled again where it is then."""

    across: float
    down: float


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
