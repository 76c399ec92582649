"""The ledger of a frame, and of a shoot: read off the stack and off how its picks were made."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from sqlmodel import Session, col, select

from keen_sweep.core.deliver.ledger import Entry, Ledger, Way
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.model.port import ModelFacts
from keen_sweep.core.sentences import counted_sentence, sentence
from keen_sweep.core.touch.dab import Brush
from keen_sweep.document.stack import Sweep
from keen_sweep.document.touch import Touch
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Take
from keen_sweep.studio.open_frame import OpenFrame, open_frame
from keen_sweep.studio.originals import originals_of

WAYS_BY_MAKER = {
    MadeBy.CLOSE: Way.CONTINUED,
    MadeBy.BORROW: Way.BORROWED,
    MadeBy.BACKDROP: Way.BACKDROP,
    MadeBy.REFLECTION: Way.REFLECTION,
    MadeBy.MODEL: Way.MODEL,
}
# Ways that are farther from a capture come first.
WAYS_BY_DISTANCE = (Way.MODEL, Way.WOVEN, Way.BACKDROP, Way.REFLECTION, Way.CONTINUED, Way.BORROWED, Way.BY_HAND)
BRUSH_NAMES = {Brush.CLONE: "Cloned", Brush.HEAL: "Healed", Brush.BRING_BACK: sentence("Original brought back")}


def ledger_of(library: Library, frame_id: int, revision_id: int | None = None) -> Ledger:
    """What is not as shot in a frame, at its present revision or another: what an earlier delivery said of the
    original, then everything that shows, from bottom to top. Raises NotFound."""
    return ledger_at(open_frame(library, frame_id, revision_id))


def ledger_at(current: OpenFrame) -> Ledger:
    """The ledger of a frame that somebody sits down to."""
    earlier = originals_of(current.library).ledger(current.frame.original)
    shown = [layer for layer in current.stack.layers if layer.shown]
    sweeps = [layer for layer in shown if isinstance(layer, Sweep) and layer.pick is not None]
    with current.library.session() as session:
        entries = [_of_sweep(session, current, sweep) for sweep in sweeps]
    touches = [layer for layer in shown if isinstance(layer, Touch)]
    return Ledger(
        frame=current.frame.name,
        entries=(*(earlier.entries if earlier else ()), *entries, *_of_touches(current, touches)),
    )


def _of_sweep(session: Session, current: OpenFrame, sweep: Sweep) -> Entry:
    query = select(Take).where(Take.patch == sweep.pick, Take.frame_id == current.frame.id).order_by(col(Take.id))
    take = session.exec(query).first()
    assert sweep.pick is not None
    patch = current.shelf.patch(sweep.pick)
    share = round(100 * int((patch.alpha > 0).sum()) / current.box.area, 4)
    if take is None:
        way = WAYS_BY_MAKER.get(MadeBy(patch.method), Way.WOVEN)
        return Entry(name=sweep.name, way=way, share=share, provisional=sweep.provisional)
    line = [take, *_made_of(session, take)]
    ways = {_way(each) for each in line if not each.method.by_hand} or {Way.WOVEN}
    provenances = [each.provenance for each in line]
    made = next((each for each in provenances if each.model is not None), provenances[0])
    model = made.model or ModelFacts()
    sisters = dict.fromkeys(name for each in provenances for name in each.sisters)
    return Entry(
        name=sweep.name,
        way=min(ways, key=WAYS_BY_DISTANCE.index),
        share=share,
        engine=provenances[0].engine or take.method,
        model=model.name,
        sha256=model.sha256 or "",
        service=model.service or "",
        sisters=tuple(sisters),
        hint=made.hint,
        led=made.led,
        avoid=made.avoid,
        seed=take.seed,
        credits=sum(each.credits for each in provenances),
        provisional=sweep.provisional,
    )


def _made_of(session: Session, take: Take) -> list[Take]:
    """The takes that a mix or a mend was made of, theirs too."""
    found: list[Take] = []
    for number in take.provenance.of:
        each = session.get(Take, number)
        if each is not None:
            found += [each, *_made_of(session, each)]
    return found


def _way(take: Take) -> Way:
    if take.method is MadeBy.BORROW:
        # What no sister showed was woven.
        borrowed = take.provenance.borrowed
        return Way.BORROWED if borrowed is None or borrowed >= 1.0 else Way.WOVEN
    if take.provenance.model is not None:
        return Way.MODEL
    parts = {part["method"] for part in take.parts}
    if take.method is MadeBy.AUTO and parts == {"close"}:
        return Way.CONTINUED
    return WAYS_BY_MAKER.get(take.method, Way.WOVEN)


def _of_touches(current: OpenFrame, touches: Iterable[Touch]) -> list[Entry]:
    """One entry for each brush: strokes are many."""
    by_brush: dict[Brush, list[Touch]] = {}
    for touch in touches:
        by_brush.setdefault(touch.brush, []).append(touch)
    out = []
    for brush, own in by_brush.items():
        name = counted_sentence(
            "{brush}, {count} stroke", "{brush}, {count} strokes", len(own), brush=BRUSH_NAMES[brush]
        )
        out.append(Entry(name=name, way=Way.BY_HAND, share=_share(current, own)))
    return out


def _share(current: OpenFrame, touches: Sequence[Touch]) -> float:
    """How much of the picture looks different without some touch-ups, per cent."""
    box = touches[0].reach(current.box)
    for touch in touches[1:]:
        box = box.union(touch.reach(current.box))
    if box.empty:
        return 0.0
    gone = {touch.id for touch in touches}
    without = current.stack.model_copy(update={"layers": tuple(e for e in current.stack.layers if e.id not in gone)})
    differs = (current.seen(box) != current.seen(box, stack=without)).any(axis=2)
    return round(100 * int(differs.sum()) / current.box.area, 4)


def ledgers_of(library: Library, frames: Iterable[int]) -> list[Ledger]:
    """The ledgers of some frames, in their order."""
    return [ledger_of(library, each) for each in frames]
