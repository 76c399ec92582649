"""Hints: what a sweep's words mean for its picture, and which words were used last."""

from __future__ import annotations

from collections.abc import Iterable

from sqlmodel import col, select

from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.fill.words.command import hint_as_description, reply_to_order
from keen_sweep.core.fill.words.understood import interpret_hints
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Ground, Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision, Take
from keen_sweep.studio.history import change
from keen_sweep.studio.open_frame import open_frame

MAX_HINTS = 12
MAX_TAKES = 400


def set_hint(library: Library, frame_id: int, sweep_id: str, hint: str) -> Revision:
    """What should be seen there, in words; empty is the background."""
    words = " ".join(hint.split())
    return change(library, frame_id, sentence("hint"), lambda stack: stack.changed(sweep_id, hint=words))


def set_avoid(library: Library, frame_id: int, sweep_id: str, avoid: str) -> Revision:
    """What must not be seen there, in words."""
    words = " ".join(avoid.split())
    return change(library, frame_id, sentence("avoid"), lambda stack: stack.changed(sweep_id, avoid=words))


def set_ground(library: Library, frame_id: int, sweep_id: str, ground: Ground | None) -> Revision:
    """The patch to draw from, of this frame or of a sister; None for wherever it fits. Raises NotFound."""
    if ground is not None and ground.frame is not None:
        open_frame(library, ground.frame)

    def edit(stack: Stack) -> Stack:
        return stack.changed(sweep_id, ground=ground)

    return change(library, frame_id, sentence("draw from") if ground else sentence("draw from anywhere"), edit)


def said_of_words(library: Library, frame_id: int, sweep_id: str) -> str:
    """What there is to say of a sweep's words: an answer to an order, words that match nothing; empty if all's well."""
    current = open_frame(library, frame_id)
    sweep = current.stack.sweep(sweep_id)
    for words in (sweep.hint, sweep.avoid):
        answer = reply_to_order(words)
        if answer:
            what = hint_as_description(words)
            meant = f"\u201c{what}\u201d" if what else sentence("the background")
            return sentence("Read as {meant}. {answer}", meant=meant, answer=answer)
    if not sweep.method.weaves or not (sweep.hint or sweep.avoid):
        return ""
    hole = current.full(current.mask(sweep_id, unguarded=True)) > 0
    return interpret_hints(current.below(sweep_id), hole, sweep.hint, sweep.avoid).words


def used_last(library: Library) -> tuple[list[str], list[str]]:
    """The hints and the avoids that takes were made with, the latest first."""
    with library.session() as session:
        made = session.exec(select(Take.made).order_by(col(Take.id).desc()).limit(MAX_TAKES)).all()

    provenances = [Provenance.model_validate(each) for each in made]

    def distinct(words: Iterable[str]) -> list[str]:
        return list(dict.fromkeys(each for each in words if each))[:MAX_HINTS]

    return distinct(each.hint for each in provenances), distinct(each.avoid for each in provenances)
