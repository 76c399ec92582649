"""Models in the studio: registered, tried, priced, within a budget; nothing paid without a yes; keys kept apart."""

import sqlite3
import stat
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from pydantic import SecretStr
from sqlmodel import select

from keen_sweep.bench.tiny import tiny_onnx
from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest, ModelTrouble, NotFound
from keen_sweep.core.fill.method import Method
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.document.stack import Ground
from keen_sweep.simulated.app import DEMO_CREDITS, DEMO_KEY
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, RegisteredModel, Run
from keen_sweep.store.words import ModelKind
from keen_sweep.studio import desk
from keen_sweep.studio.filling.ask import ask_fill, ask_fills
from keen_sweep.studio.filling.budget import set_budget, spent_in
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.filling.fill_plan import FilledBy, FillPlan, plan_fill
from keen_sweep.studio.filling.quote import quote
from keen_sweep.studio.filling.sweep_method import choose_model
from keen_sweep.studio.filling.takes import keep_take
from keen_sweep.studio.filling.words import said_of_words, set_avoid, set_ground, set_hint, used_last
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.models.register import ModelChange, change_model, forget_model, keys, model_of, register, set_key
from keen_sweep.studio.models.trial import try_model
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.originals import originals_of
from keen_sweep.studio.running import carry_out
from tests.support.graphs import painter
from tests.support.runs import carried_out
from tests.support.service import Service, running
from tests.support.sure import sure

DOT = Stroke(points=((60.0, 50.0), (80.0, 50.0)), size=14)


@pytest.fixture(autouse=True)
def own_keys(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    file = tmp_path / "home" / "keys.json"
    monkeypatch.setenv("KEEN_SWEEP_KEYS", str(file))
    return file


@pytest.fixture
def service(tmp_path: Path) -> Iterator[Service]:
    with running(tmp_path / "service") as made:
        # The roofs are as red as skin to it.
        made.switch(refuse_skin=False)
        yield made


@pytest.fixture
def shed(library: Library, service: Service) -> RegisteredModel:
    row = register(library, "Paint Shed", ModelKind.SERVICE, service.address)
    set_key(library, row.id, SecretStr(DEMO_KEY))
    return row


def sweep_by(library: Library, frame: Frame, row: RegisteredModel) -> str:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    choose_model(library, frame.id, sweep, row.id)
    return sweep


def test_a_file_is_registered_tried_and_fills(library: Library, frame: Frame, tmp_path: Path) -> None:
    row = register(library, "  Nought  ", ModelKind.ONNX, str(tiny_onnx(tmp_path / "nought.onnx", 64)))
    assert row.name == "Nought"
    tried = try_model(library, row.id, False)
    assert tried.trial_good
    assert "It works at 64 x 64 px" in sure(tried.trial)
    sweep = sweep_by(library, frame, row)
    quoted = quote(library, frame.id, sweep)
    assert (quoted.model, quoted.cost.credits, quoted.problem) == ("Nought", 0.0, None)
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=2)))
    assert run.state == "done", run.error
    takes = desk.desk(library, frame.id).sweeps[0].takes
    assert len(takes) == 2
    made = takes[0].provenance
    assert made.model is not None
    assert made.model.name == "Nought"
    assert len(made.model.sha256 or "") == 64
    assert made.credits == 0
    assert quote(library, frame.id, sweep).cost.seconds is not None, "earlier takes tell how long it takes"


