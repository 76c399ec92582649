"""Models in the studio: registered, tried, priced, within a budget; nothing paid without a yes; keys kept apart."""

import sqlite3
import stat
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from pydantic import SecretStr
from sqlmodel import select

from keen_sweep.bench.tiny import tiny_onnx
from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest, NotFound
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.stack import Ground
from keen_sweep.simulated.app import CREDITS, KEY
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, RegisteredModel, Run
from keen_sweep.studio import choose, desk, fill, gather, mark, models, words
from keen_sweep.studio.budget import set_budget, spent_in
from keen_sweep.studio.originals import Originals
from keen_sweep.studio.quote import quote
from tests.service import Service, running
from tests.studio.test_journey import carried_out

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
    row = models.register(library, "Paint Shed", "service", service.address)
    models.set_key(library, row.id, SecretStr(KEY))
    return row


def sweep_by(library: Library, frame: Frame, row: RegisteredModel) -> str:
    sweep, _ = mark.new_sweep(library, frame.id, [DOT])
    choose.choose_model(library, frame.id, sweep, row.id)
    return sweep


def test_a_file_is_registered_tried_and_fills(
    library: Library, originals: Originals, frame: Frame, tmp_path: Path
) -> None:
    row = models.register(library, "  Nought  ", "onnx", str(tiny_onnx(tmp_path / "nought.onnx", 64)))
    assert row.name == "Nought"
    tried = models.try_model(library, row.id, False)
    assert tried.trial_good
    assert "It works at 64 x 64 px" in tried.trial
    sweep = sweep_by(library, frame, row)
    quoted = quote(library, originals, frame.id, sweep)
    assert (quoted.model, quoted.cost.credits, quoted.problem) == ("Nought", 0.0, None)
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=2)))
    assert run.state == "done", run.error
    takes = desk.desk(library, frame.id).sweeps[0].takes
    assert len(takes) == 2
    made = takes[0].made
    assert made["model"]["name"] == "Nought"
    assert len(made["model"]["sha256"]) == 64
    assert made["credits"] == 0
    assert quote(library, originals, frame.id, sweep).cost.seconds is not None, "earlier takes tell how long it takes"


def test_what_cannot_be_registered(library: Library, tmp_path: Path) -> None:
    for kind, place in (("onnx", "relative.onnx"), ("onnx", str(tmp_path / "none.onnx")), ("diffusers", "/nowhere")):
        with pytest.raises(BadRequest):
            models.register(library, "M", kind, place)
    with pytest.raises(BadRequest, match="could be read on the way"):
        models.register(library, "M", "service", "http://paint.example")
    with pytest.raises(BadRequest, match="needs a name"):
        models.register(library, " ", "service", "https://paint.example")
    broken = tmp_path / "broken.onnx"
    broken.write_bytes(b"nothing")
    row = models.register(library, "Broken", "onnx", str(broken))
    tried = models.try_model(library, row.id, False)
    assert tried.trial_good is False
    assert "cannot be loaded" in tried.trial
    with pytest.raises(BadRequest, match="called Broken already"):
        models.register(library, "Broken", "onnx", str(broken))
    with pytest.raises(BadRequest, match="Only services"):
        models.set_key(library, row.id, SecretStr("k"))
    models.forget_model(library, row.id)
    with pytest.raises(NotFound):
        models.try_model(library, row.id, False)


def test_a_service_is_tried_without_paying_and_with(library: Library, shed: RegisteredModel, service: Service) -> None:
    asked = models.try_model(library, shed.id, False)
    assert asked.trial_good
    assert "60 credits left; a test fill costs 1 credit" in asked.trial
    assert service.books()["asked"] == 0
    tried = models.try_model(library, shed.id, True)
    assert "It cost 1 credit" in tried.trial
    assert tried.left == CREDITS - 1


def test_the_key_is_kept_apart_and_given_to_nobody_else(
    library: Library, shed: RegisteredModel, own_keys: Path
) -> None:
    assert KEY in own_keys.read_text()
    assert stat.S_IMODE(own_keys.stat().st_mode) == 0o600
    library.close()
    for file in library.folder.rglob("*"):
        assert not file.is_file() or KEY.encode() not in file.read_bytes(), file
    assert (
        sqlite3.connect(library.folder / "library.db").execute("select key from registeredmodel").fetchone()[0] != KEY
    )
    models.change_model(library, shed.id, {"place": "https://elsewhere.example"})
    assert not models.keys().has(shed.key), "another place never got this key"
    with pytest.raises(BadRequest, match="one word"):
        models.set_key(library, shed.id, SecretStr("two words"))
    models.set_key(library, shed.id, SecretStr("other"))
    models.forget_model(library, shed.id)
    assert "other" not in own_keys.read_text()


