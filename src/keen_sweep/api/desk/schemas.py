"""The desk over the wire: what is seen of a frame, and what every edit answers with."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field

from keen_sweep.core.box import Box
from keen_sweep.core.errors import Remedy
from keen_sweep.core.fill.lead import LeadLine
from keen_sweep.core.fill.method import MadeBy, Method, Quality
from keen_sweep.core.fill.model.port import Knobs, ModelFacts
from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.photo.picture import Format
from keen_sweep.core.review.snag import Grading, Mend, SnagKind
from keen_sweep.core.touch.dab import Brush
from keen_sweep.document.stack import Ground
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Run, Snag, Take
from keen_sweep.store.words import RunState
from keen_sweep.studio.desk import Desk, SweepOnDesk, SweepState, desk
from keen_sweep.studio.history import Step
from keen_sweep.studio.marking.mask_files import rings_at


class FrameOut(BaseModel):
    id: int
    shoot_id: int
    name: str
    format: Format
    width: int
    height: int
    depth: int
    revision: int
    provisional: int = Field(description="grows whenever other takes stand provisionally; for addresses of pictures")
    added_at: datetime

    @classmethod
    def of(cls, frame: Frame) -> FrameOut:
        return cls.model_validate({**frame.model_dump(), "revision": frame.revision_id})


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
    sisters: list[str] = Field(default=[], description="the frames that true pixels were borrowed from")
    borrowed: float = Field(default=0.0, description="the share of it that they make up")

    @classmethod
    def of(cls, provenance: Provenance) -> MadeOut:
        model = provenance.model or ModelFacts()
        return cls(
            engine=provenance.engine,
            model=model.name or None,
            sha256=model.sha256,
            service=model.service,
            hint=provenance.hint,
            avoid=provenance.avoid,
            knobs=provenance.knobs,
            credits=provenance.credits,
            why=provenance.why,
            sisters=list(provenance.sisters),
            borrowed=provenance.borrowed or 0.0,
        )


class PartOut(BaseModel):
    """How one connected part was filled, and why so. method: a method's name, or several joined by " + "."""

    method: str
    why: str
    box: Box
    area: int


class TakeOut(BaseModel):
    id: int
    seed: int
    method: MadeBy
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
        seen = {"box": box, "batch": take.run_id, "reviewed": reviewed, "made": MadeOut.of(take.provenance)}
        return cls.model_validate({**take.model_dump(), **seen})


class SnagOut(BaseModel):
    """A fault that the second look found in a take. strength: 0 hardly seen, 1 seen by everybody; visible: the smallest
    scale at which it can be seen, 1 for full size; grading: what must be done to the picture for it to show, null if
    it shows as it is; mend: what one click does about it."""

    id: int
    take: int
    kind: SnagKind
    strength: float
    why: str
    visible: float
    grading: Grading | None
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


COPIED_FIELDS = {
    "id", "name", "method", "model", "hint", "avoid", "ground", "lead", "knobs", "shown", "together", "amount",
}  # fmt: skip


class CarriedOut(BaseModel):
    """The frame a sweep was carried over from, and how sure it is that it landed on the thing."""

    frame: int
    name: str
    confidence: float
    doubtful: bool


class SweepOut(BaseModel):
    """A sweep. shapes: of how many its mark is made; pick: the take that the photographer picked; standing: the take
    that shows; provisional: nobody picked that one, it is the best of the first fill;
    below_changed: that one was filled on other takes than are seen below it now."""

    id: str
    number: int
    name: str
    method: Method
    model: int | None
    hint: str
    avoid: str
    ground: Ground | None
    lead: list[LeadLine]
    knobs: Knobs
    shown: bool
    state: SweepState
    shapes: int
    fit: Fit
    together: bool
    amount: int
    mask: str = Field(description="changes whenever the mask does")
    box: Box
    takes: list[TakeOut]
    best: int | None
    pick: int | None
    standing: int | None
    provisional: bool
    run: RunOut | None
    snags: list[SnagOut]
    carried: CarriedOut | None
    below_changed: bool

    @classmethod
    def of(cls, item: SweepOnDesk) -> SweepOut:
        return cls.model_validate(
            {
                **item.sweep.model_dump(include=COPIED_FIELDS),
                "shapes": len(item.sweep.mark.shapes),
                "fit": item.sweep.mark.fit,
                "mask": item.mask,
                "number": item.number,
                "state": item.state,
                "box": item.box,
                "takes": [TakeOut.of(take) for take in item.takes],
                "best": item.best,
                "pick": item.pick,
                "standing": item.standing,
                "provisional": item.sweep.provisional,
                "run": RunOut.of(item.run) if item.run else None,
                "snags": [SnagOut.of(snag) for snag in item.snags],
                "carried": CarriedOut.model_validate(vars(item.carried)) if item.carried else None,
                "below_changed": item.below_changed,
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


class Neighbour(BaseModel):
    id: int
    name: str


class DeskOut(BaseModel):
    """Everything that the desk shows of a frame; what every edit of it answers with."""

    frame: FrameOut
    shoot: str
    neighbours: list[Neighbour]
    revision: int
    undo: str | None
    redo: str | None
    guard: str | None = Field(description="changes whenever the guard does; null where there is none")
    pixels: str = Field(description="changes whenever something else is to be seen")
    finds: str = Field(description="changes whenever other finds are open")
    picks: int = Field(description="by how many picks of the photographer takes are put in order; 0: in our order")
    news: int = Field(description="the number of the last event that it takes account of")
    sweeps: list[SweepOut]
    touches: list[TouchOut]
    rings: dict[str, list[list[float]]] = Field(
        default_factory=dict,
        description="outlines of the mask that an edit changed, by the mask's digest: nobody need ask for them",
    )

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
            pixels=desk.pixels,
            finds=desk.finds,
            picks=desk.picks,
            news=desk.news,
            sweeps=[SweepOut.of(item) for item in desk.sweeps],
            touches=[TouchOut.model_validate({**touch.model_dump(), "over": over}) for touch, over in desk.touches],
        )


def desk_of(library: Library, frame_id: int, drawn: str | None = None) -> DeskOut:
    """The desk of a frame as it is now; drawn: a sweep whose mask was just changed, so that its outlines come along.
    Raises NotFound."""
    out = DeskOut.of(desk(library, frame_id))
    # Masks of sweeps that have takes are not shown.
    changed = next((each for each in out.sweeps if each.id == drawn and not each.takes), None)
    if changed is not None:
        out.rings[changed.mask] = rings_at(library, frame_id, changed.id, out.revision)
    return out


class StepOut(BaseModel):
    """A step of a frame's history: what was done, from which step on; on: it leads to the present one; now: it is that
    one; box: where the picture changed by it; sweep: the only one that it changed, empty if there is none; subject: its
    name in the title; stroke: it is a stroke on a mark that was there."""

    revision: int
    parent: int | None
    title: str
    made_at: datetime
    on: bool
    now: bool
    box: Box
    sweep: str
    subject: str
    stroke: bool

    @classmethod
    def of(cls, step: Step) -> StepOut:
        return cls.model_validate({**vars(step), "subject": step.subject, "stroke": step.stroke})