def test_what_a_file_needs_is_found_out_and_written_beside_it(library: Library, frame: Frame, tmp_path: Path) -> None:
    graph = painter(tmp_path / "grey.onnx", into=(-1.0, 1.0), out=(0.0, 255.0), turned=True)
    row = register(library, "Grey", ModelKind.ONNX, str(graph))
    tried = try_model(library, row.id, False)
    assert tried.trial_good
    assert "Found out: pictures go in as -1 to 1 and come out as 0 to 255" in sure(tried.trial)
    assert "written into grey.json" in sure(tried.trial)
    run = carried_out(library, ask_fill(library, frame.id, sweep_by(library, frame, row), Fill(takes=1)))
    assert run.state == "done", run.error
    (take,) = desk.desk(library, frame.id).sweeps[0].takes
    patch = originals_of(library).patch(take.patch)
    middle = patch.pixels[patch.pixels.shape[0] // 2, patch.pixels.shape[1] // 2]
    assert middle.std() < 60
    # The second time there is nothing to find out.
    assert "Found out" not in sure(try_model(library, row.id, False).trial)


def test_a_file_that_nothing_fits_says_how_far_it_was(library: Library, tmp_path: Path) -> None:
    noise = np.random.default_rng(1).integers(0, 256, (64, 64, 3)).astype(np.uint8)
    graph = tiny_onnx(tmp_path / "truth.onnx", 64, noise)
    tried = try_model(library, register(library, "Same", ModelKind.ONNX, str(graph)).id, False)
    assert not tried.trial_good
    assert "Nothing that was tried fits truth.onnx: outside the hole" in sure(tried.trial)
    assert not graph.with_suffix(".json").exists()


def test_what_cannot_be_registered(library: Library, tmp_path: Path) -> None:
    for kind, place in (
        (ModelKind.ONNX, "relative.onnx"),
        (ModelKind.ONNX, str(tmp_path / "none.onnx")),
        (ModelKind.DIFFUSERS, "/nowhere"),
    ):
        with pytest.raises(BadRequest):
            register(library, "M", kind, place)
    with pytest.raises(BadRequest, match="others could read the key"):
        register(library, "M", ModelKind.SERVICE, "http://paint.example")
    with pytest.raises(BadRequest, match="needs a name"):
        register(library, " ", ModelKind.SERVICE, "https://paint.example")
    broken = tmp_path / "broken.onnx"
    broken.write_bytes(b"nothing")
    row = register(library, "Broken", ModelKind.ONNX, str(broken))
    tried = try_model(library, row.id, False)
    assert tried.trial_good is False
    assert "cannot be loaded" in sure(tried.trial)
    with pytest.raises(BadRequest, match="called Broken already"):
        register(library, "Broken", ModelKind.ONNX, str(broken))
    with pytest.raises(BadRequest, match="Only services"):
        set_key(library, row.id, SecretStr("k"))
    forget_model(library, row.id)
    with pytest.raises(NotFound):
        try_model(library, row.id, False)


def test_a_service_is_tried_without_paying_and_with(library: Library, shed: RegisteredModel, service: Service) -> None:
    asked = try_model(library, shed.id, False)
    assert asked.trial_good
    assert "60 credits left; a test fill costs 1 credit" in sure(asked.trial)
    assert service.books()["asked"] == 0
    tried = try_model(library, shed.id, True)
    assert "It cost 1 credit" in sure(tried.trial)
    assert tried.left == DEMO_CREDITS - 1


def test_the_key_is_kept_apart_and_given_to_nobody_else(
    library: Library, shed: RegisteredModel, own_keys: Path
) -> None:
    assert DEMO_KEY in own_keys.read_text()
    assert stat.S_IMODE(own_keys.stat().st_mode) == 0o600
    library.close()
    for file in library.folder.rglob("*"):
        assert not file.is_file() or DEMO_KEY.encode() not in file.read_bytes(), file
    assert (
        sqlite3.connect(library.folder / "library.db").execute("select key from registeredmodel").fetchone()[0]
        != DEMO_KEY
    )
    change_model(library, shed.id, ModelChange(place="https://elsewhere.example"))
    assert not keys().has(shed.key), "another place never got this key"
    with pytest.raises(BadRequest, match="one word"):
        set_key(library, shed.id, SecretStr("two words"))
    set_key(library, shed.id, SecretStr("other"))
    forget_model(library, shed.id)
    assert "other" not in own_keys.read_text()


def test_nothing_is_paid_without_a_yes(library: Library, frame: Frame, shed: RegisteredModel, service: Service) -> None:
    sweep = sweep_by(library, frame, shed)
    quoted = quote(library, frame.id, sweep, 2)
    assert (quoted.service, quoted.cost.paintings, quoted.cost.credits, quoted.left) == (True, 2, 2, DEMO_CREDITS)
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=2)))
    assert (run.state, run.remedy) == ("failed", "price")
    assert "was not accepted" in sure(run.error)
    assert service.books()["asked"] == 0
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=2, credits=2)))
    assert run.state == "done", run.error
    assert service.books()["paid"] == 2
    assert spent_in(library, [frame.shoot_id]) == {frame.shoot_id: 2}
    assert model_of(library, shed.id).left == DEMO_CREDITS - 2


def test_limits_of_model_and_shoot_are_kept(
    library: Library, frame: Frame, shed: RegisteredModel, service: Service
) -> None:
    sweep = sweep_by(library, frame, shed)
    change_model(library, shed.id, ModelChange(most_credits=1))
    assert "may cost 1 a fill" in sure(quote(library, frame.id, sweep, 2).problem)
    change_model(library, shed.id, ModelChange(most_credits=0))
    set_budget(library, frame.shoot_id, 3)
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=2, credits=9)))
    assert run.state == "done"
    quoted = quote(library, frame.id, sweep, 2)
    assert quoted.budget_left == 1
    assert "budget has 1 left" in sure(quoted.problem)
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=2, credits=9)))
    assert (run.state, run.remedy) == ("failed", "credits")
    assert service.books()["paid"] == 2


