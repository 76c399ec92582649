"""History: any order of edits, undos, jumps and restarts shows what replaying the edits that stand shows."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from keen_sweep.core.errors import BadRequest, Conflict, NotFound
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.touch.dab import Brush, Source
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio import desk, history
from keen_sweep.studio.choosing.arrange import delete_sweep, duplicate_sweep, reorder_sweep, set_amount, show
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.filling.move import move
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.marking.draw import move_sweep, new_sweep
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.touching.touch import delete_touches, show_touches, touch_up
from tests.support.runs import fill_now
from tests.support.stacks import shown, take_of


@dataclass(frozen=True)
class Edit:
    """An edit by what it does, to which sweep by its place, and a number that makes it one of many."""

    kind: str
    which: int
    number: int


BRUSHES = ["clone", "heal", "bring back"]
EDITS = ["mark", "pick", "amount", "show", "delete", "duplicate", "reorder", "move", "untouch", *BRUSHES]
edits = st.builds(Edit, st.sampled_from(EDITS), st.integers(0, 3), st.integers(0, 50))
steps = st.one_of(edits, st.sampled_from(["undo", "redo", "restart"]), st.integers(0, 20))


def do(library: Library, frame: Frame, edit: Edit) -> bool:
    """Carry an edit out on whatever stands there now; whether it made sense."""
    frame_id, number = frame.id or 0, edit.number
    if edit.kind == "mark":
        new_sweep(library, frame_id, [Stroke(points=((20.0 + number, 30.0 + number),), size=12)])
        return True
    if edit.kind in (*BRUSHES, "untouch"):
        return retouch(library, frame_id, edit)
    stack = open_frame(library, frame_id).stack
    if not stack.sweeps:
        return False
    sweep = stack.sweeps[edit.which % len(stack.sweeps)]
    if edit.kind == "pick":
        pick(library, frame_id, sweep.id, take_of(library, frame, sweep.id, number))
    elif edit.kind == "amount":
        set_amount(library, frame_id, sweep.id, 2 * number)
    elif edit.kind == "show":
        show(library, frame_id, sweep.id, number % 2 == 0)
    elif edit.kind == "delete":
        delete_sweep(library, frame_id, sweep.id)
    elif edit.kind == "duplicate":
        duplicate_sweep(library, frame_id, sweep.id)
    elif edit.kind == "reorder":
        reorder_sweep(library, frame_id, sweep.id, number % 5 - 2)
    else:
        try:
            move_sweep(library, frame_id, sweep.id, number - 25.0, 5.0)
        except BadRequest:
            return False
    return True


def retouch(library: Library, frame_id: int, edit: Edit) -> bool:
    """A touch-up more, or one less."""
    number = edit.number
    stack = open_frame(library, frame_id).stack
    if edit.kind == "untouch" and stack.touches:
        chosen = [stack.touches[edit.which % len(stack.touches)].id]
        if number % 2:
            delete_touches(library, frame_id, chosen)
        else:
            show_touches(library, frame_id, chosen, number % 4 == 0)
        return True
    x, y = 12.5 + 3 * number, 20.5 + 2 * number
    source = Source(at=(100.5, 70.5), to=(x, y), turn=90 * edit.which) if number % 2 else None
    if edit.kind == "untouch" or (edit.kind == "clone" and source is None):
        return False
    stroke = Stroke(points=((x, y), (x + 9, y)), size=14, softness=0.4)
    touch_up(library, frame_id, Brush(edit.kind), stroke, 40 + number, source)
    return True


@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(steps, max_size=14))
def test_any_way_through_the_history_shows_what_replaying_shows(
    library: Library, frame: Frame, photo_file: Path, todo: list[Edit | str | int]
) -> None:
    first = history.steps(library, frame.id or 0)[0].revision
    history.go_to(library, frame.id or 0, first)
    here = first
    paths: dict[int, list[Edit]] = {first: []}
    now = library
    for step in todo:
        if step == "restart":
            now = Library(Path(library.folder))
        elif step in ("undo", "redo"):
            try:
                here = (history.undo if step == "undo" else history.redo)(now, frame.id or 0).id or 0
            except Conflict:
                continue
            # Redo may lead into what an earlier example left behind: that is no path of ours.
            if here not in paths:
                history.go_to(now, frame.id or 0, first)
                here = first
        elif isinstance(step, int):
            known = sorted(paths)
            here = known[step % len(known)]
            history.go_to(now, frame.id or 0, here)
        elif isinstance(step, Edit) and do(now, frame, step):
            present = next(s.revision for s in history.steps(now, frame.id or 0) if s.now)
            if present != here:
                paths[present] = [*paths[here], step]
                here = present
    pixels, masks = shown(now, frame)
    incoming = library.incoming / "again"
    incoming.write_bytes(photo_file.read_bytes())
    again = add_frame(library, frame.shoot_id, "again.tif", incoming)
    for edit in paths[here]:
        do(library, again, edit)
    replayed, replayed_masks = shown(library, again)
    assert np.array_equal(pixels, replayed)
    assert len(masks) == len(replayed_masks)
    assert all(np.array_equal(a, b) for a, b in zip(masks, replayed_masks, strict=True))


def test_undone_steps_can_be_visited_and_none_is_lost(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    do(library, frame, Edit("mark", 0, 1))
    do(library, frame, Edit("mark", 0, 40))
    history.undo(library, frame_id)
    do(library, frame, Edit("amount", 0, 30))
    told = history.steps(library, frame_id)
    assert [s.title for s in told[1:]] == ["Sweep 1: new mark", "Sweep 2: new mark", "Sweep 1: opacity 60 %"]
    assert [s.on for s in told] == [True, True, False, True]
    assert [s.now for s in told] == [False, False, False, True]
    undone = told[2]
    assert undone.box.width < 60, "its picture is of the place that changed"
    history.go_to(library, frame_id, undone.revision)
    assert len(desk.desk(library, frame_id).sweeps) == 2
    assert len(history.steps(library, frame_id)) == 4
    with pytest.raises(NotFound):
        history.go_to(library, frame_id, 999)


def test_a_moved_sweep_is_filled_where_it_is_then(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    sweep_id, _ = new_sweep(library, frame_id, [Stroke(points=((60.0, 60.0),), size=20)])
    fill_now(library, frame, sweep_id, takes=1)
    best = desk.desk(library, frame_id).sweeps[0].best
    pick(library, frame_id, sweep_id, best)
    move(library, frame_id, sweep_id, 40, 20)
    assert desk.desk(library, frame_id).sweeps[0].sweep.pick is None
    box = open_frame(library, frame_id).mask(sweep_id).box
    assert (box.x, box.right) == (88, 112)
    assert desk.desk(library, frame_id).sweeps[0].state == "waiting"
    with pytest.raises(Conflict):
        move(library, frame_id, sweep_id, 10, 0)
    assert open_frame(library, frame_id).mask(sweep_id).box == box, (
        "it cannot be filled again now: it stays where it is"
    )
    with pytest.raises(BadRequest, match="out of the picture"):
        move_sweep(library, frame_id, sweep_id, 4000, 0)
    with pytest.raises(BadRequest, match="at least a pixel"):
        move_sweep(library, frame_id, sweep_id, 0, 0)


def test_a_duplicate_starts_afresh_and_order_decides_what_lies_on_top(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    first, _ = new_sweep(library, frame_id, [Stroke(points=((30.0, 30.0),), size=12)], "Cup")
    pick(library, frame_id, first, take_of(library, frame, first, 3))
    second, _ = duplicate_sweep(library, frame_id, first)
    one, two = desk.desk(library, frame_id).sweeps
    assert (two.sweep.name, two.sweep.pick, two.takes) == ("Cup again", None, [])
    assert two.sweep.mark == one.sweep.mark
    pick(library, frame_id, second, take_of(library, frame, second, 4))
    over, _ = shown(library, frame)
    reorder_sweep(library, frame_id, second, -1)
    assert [s.sweep.id for s in desk.desk(library, frame_id).sweeps] == [second, first]
    under, _ = shown(library, frame)
    assert not np.array_equal(over, under)
    reorder_sweep(library, frame_id, second, 9)
    assert np.array_equal(shown(library, frame)[0], over)