def test_nothing_is_paid_without_a_yes(
    library: Library, originals: Originals, frame: Frame, shed: RegisteredModel, service: Service
) -> None:
    sweep = sweep_by(library, frame, shed)
    quoted = quote(library, originals, frame.id, sweep, 2)
    assert (quoted.service, quoted.cost.paintings, quoted.cost.credits, quoted.left) == (True, 2, 2, CREDITS)
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=2)))
    assert (run.state, run.remedy) == ("failed", "price")
    assert "nobody said yes" in run.error
    assert service.books()["asked"] == 0
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=2, credits=2)))
    assert run.state == "done", run.error
    assert service.books()["paid"] == 2
    assert spent_in(library, [frame.shoot_id]) == {frame.shoot_id: 2}
    assert models.model_of(library, shed.id).left == CREDITS - 2


def test_limits_of_model_and_shoot_are_kept(
    library: Library, originals: Originals, frame: Frame, shed: RegisteredModel, service: Service
) -> None:
    sweep = sweep_by(library, frame, shed)
    models.change_model(library, shed.id, {"most_credits": 1.0})
    assert "may cost 1 a fill" in quote(library, originals, frame.id, sweep, 2).problem
    models.change_model(library, shed.id, {"most_credits": None})
    set_budget(library, frame.shoot_id, 3)
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=2, credits=9)))
    assert run.state == "done"
    quoted = quote(library, originals, frame.id, sweep, 2)
    assert quoted.budget_left == 1
    assert "budget has 1 left" in quoted.problem
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=2, credits=9)))
    assert (run.state, run.remedy) == ("failed", "credits")
    assert service.books()["paid"] == 2


def test_one_yes_is_shared_by_the_areas_it_was_said_for(
    library: Library, originals: Originals, frame: Frame, shed: RegisteredModel, service: Service
) -> None:
    far = Stroke(points=((150.0, 100.0), (160.0, 100.0)), size=14)
    sweep, _ = mark.new_sweep(library, frame.id, [DOT, far])
    choose.choose_model(library, frame.id, sweep, shed.id)
    assert quote(library, originals, frame.id, sweep, 1).cost.credits == 2
    runs = fill.ask_fills(library, frame.id, sweep, fill.Fill(takes=1, credits=1))
    states = [carried_out(library, run).state for run in runs]
    assert states == ["done", "failed"], "one credit was agreed to, and one was spent"
    assert service.books()["paid"] == 1


def test_takes_stay_and_nothing_is_paid_twice_when_a_service_dies_between(
    library: Library, frame: Frame, shed: RegisteredModel, service: Service, monkeypatch: pytest.MonkeyPatch
) -> None:
    sweep = sweep_by(library, frame, shed)
    kept = fill.keep_take

    def keep_and_fail(*given: object) -> int:
        number = kept(*given)
        service.switch(policy="closed for stocktaking", refuse_skin=False)
        return number

    monkeypatch.setattr(fill, "keep_take", keep_and_fail)
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=3, credits=3)))
    assert run.state == "failed"
    assert "refused this picture: closed for stocktaking" in run.error
    assert len(desk.desk(library, frame.id).sweeps[0].takes) == 1, "what was ready stays"
    assert models.model_of(library, shed.id).left == CREDITS - 1, "and what is left is known"
    assert service.books()["paid"] == 1
    monkeypatch.setattr(fill, "keep_take", kept)
    service.switch(refuse_skin=False)
    again = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=1, seed=0, credits=1)))
    assert again.state == "done"
    assert service.books()["paid"] == 1, "the same seed is the same painting"
    assert spent_in(library, [frame.shoot_id]) == {frame.shoot_id: 1}


