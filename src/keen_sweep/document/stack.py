"""The stack: the ordered, immutable list of what was done to a frame."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator

from keen_sweep.core.box import Box
from keen_sweep.core.errors import NotFound
from keen_sweep.core.fill.lead import MAX_LEAD_LINES, LeadLine
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.model.port import Knobs
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mask import EMPTY_BOX
from keen_sweep.core.sentences import sentence
from keen_sweep.core.series.similarity import IDENTITY_SIMILARITY, Similarity
from keen_sweep.document.mark import Filed, Mark
from keen_sweep.document.told import ToldLayer
from keen_sweep.document.touch import Touch


class Ground(BaseModel):
    """A patch to draw from, of this picture or of a sister frame."""

    model_config = ConfigDict(frozen=True)

    box: Box
    frame: int | None = None


class Carried(BaseModel):
    """Where a sweep was carried over from: its frame, the sweep there, and a digest of that one's mark as it was then;
    how sure it is that it landed on the thing, 0 to 1; doubtful until somebody looked at it; refused: the newest take
    when somebody found that none of them is good, 0 if nobody did."""

    model_config = ConfigDict(frozen=True)

    frame: int
    sweep: str
    mark: str
    confidence: float
    doubtful: bool = False
    refused: int = 0


class Behind(BaseModel):
    """A take that stood in an earlier version of the picture: its patch's content hash, how that version lies in this
    one, and whether the take was provisional there."""

    model_config = ConfigDict(frozen=True)

    patch: str
    lies: Similarity = IDENTITY_SIMILARITY
    provisional: bool = False


class Sweep(BaseModel):
    """One removal: its mark, how to fill it, and the pick, the content hash of the take in use.

    model: the number of the generative model, for the method model. hint, avoid: words on what should be seen there and
    what must not; ground: where to draw from; lead: lines along which edges go on. knobs: those of the model.
    together: its separate areas stay one sweep when it is filled. amount: how much of the pick is laid, per cent.
    outdated: takes up to that number were made for another place: none of them stands before it is picked.
    as_shot: the photographer decided that the place stays as shot, though there are takes.
    carried: where it came from, if from another frame. behind: the take it had for an earlier version of the picture,
    which is out of step with this one until it is laid again.
    provisional: nobody picked the take that is named as the pick; it stands until somebody does. It is never stored
    with the stack: see studio.provisional.
    """

    model_config = ConfigDict(frozen=True)

    kind: Literal["sweep"] = "sweep"
    id: str
    name: str
    mark: Mark = Mark()
    method: Method = Method.AUTO
    model: int | None = None
    hint: str = Field(default="", max_length=300)
    avoid: str = Field(default="", max_length=300)
    ground: Ground | None = None
    lead: tuple[LeadLine, ...] = Field(default=(), max_length=MAX_LEAD_LINES)
    knobs: Knobs = Knobs()
    together: bool = False
    pick: str | None = None
    provisional: bool = Field(default=False, exclude=True)
    as_shot: bool = False
    outdated: int = 0
    amount: int = Field(default=100, ge=0, le=100)
    shown: bool = True
    carried: Carried | None = None
    behind: Behind | None = None

    @field_validator("behind", mode="before")
    @classmethod
    def _lay_the_same(cls, values: Any) -> Any:
        # As it was told before versions could lie otherwise.
        return {"patch": values} if isinstance(values, str) else values

    def reach(self, picture: Box) -> Box:
        """The pixels of the picture that its mask may cover."""
        return self.mark.reach(picture)


Layer = Annotated[Sweep | Touch, Field(discriminator="kind")]


def reach_from(layer: ToldLayer, picture: Box) -> Box:
    """What a layer that was told as JSON may change: as its reach, but without making anything of all its shapes, since
    a long history tells them over and over."""
    if layer["kind"] == "touch":
        return Box.model_validate(layer["box"]).intersect(picture)
    mark = layer["mark"]
    boxes = [shape["box"] for shape in mark["shapes"] if not shape["erase"]]
    if not boxes:
        return EMPTY_BOX
    left, top = min(each["x"] for each in boxes), min(each["y"] for each in boxes)
    right = max(each["x"] + each["width"] for each in boxes)
    bottom = max(each["y"] + each["height"] for each in boxes)
    box = Box(x=left, y=top, width=right - left, height=bottom - top)
    return box.grow(Fit.model_validate(mark.get("fit", {})).reach, picture)


class Stack(BaseModel):
    """What was done to one original, from bottom to top. Changing it means making another one.

    guard: what no mask may enter and no fill change.
    """

    model_config = ConfigDict(frozen=True)

    version: Literal[2] = 2
    layers: tuple[Layer, ...] = Field(default=())
    guard: tuple[Filed, ...] = Field(default=())

    @property
    def sweeps(self) -> tuple[Sweep, ...]:
        """The sweeps alone, in their order."""
        return tuple(layer for layer in self.layers if isinstance(layer, Sweep))

    @property
    def touches(self) -> tuple[Touch, ...]:
        """The touch-ups alone, in their order."""
        return tuple(layer for layer in self.layers if isinstance(layer, Touch))

    def sweep(self, sweep_id: str) -> Sweep:
        """The sweep of that id. Raises NotFound."""
        for sweep in self.sweeps:
            if sweep.id == sweep_id:
                return sweep
        raise NotFound(sentence("This sweep is no longer in the picture: it was deleted or undone."))

    def with_layer(self, layer: Sweep | Touch) -> Stack:
        """The stack with a layer put on top, or in the place of the one with its id."""
        if any(each.id == layer.id for each in self.layers):
            layers = tuple(layer if each.id == layer.id else each for each in self.layers)
        else:
            layers = (*self.layers, layer)
        return self.model_copy(update={"layers": layers})

    def changed(self, sweep_id: str, **changes: Any) -> Stack:
        """The stack with some fields of one sweep changed. Raises NotFound."""
        return self.with_layer(self.sweep(sweep_id).model_copy(update=changes))

    def without(self, sweep_id: str) -> Stack:
        """The stack less one sweep. Raises NotFound."""
        self.sweep(sweep_id)
        return self.model_copy(update={"layers": tuple(each for each in self.layers if each.id != sweep_id)})

    def below(self, sweep_id: str) -> Stack:
        """What lies under a sweep: the layers before it. Raises NotFound."""
        return self.model_copy(update={"layers": self.layers[: self.layers.index(self.sweep(sweep_id))]})

    def chosen(self) -> Stack:
        """The stack with what the photographer decided alone: without provisional takes."""
        if not any(sweep.provisional for sweep in self.sweeps):
            return self
        layers = tuple(
            layer.model_copy(update={"pick": None, "provisional": False})
            if isinstance(layer, Sweep) and layer.provisional
            else layer
            for layer in self.layers
        )
        return self.model_copy(update={"layers": layers})

    def picks(self) -> tuple[str, ...]:
        """Content hashes of the takes that show, from bottom to top."""
        return tuple(sweep.pick for sweep in self.sweeps if sweep.shown and sweep.pick)
