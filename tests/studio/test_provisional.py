"""Takes that stand before anybody has picked: seen, built upon, delivered, and told apart."""

import io

import numpy as np
import pytest
import tifffile
from sqlmodel import select

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import patch_from_bytes
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Provisional, Take
from keen_sweep.store.words import RunState
from keen_sweep.studio import history
from keen_sweep.studio.choosing.arrange import duplicate_sweep
from keen_sweep.studio.choosing.pick import accept_all, pick
from keen_sweep.studio.choosing.settle import settle
from keen_sweep.studio.delivering.deliver import deliver
from keen_sweep.studio.delivering.ledger import ledger_of
from keen_sweep.studio.desk import SweepOnDesk, desk
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.filling.lay_again import lay_on_top
from keen_sweep.studio.filling.sweep_method import choose_method
from keen_sweep.studio.filling.takes import takes_of
from keen_sweep.studio.gathering.states import standings_of
from keen_sweep.studio.look import Look, stays
from keen_sweep.studio.marking.draw import add_shapes, new_sweep
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.provisional import set_strict
from tests.support.runs import carried_out, fill_now

DOT = Stroke(points=((100.0, 80.0), (120.0, 84.0)), size=24)
BESIDE = Stroke(points=((106.0, 84.0), (140.0, 88.0)), size=20)
ELSEWHERE = Stroke(points=((40.0, 40.0),), size=12)


def _sweep(library: Library, frame: Frame, number: int = 0) -> SweepOnDesk:
    return desk(library, frame.id).sweeps[number]


def _delivered(library: Library, frame: Frame) -> np.ndarray:
    return np.asarray(tifffile.imread(io.BytesIO(deliver(library, frame.id).data)))


def _changed(library: Library, frame: Frame) -> int:
    """How many pixels of what is delivered are not as shot."""
    shot = tifffile.imread(library.files.path(frame.original))
    return int((_delivered(library, frame) != shot).any(axis=2).sum())


def test_the_first_take_stands_without_a_step_of_the_history(library: Library, frame: Frame) -> None:
    sweep, revision = new_sweep(library, frame.id, [DOT])
    before = len(history.lines(library, frame.id))
    fill_now(library, frame, sweep)
    told = _sweep(library, frame)
    assert (told.state, told.pick, told.standing) == ("provisional", None, told.takes[0].id)
    assert len(history.lines(library, frame.id)) == before
    assert desk(library, frame.id).revision == revision.id
    assert _changed(library, frame) > 0


