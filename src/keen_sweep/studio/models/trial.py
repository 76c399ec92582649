"""Try a model: does it work, and what does it say?"""

from __future__ import annotations

import time
from concurrent.futures import BrokenExecutor
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from keen_sweep.core.errors import KeenSweepError, ModelTrouble
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.model.engine import ModelEngine
from keen_sweep.core.fill.model.facts import facts_in_words, facts_path, write_facts
from keen_sweep.core.fill.model.found_out import find_settings
from keen_sweep.core.fill.model.onnx_file import OnnxModel
from keen_sweep.core.sentences import counted_sentence, sentence
from keen_sweep.store.library import Library
from keen_sweep.store.moment import now
from keen_sweep.store.tables import RegisteredModel
from keen_sweep.store.words import EventKind, ModelKind
from keen_sweep.studio.events import note
from keen_sweep.studio.models.limited import Limited
from keen_sweep.studio.models.opening import opened
from keen_sweep.studio.models.register import model_of, row_of
from keen_sweep.studio.workers import in_own_process

if TYPE_CHECKING:
    from keen_sweep.remote.adapter import ServiceModel

# Side of the picture on which a model is tried, pixels.
TRIAL_SIDE_PX = 128
# Mean difference from a plain ground from which on a painting is no ground, 8-bit levels.
MAX_TRIAL_ERROR = 40.0
# Some models take minutes to load.
TRIAL_SECONDS = 600


def try_model(library: Library, model_id: int, fill: bool) -> RegisteredModel:
    """See whether a model works, and keep what came back in words. A service is only asked how it is unless it is to
    fill, which it charges for; the others always fill, in a process of their own: a file may take much memory, or
    the process down with it. Raises NotFound."""
    row = model_of(library, model_id)
    left = None
    try:
        if row.kind is ModelKind.SERVICE:
            model = opened(row)
            service = model.service
            assert service is not None
            left = service.credits()
            words = _tried(model) if fill else _asked(service, left)
            left = service.left
            service.close()
        else:
            words = _tried_apart(row)
        good = True
    except KeenSweepError as error:
        words, good = str(error), False
    with library.session() as session:
        row = row_of(session, model_id)
        row.trial, row.trial_good, row.tried_at = words, good, now()
        row.left = left if left is not None else row.left
        session.add(row)
        note(session, EventKind.MODELS)
        return row


def _asked(service: ServiceModel, left: float) -> str:
    quote = service.quote(TRIAL_SIDE_PX, TRIAL_SIDE_PX)
    return sentence(
        "It answers as {name}, paints up to {most} px. {left} left; a test fill costs {credits}.",
        name=service.about.name,
        most=service.about.most,
        left=in_credits(left),
        credits=in_credits(quote.credits),
    )


def _tried_apart(row: RegisteredModel) -> str:
    """A tiny fill by a file or folder, in a process of its own. Raises ModelTrouble."""
    try:
        words, good = in_own_process(TRIAL_SECONDS, _trial, row.kind, row.place, row.name, row.largest)
    except BrokenExecutor:
        raise ModelTrouble(
            sentence("{name} brought its process down: perhaps there is not enough memory.", name=row.name)
        ) from None
    except TimeoutError:
        raise ModelTrouble(
            sentence(
                "{name} has not made a tiny fill in {trial_seconds} s.", name=row.name, trial_seconds=TRIAL_SECONDS
            )
        ) from None
    if not good:
        raise ModelTrouble(words)
    return words


def _trial(kind: ModelKind, place: str, name: str, largest: int | None) -> tuple[str, bool]:
    """What a process of its own does for a trial: what came back, and whether it is good."""
    try:
        learned = _found_out(Path(place)) if kind is ModelKind.ONNX else ""
        words = _tried(opened(RegisteredModel(name=name, kind=kind, place=place, largest=largest, key="")))
        return f"{words}{learned}", True
    except KeenSweepError as error:
        return str(error), False


def _found_out(graph: Path) -> str:
    """What a graph did not say and was found out, in a sentence; it is written beside the graph. Raises ModelTrouble
    when nothing fits."""
    model = OnnxModel(graph)
    before = model.told
    found = find_settings(model)
    if not found.fits:
        raise ModelTrouble(
            sentence(
                "Nothing that was tried fits {name}: outside the hole what it gives is {outside:.0f} of 255 "
                "away from the picture at best. {facts_file} beside it can say what it needs (docs/models.md).",
                name=graph.name,
                outside=found.outside,
                facts_file=facts_path(graph).name,
            )
        )
    words = ""
    if found.told != before:
        words = sentence(
            " Found out: {facts}; written into {file}.",
            facts=facts_in_words(found.told),
            file=write_facts(graph, found.told),
        )
    if found.inside > MAX_TRIAL_ERROR:
        words += sentence(
            " In the hole it is {inside:.0f} of 255 away from a plain ground: look before you trust it.",
            inside=found.inside,
        )
    return words


def _tried(model: Limited) -> str:
    """Fill a tiny made-up picture and say what came back."""
    random = np.random.default_rng(7)
    ground = (
        120
        + 20 * np.sin(np.arange(TRIAL_SIDE_PX) / 6)[:, None, None]
        + random.normal(0, 9, (TRIAL_SIDE_PX, TRIAL_SIDE_PX, 3))
    )
    picture = ground.clip(0, 255).astype(np.uint8)
    mask = np.zeros((TRIAL_SIDE_PX, TRIAL_SIDE_PX), np.uint8)
    mask[TRIAL_SIDE_PX // 3 : TRIAL_SIDE_PX // 2, TRIAL_SIDE_PX // 3 : TRIAL_SIDE_PX // 2] = 255
    clock = time.perf_counter()
    (take,) = ModelEngine(model).fill(FillInput(below=picture, mask=mask, takes=1))
    size = f"{model.side} x {model.side} px" if model.side else sentence("up to {most} px", most=model.most)
    cost = take.provenance.credits
    paid = sentence(" It cost {credits}.", credits=in_credits(cost)) if cost else ""
    return sentence(
        "It works at {size}; a tiny fill took {seconds:.1f} s.{paid}",
        size=size,
        seconds=time.perf_counter() - clock,
        paid=paid,
    )


def in_credits(credits: float) -> str:
    """An amount in words."""
    return counted_sentence("{count:g} credit", "{count:g} credits", credits)