def test_one_yes_is_shared_by_the_areas_it_was_said_for(
    library: Library, frame: Frame, shed: RegisteredModel, service: Service
) -> None:
    far = Stroke(points=((150.0, 100.0), (160.0, 100.0)), size=14)
    sweep, _ = new_sweep(library, frame.id, [DOT, far])
    choose_model(library, frame.id, sweep, shed.id)
    assert quote(library, frame.id, sweep, 1).cost.credits == 2
    runs = ask_fills(library, frame.id, sweep, Fill(takes=1, credits=1))
    states = [carried_out(library, run).state for run in runs]
    assert states == ["done", "failed"], "one credit was agreed to, and one was spent"
    assert service.books()["paid"] == 1


def test_takes_stay_and_nothing_is_paid_twice_when_a_service_dies_between(
    library: Library, frame: Frame, shed: RegisteredModel, service: Service, monkeypatch: pytest.MonkeyPatch
) -> None:
    sweep = sweep_by(library, frame, shed)
    kept = keep_take

    def keep_and_fail(*given: Any) -> int:
        number: int = kept(*given)
        service.switch(policy="closed for stocktaking", refuse_skin=False)
        return number

    monkeypatch.setattr(carry_out, "keep_take", keep_and_fail)
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=3, credits=3)))
    assert run.state == "failed"
    assert "refused this picture: closed for stocktaking" in sure(run.error)
    assert len(desk.desk(library, frame.id).sweeps[0].takes) == 1, "what was ready stays"
    assert model_of(library, shed.id).left == DEMO_CREDITS - 1, "and what is left is known"
    assert service.books()["paid"] == 1
    monkeypatch.setattr(carry_out, "keep_take", kept)
    service.switch(refuse_skin=False)
    again = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=1, seed=0, credits=1)))
    assert again.state == "done"
    assert service.books()["paid"] == 1, "the same seed is the same painting"
    assert spent_in(library, [frame.shoot_id]) == {frame.shoot_id: 1}


def test_auto_asks_a_model_where_something_has_to_be_invented(
    library: Library, frame: Frame, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from keen_sweep.core.fill.inventing import Verdict

    def judged(needed: bool) -> None:
        monkeypatch.setattr(
            "keen_sweep.studio.filling.fill_plan.needs_inventing", lambda *_: Verdict(0.8, needed, "a rim like none")
        )

    sweep, _ = new_sweep(library, frame.id, [Stroke(points=((60.0, 50.0), (80.0, 50.0)), size=40)])
    row = register(library, "Nought", ModelKind.ONNX, str(tiny_onnx(tmp_path / "nought.onnx", 64)))
    judged(True)
    assert quote(library, frame.id, sweep).model is None, "it was not allowed to"
    change_model(library, row.id, ModelChange(for_auto=True))
    quoted = quote(library, frame.id, sweep)
    assert quoted.model == "Nought"
    assert "auto chose Nought: a rim like none" in quoted.why
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=1)))
    assert run.state == "done"
    take = desk.desk(library, frame.id).sweeps[0].takes[0]
    assert take.method == "model"
    assert "auto chose" in take.provenance.why
    judged(False)
    assert quote(library, frame.id, sweep).model is None


def test_auto_does_without_a_service_that_nobody_said_yes_to(
    library: Library, frame: Frame, shed: RegisteredModel, service: Service, monkeypatch: pytest.MonkeyPatch
) -> None:
    from keen_sweep.core.fill.inventing import Verdict

    monkeypatch.setattr(
        "keen_sweep.studio.filling.fill_plan.needs_inventing", lambda *_: Verdict(0.8, True, "a rim like none")
    )
    change_model(library, shed.id, ModelChange(for_auto=True))
    sweep, _ = new_sweep(library, frame.id, [Stroke(points=((60.0, 50.0), (80.0, 50.0)), size=40)])
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=1)))
    assert run.state == "done"
    take = desk.desk(library, frame.id).sweeps[0].takes[0]
    assert take.method == "auto"
    assert "was not accepted" in take.provenance.why
    assert service.books()["asked"] == 0