def test_it_gives_way_once_to_the_best_of_its_fill_and_to_no_later_one(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    run = fill_now(library, frame, sweep)
    told = _sweep(library, frame)
    best = min(told.takes, key=lambda take: (take.energy, take.seed)).id
    assert told.standing == best
    # Whatever is found out about its takes later, and however good those are that come later, it stays.
    _worst(library, best)
    settle(library, run.id)
    fill_now(library, frame, sweep)
    told = _sweep(library, frame)
    assert (len(told.takes), told.standing) == (6, best)
    assert told.best != best, "a better one is offered"


def test_what_another_fill_was_built_on_does_not_give_way(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    other, _ = new_sweep(library, frame.id, [ELSEWHERE])
    run = ask_fill(library, frame.id, sweep, Fill(takes=1, quality="fast"))
    later = ask_fill(library, frame.id, other)
    with library.session() as session:
        row = session.merge(later)
        row.state = RunState.RUNNING
        session.add(row)
    carried_out(library, run)
    (first,) = _sweep(library, frame).takes
    with library.session() as session:
        standing = session.exec(select(Provisional)).one()
        standing.settled = False
        better = Take(**session.get_one(Take, first.id).model_dump(exclude={"id"}) | {"energy": -1.0})
        session.add_all([standing, better])
    settle(library, run.id)
    with library.session() as session:
        assert session.exec(select(Provisional.take_id)).one() == first.id


def test_the_next_fill_sees_it_and_copies_nothing_of_it(library: Library, frame: Frame) -> None:
    first, _ = new_sweep(library, frame.id, [DOT])
    fill_now(library, frame, first, takes=1)
    second, _ = new_sweep(library, frame.id, [BESIDE])
    choose_method(library, frame.id, second, Method.WEAVE)
    fill_now(library, frame, second, takes=1)
    here = open_frame(library, frame.id)
    below = here.below(second)
    assert (below != here.pyramid.window(here.box)).any()
    gone = here.shelf.patch(here.stack.sweep(first).pick or "")
    patch = patch_from_bytes(here.shelf.read(here.stack.sweep(second).pick or ""))
    assert patch.offsets is not None
    y, x = np.nonzero((patch.offsets != 0).any(axis=2))
    source = patch.offsets[y, x] + np.stack([x + patch.box.x, y + patch.box.y], axis=1)
    inside = (
        (source[:, 0] >= gone.box.x)
        & (source[:, 0] < gone.box.right)
        & (source[:, 1] >= gone.box.y)
        & (source[:, 1] < gone.box.bottom)
    )
    assert len(source) > 100
    at = source[inside] - (gone.box.x, gone.box.y)
    assert not (gone.alpha[at[:, 1], at[:, 0]] > 0).any()


def test_a_larger_mark_is_filled_anew_and_that_stands(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    fill_now(library, frame, sweep, takes=2)
    add_shapes(library, frame.id, sweep, [BESIDE])
    assert _sweep(library, frame).standing == _sweep(library, frame).takes[0].id
    fill_now(library, frame, sweep, takes=2)
    told = _sweep(library, frame)
    assert told.standing == told.takes[2].id


def test_what_is_decided_does_not_change_by_a_fill(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    fill_now(library, frame, sweep, takes=2)
    pick(library, frame.id, sweep, None)
    told = _sweep(library, frame)
    assert (told.state, told.standing, _changed(library, frame)) == ("as shot", None, 0)
    assert standings_of(library, frame.shoot_id)[frame.id].state == "done"
    add_shapes(library, frame.id, sweep, [BESIDE])
    fill_now(library, frame, sweep, takes=1)
    assert _sweep(library, frame).state == "as shot"
    history.undo(library, frame.id)
    history.undo(library, frame.id)
    assert _sweep(library, frame).state == "provisional"


def test_all_are_accepted_in_one_step_that_undo_takes_back(library: Library, frame: Frame) -> None:
    sweeps = [new_sweep(library, frame.id, [each])[0] for each in (DOT, ELSEWHERE)]
    for sweep in sweeps:
        fill_now(library, frame, sweep, takes=1)
    standing = standings_of(library, frame.shoot_id)[frame.id]
    assert (standing.state, set(standing.provisional)) == ("to choose", set(sweeps))
    before = len(history.lines(library, frame.id))
    accept_all(library, frame.id)
    assert [each.state for each in desk(library, frame.id).sweeps] == ["kept", "kept"]
    assert len(history.lines(library, frame.id)) == before + 1
    assert standings_of(library, frame.shoot_id)[frame.id].state == "done"
    revision = desk(library, frame.id).revision
    assert accept_all(library, frame.id).id == revision
    history.undo(library, frame.id)
    assert [each.state for each in desk(library, frame.id).sweeps] == ["provisional", "provisional"]


def test_the_ledger_tells_it_from_a_pick(library: Library, frame: Frame) -> None:
    for each in (DOT, ELSEWHERE):
        fill_now(library, frame, new_sweep(library, frame.id, [each])[0], takes=1)
    told = _sweep(library, frame)
    pick(library, frame.id, told.sweep.id, told.standing)
    assert [entry.provisional for entry in ledger_of(library, frame.id).entries] == [False, True]


def test_in_a_strict_library_nothing_stands_before_it_is_picked(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    fill_now(library, frame, sweep, takes=1)
    seen = desk(library, frame.id)
    set_strict(library, True)
    told = desk(library, frame.id)
    assert (told.sweeps[0].state, told.sweeps[0].standing, _changed(library, frame)) == ("choose", None, 0)
    assert told.pixels != seen.pixels
    accept_all(library, frame.id)
    assert _sweep(library, frame).state == "choose"
    set_strict(library, False)
    assert desk(library, frame.id).pixels == seen.pixels


def test_a_picture_is_kept_by_browsers_only_as_long_as_it_stays_the_same(library: Library, frame: Frame) -> None:
    sweep, revision = new_sweep(library, frame.id, [DOT])
    at = Look(revision=revision.id)
    assert stays(library, frame.id, at)
    fill_now(library, frame, sweep, takes=1)
    assert not stays(library, frame.id, at)
    now = desk(library, frame.id).frame.provisional
    assert stays(library, frame.id, Look(revision=revision.id, provisional=now))
    assert stays(library, frame.id, Look(as_shot=True))
    assert not stays(library, frame.id, Look(provisional=now))


@pytest.mark.parametrize("strict", [False, True])
def test_no_copy_of_a_sweep_takes_it_along(library: Library, frame: Frame, strict: bool) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    fill_now(library, frame, sweep, takes=1)
    set_strict(library, strict)
    duplicate_sweep(library, frame.id, sweep)
    told = _sweep(library, frame, 1)
    assert (told.state, told.standing) == ("marked", None)


def test_it_stands_after_a_run_that_broke_off_and_was_resumed(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    run = ask_fill(library, frame.id, sweep)
    with library.session() as session:
        row = session.merge(run)
        row.request = {**row.request, "takes": 1, "quality": "fast"}
        session.add(row)
    carried_out(library, run)
    with library.session() as session:
        row = session.merge(run)
        row.request = {**row.request, "takes": 2, "quality": "fast"}
        session.add(row)
    carried_out(library, run)
    told = _sweep(library, frame)
    assert (len(told.takes), told.standing) == (2, told.takes[0].id)


def _worst(library: Library, take_id: int) -> None:
    """Make a take the worst of all in the eyes of the engine."""
    with library.session() as session:
        take = session.get_one(Take, take_id)
        take.energy = 1e9
        session.add(take)


def test_a_take_is_out_of_step_when_another_one_stands_below_it(library: Library, frame: Frame) -> None:
    marks = [Stroke(points=((x, 70.0),), size=24) for x in (60.0, 80.0, 150.0)]
    below, beside, far = (new_sweep(library, frame.id, [mark])[0] for mark in marks)
    for sweep in (below, beside, far):
        fill_now(library, frame, sweep, takes=2)
    first, second = (take.id for take in takes_of(library, below))
    other = second if desk(library, frame.id).sweeps[0].standing == first else first

    def out_of_step() -> list[bool]:
        return [each.below_changed for each in desk(library, frame.id).sweeps]

    assert out_of_step() == [False] * 3
    pick(library, frame.id, below, other)
    assert out_of_step() == [False, True, False]
    assert lay_on_top(library, frame.id, beside) is None, "it was provisional, and is"
    assert out_of_step() == [False] * 3
    assert desk(library, frame.id).sweeps[1].sweep.provisional
    pick(library, frame.id, beside, takes_of(library, beside)[0].id)
    assert out_of_step() == [False, True, False]
    assert lay_on_top(library, frame.id, beside) is not None
    assert out_of_step() == [False] * 3
    laid = takes_of(library, beside)[-1]
    assert laid.provenance.laid == "again"
    assert desk(library, frame.id).sweeps[1].pick == laid.id
    history.undo(library, frame.id)
    assert out_of_step() == [False, True, False]
    pick(library, frame.id, below, None)
    assert out_of_step() == [False, True, False], "as shot below is another ground too"
    with pytest.raises(BadRequest):
        lay_on_top(library, frame.id, below)