def test_auto_asks_a_model_where_something_has_to_be_invented(
    library: Library, originals: Originals, frame: Frame, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from keen_sweep.core.fill.inventing import Verdict

    def judged(needed: bool) -> None:
        monkeypatch.setattr(
            "keen_sweep.studio.quote.needs_inventing", lambda *_: Verdict(0.8, needed, "a rim like none")
        )

    sweep, _ = mark.new_sweep(library, frame.id, [Stroke(points=((60.0, 50.0), (80.0, 50.0)), size=40)])
    row = models.register(library, "Nought", "onnx", str(tiny_onnx(tmp_path / "nought.onnx", 64)))
    judged(True)
    assert quote(library, originals, frame.id, sweep).model is None, "it was not allowed to"
    models.change_model(library, row.id, {"for_auto": True})
    quoted = quote(library, originals, frame.id, sweep)
    assert quoted.model == "Nought"
    assert "auto chose Nought: a rim like none" in quoted.why
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=1)))
    assert run.state == "done"
    take = desk.desk(library, frame.id).sweeps[0].takes[0]
    assert take.method == "model"
    assert "auto chose" in take.made["why"]
    judged(False)
    assert quote(library, originals, frame.id, sweep).model is None


def test_auto_does_without_a_service_that_nobody_said_yes_to(
    library: Library, frame: Frame, shed: RegisteredModel, service: Service, monkeypatch: pytest.MonkeyPatch
) -> None:
    from keen_sweep.core.fill.inventing import Verdict

    monkeypatch.setattr("keen_sweep.studio.quote.needs_inventing", lambda *_: Verdict(0.8, True, "a rim like none"))
    models.change_model(library, shed.id, {"for_auto": True})
    sweep, _ = mark.new_sweep(library, frame.id, [Stroke(points=((60.0, 50.0), (80.0, 50.0)), size=40)])
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=1)))
    assert run.state == "done"
    take = desk.desk(library, frame.id).sweeps[0].takes[0]
    assert take.method == "auto"
    assert "nobody said yes" in take.made["why"]
    assert service.books()["asked"] == 0


def test_words_are_kept_answered_and_remembered(library: Library, originals: Originals, frame: Frame) -> None:
    sweep, _ = mark.new_sweep(library, frame.id, [DOT])
    words.set_hint(library, frame.id, sweep, "remove  the chimney")
    assert "what should be seen there" in words.said_of_words(library, originals, frame.id, sweep)
    with pytest.raises(BadRequest, match="what should be seen there"):
        fill.ask_fill(library, frame.id, sweep)
    words.set_hint(library, frame.id, sweep, "a dragon")
    assert "no ground that weave knows" in words.said_of_words(library, originals, frame.id, sweep)
    words.set_hint(library, frame.id, sweep, "")
    words.set_avoid(library, frame.id, sweep, "snow")
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=1, quality="fast")))
    assert run.state == "done", run.error
    assert words.used_last(library) == ([], ["snow"])


def test_a_patch_of_this_and_of_a_sister_frame_is_drawn_from(
    library: Library, originals: Originals, frame: Frame, photo_file: Path
) -> None:
    incoming = library.incoming / "sister"
    incoming.write_bytes(photo_file.read_bytes())
    sister = gather.add_frame(library, originals, frame.shoot_id, "sister.tif", incoming)
    sweep, _ = mark.new_sweep(library, frame.id, [DOT])
    box = Box(x=100, y=90, width=60, height=50)
    words.set_ground(library, frame.id, sweep, Ground(box=box))
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=1, quality="fast")))
    assert run.state == "done", run.error
    words.set_ground(library, frame.id, sweep, Ground(box=box, frame=sister.id))
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=1, quality="fast")))
    assert run.state == "done", run.error
    own, lent = desk.desk(library, frame.id).sweeps[0].takes
    assert "lent" not in own.made
    assert lent.made["lent"] is True
    with pytest.raises(NotFound):
        words.set_ground(library, frame.id, sweep, Ground(box=box, frame=9_999))
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
        broken.setattr(fill, "keep_take", lost)
        run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=1, credits=1)))
    assert run.state == "failed"
    assert spent_in(library, [frame.shoot_id]) == {frame.shoot_id: 1}
    set_budget(library, frame.shoot_id, 2)
    run = carried_out(library, fill.ask_fill(library, frame.id, sweep, fill.Fill(takes=1, credits=1)))
    assert run.state == "done", run.error
    assert spent_in(library, [frame.shoot_id]) == {frame.shoot_id: 1}, "it was the same painting"
    assert service.books()["paid"] == 1
