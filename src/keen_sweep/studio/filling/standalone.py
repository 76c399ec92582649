"""A fill of a picture that is in no library: what a shell asks for."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from pydantic import SecretStr

from keen_sweep.core.arrays import EightBit, Pixels
from keen_sweep.core.box import box_of
from keen_sweep.core.errors import BadRequest, NotTheSamePlace
from keen_sweep.core.fill.borrow.engine import BorrowEngine
from keen_sweep.core.fill.borrow.sister import Sister, surroundings_in
from keen_sweep.core.fill.engine import Engine, FillInput, Words
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.lead import LeadLine, check_lead
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.fill.words.command import reply_to_order
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.progress import Progress
from keen_sweep.core.sentences import sentence
from keen_sweep.core.series.align import align
from keen_sweep.core.series.view import view_of
from keen_sweep.studio.filling.fill import Fill


@dataclass(frozen=True)
class StandaloneFill:
    """What is wanted: how many takes and how carefully, by which method or by the model at a path or an address, from
    which sister pictures, with which words, along which lines; key is that of a service."""

    fill: Fill
    method: Method = Method.AUTO
    model: str | None = None
    sisters: tuple[Path, ...] = ()
    hint: str = ""
    avoid: str = ""
    lead: tuple[LeadLine, ...] = ()
    key: SecretStr = field(default_factory=lambda: SecretStr(""))


def takes_of(below: Pixels, area: EightBit, wanted: StandaloneFill, progress: Progress) -> Iterator[Patch]:
    """Takes of the area (H, W) of a picture (H, W, 3), each as it is ready.

    Raises BadRequest, BadMask, ModelTrouble.
    """
    for words in (wanted.hint, wanted.avoid):
        answer = reply_to_order(words)
        if answer:
            raise BadRequest(answer)
    if (wanted.method is Method.BORROW) != bool(wanted.sisters):
        raise BadRequest(sentence("Borrowing needs sister frames: use --method borrow together with --sister PHOTO."))
    check_lead(wanted.lead, area.shape[1], area.shape[0])
    how = wanted.fill
    given = FillInput(
        below=below,
        mask=area,
        seed=how.seed or 0,
        takes=how.takes,
        quality=how.quality,
        staged=how.staged,
        lead=wanted.lead,
        words=Words(hint=wanted.hint, avoid=wanted.avoid),
        progress=progress,
    )
    return _engine(below, area, wanted).fill(given)


def _engine(below: Pixels, area: EightBit, wanted: StandaloneFill) -> Engine:
    if wanted.sisters:
        return BorrowEngine([_sister(below, area, path) for path in wanted.sisters])
    if wanted.model:
        # Nobody who fills without a model or a sister waits for what knows of registered ones and of libraries.
        from keen_sweep.studio.filling.unregistered import engine_at

        return engine_at(wanted.model, area, wanted.fill, wanted.key)
    return engine_for(wanted.method)


def _sister(below: Pixels, area: EightBit, path: Path) -> Sister:
    """Another picture to borrow from, without its people near what is filled. Raises BadRequest when it shows another
    place."""
    from keen_sweep.studio.carrying.sisters import people_in

    other = read_picture(path)
    try:
        alignment = align(view_of(below), view_of(other.pixels))
    except NotTheSamePlace as error:
        raise BadRequest(sentence("{path} does not show the same place.", path=path)) from error
    window = surroundings_in(other.pixels, alignment, box_of(area))
    if window.empty:
        raise BadRequest(sentence("{path} does not show what is marked.", path=path))
    cut = other.pixels[window.slices]
    return Sister(path.stem, cut, alignment.cut_other(window), people_in(cut))