def test_quote_and_run_follow_one_plan(
    library: Library, frame: Frame, photo_file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from keen_sweep.core.fill.inventing import Verdict

    monkeypatch.setattr(
        "keen_sweep.studio.filling.fill_plan.needs_inventing", lambda *_: Verdict(0.8, True, "a rim like none")
    )
    row = register(library, "Nought", ModelKind.ONNX, str(tiny_onnx(tmp_path / "nought.onnx", 64)))
    change_model(library, row.id, ModelChange(for_auto=True))
    incoming = library.incoming / "sister"
    incoming.write_bytes(photo_file.read_bytes())
    sister = add_frame(library, frame.shoot_id, "sister.tif", incoming)
    sweep, _ = new_sweep(library, frame.id, [Stroke(points=((60.0, 50.0), (80.0, 50.0)), size=40)])

    def plan(method: Method = Method.AUTO) -> FillPlan:
        current = open_frame(library, frame.id)
        hole = current.full(current.mask(sweep)) > 0
        return plan_fill(current, current.stack.sweep(sweep), method, current.below(sweep), hole)

    assert plan().by == FilledBy.MODEL
    assert plan(Method.WEAVE).by == FilledBy.LOCAL
    assert plan(Method.BORROW).by == FilledBy.BORROWING
    with pytest.raises(ModelTrouble, match="Choose a model"):
        plan(Method.MODEL)
    set_ground(library, frame.id, sweep, Ground(box=Box(x=0, y=0, width=60, height=60), frame=sister.id))
    assert plan().by == FilledBy.EXTERNAL_SOURCE
    assert quote(library, frame.id, sweep).model is None, "what copies from another frame costs nothing"
    change_model(library, row.id, ModelChange(for_auto=False))
    set_ground(library, frame.id, sweep, None)
    assert plan().by == FilledBy.BORROWING_FIRST
    set_hint(library, frame.id, sweep, "sky")
    assert plan().by == FilledBy.LOCAL, "true pixels show what is there, not what words ask for"


def test_words_are_kept_answered_and_remembered(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    set_hint(library, frame.id, sweep, "remove  the chimney")
    assert said_of_words(library, frame.id, sweep).startswith(
        "Read as the background. Describe what the fill should show"
    )
    ordered = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=1, quality="fast")))
    assert ordered.state == "done", ordered.error
    set_hint(library, frame.id, sweep, "please replace it with gravel")
    assert said_of_words(library, frame.id, sweep).startswith("Read as \u201cgravel\u201d.")
    set_hint(library, frame.id, sweep, "a dragon")
    assert "weave does not know this ground" in said_of_words(library, frame.id, sweep)
    set_hint(library, frame.id, sweep, "")
    set_avoid(library, frame.id, sweep, "snow")
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=1, quality="fast")))
    assert run.state == "done", run.error
    assert used_last(library) == ([], ["snow"])


def test_a_patch_of_this_and_of_a_sister_frame_is_drawn_from(library: Library, frame: Frame, photo_file: Path) -> None:
    incoming = library.incoming / "sister"
    incoming.write_bytes(photo_file.read_bytes())
    sister = add_frame(library, frame.shoot_id, "sister.tif", incoming)
    sweep, _ = new_sweep(library, frame.id, [DOT])
    box = Box(x=100, y=90, width=60, height=50)
    set_ground(library, frame.id, sweep, Ground(box=box))
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=1, quality="fast")))
    assert run.state == "done", run.error
    set_ground(library, frame.id, sweep, Ground(box=box, frame=sister.id))
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=1, quality="fast")))
    assert run.state == "done", run.error
    own, lent = desk.desk(library, frame.id).sweeps[0].takes
    assert "lent" not in own.made
    assert lent.provenance.lent
    with pytest.raises(NotFound):
        set_ground(library, frame.id, sweep, Ground(box=box, frame=9_999))
    with library.session() as session:
        assert len(session.exec(select(Run)).all()) == 2
    assert np.isfinite(lent.energy)


def test_what_was_paid_is_booked_even_if_its_take_is_lost(
    library: Library, frame: Frame, shed: RegisteredModel, service: Service, monkeypatch: pytest.MonkeyPatch
) -> None:
    from keen_sweep.core.errors import ModelTrouble

    def lost(*_given: object) -> int:
        raise ModelTrouble("lost on the way")

    sweep = sweep_by(library, frame, shed)
    with monkeypatch.context() as broken:
        broken.setattr(carry_out, "keep_take", lost)
        run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=1, credits=1)))
    assert run.state == "failed"
    assert spent_in(library, [frame.shoot_id]) == {frame.shoot_id: 1}
    set_budget(library, frame.shoot_id, 2)
    run = carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=1, credits=1)))
    assert run.state == "done", run.error
    assert spent_in(library, [frame.shoot_id]) == {frame.shoot_id: 1}, "it was the same painting"
    assert service.books()["paid"] == 1
