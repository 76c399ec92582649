"""Touching up as a use case: sources, cautions, switching off, deleting."""

import io
import time
from concurrent.futures import ThreadPoolExecutor
from functools import partial

import numpy as np
import pytest
import tifffile

from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest, LibraryTrouble, NotFound
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.touch.dab import Brush, Source
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio import desk, history
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.delivering.deliver import deliver
from keen_sweep.studio.delivering.wanted import Kind, Wanted
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.originals import Originals
from keen_sweep.studio.touching.touch import cautions_for, delete_touches, show_touches, touch_up
from tests.support.stacks import shown, take_of

DAB = Stroke(points=((60.5, 60.5),), size=20)
FROM = Source(at=(140.5, 100.5), to=(60.5, 60.5))


def test_strokes_lie_in_the_order_made_and_can_be_switched_off_and_deleted(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    shot = shown(library, frame)[0]
    one, _ = touch_up(library, frame_id, Brush.CLONE, DAB, 100, FROM)
    new_sweep(library, frame_id, [DAB])
    two, _ = touch_up(library, frame_id, Brush.BRING_BACK, Stroke(points=((64.5, 60.5),), size=6))
    on_desk = desk.desk(library, frame_id)
    assert [(t.id, over) for t, over in on_desk.touches] == [(one.id, 0), (two.id, 1)]
    assert [s.number for s in on_desk.sweeps] == [1]
    both = shown(library, frame)[0]
    told_apart = {tuple(map(int, shot[y, x])) for y, x in ((60, 64), (60, 54), (100, 134), (100, 144))}
    assert len(told_apart) == 4, "each of them can be told from the others"
    assert np.array_equal(both[60, 64], shot[60, 64])
    assert np.array_equal(both[60, 54], shot[100, 134])
    show_touches(library, frame_id, [two.id], False)
    assert np.array_equal(shown(library, frame)[0][60, 64], shot[100, 144])
    delete_touches(library, frame_id, [one.id, two.id])
    assert np.array_equal(shown(library, frame)[0], shot)
    for _ in range(2):
        history.undo(library, frame_id)
    assert np.array_equal(shown(library, frame)[0], both)
    with pytest.raises(NotFound, match="touch-up"):
        delete_touches(library, frame_id, ["nothing"])


def test_what_a_take_picked_below_changes_is_what_the_brush_above_it_copies(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    sweep, _ = new_sweep(library, frame_id, [DAB])
    take = take_of(library, frame, sweep, 50)
    source = Source(at=(70.5, 65.5), to=(20.5, 20.5))
    touch_up(library, frame_id, Brush.CLONE, Stroke(points=((20.5, 20.5),), size=10), 100, source)
    before = shown(library, frame)[0]
    assert np.array_equal(before[20, 20], before[65, 70]), "as shot, so far"
    pick(library, frame_id, sweep, take)
    after = shown(library, frame)[0]
    assert not np.array_equal(after[65, 70], before[65, 70]), "the take lies there"
    assert np.array_equal(after[20, 20], after[65, 70])
    delivered = tifffile.imread(io.BytesIO(deliver(library, frame_id, Wanted(kind=Kind.TIFF)).data))
    assert np.array_equal(delivered, after)


def test_a_heal_finds_ground_of_the_same_kind_by_itself(library: Library, frame: Frame) -> None:
    made, _ = touch_up(library, frame.id or 0, Brush.HEAL, Stroke(points=((100.5, 75.5),), size=12))
    assert made.source is not None
    away = np.hypot(made.source.at[0] - 100.5, made.source.at[1] - 75.5)
    assert 12 < away < 60
    assert made.source.to == (100.5, 75.5)
    assert cautions_for(library, frame.id or 0, made.id) == []


def test_a_heal_does_not_copy_from_what_is_still_to_go(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    heal = Stroke(points=((100.5, 75.5),), size=12)
    free, _ = touch_up(library, frame_id, Brush.HEAL, heal)
    history.undo(library, frame_id)
    assert free.source is not None
    new_sweep(library, frame_id, [Stroke(points=(free.source.at,), size=16)])
    other, _ = touch_up(library, frame_id, Brush.HEAL, heal)
    assert other.source is not None
    assert np.hypot(other.source.at[0] - free.source.at[0], other.source.at[1] - free.source.at[1]) > 8


def test_what_goes_wrong_with_cloning_is_pointed_out(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0

    def kinds(stroke: Stroke, strength: int, source: Source) -> list[str]:
        made, _ = touch_up(library, frame_id, Brush.CLONE, stroke, strength, source)
        return [each.kind for each in cautions_for(library, frame_id, made.id)]

    assert kinds(DAB, 100, FROM) == []
    new_sweep(library, frame_id, [Stroke(points=((140.5, 100.5),), size=10)])
    assert kinds(DAB, 100, FROM) == ["thing"]
    assert kinds(DAB, 100, Source(at=(2.5, 100.5), to=(60.5, 60.5))) == ["edge"]
    # The same patch for the third time, the last one by way of a copy of it.
    patch = (40.5, 120.5)
    places = [(100.5, 30.5), (130.5, 30.5), (160.5, 30.5)]
    dabs = [Stroke(points=(place,), size=20) for place in places]
    assert kinds(dabs[0], 100, Source(at=patch, to=places[0])) == []
    assert kinds(dabs[1], 100, Source(at=patch, to=places[1])) == []
    assert kinds(dabs[2], 100, Source(at=places[0], to=places[2])) == ["pattern"]


def test_many_weak_strokes_are_called_soft(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    found = []
    for k in range(4):
        source = Source(at=(30.5 + 35 * k, 115.5 - 3 * k), to=(60.5, 60.5))
        made, _ = touch_up(library, frame_id, Brush.CLONE, DAB, 30, source)
        found.append([each.kind for each in cautions_for(library, frame_id, made.id)])
    assert found[:2] == [[], []]
    assert found[2] == ["soft"]


def test_senseless_strokes_are_refused_and_damage_is_named(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    with pytest.raises(BadRequest, match="source"):
        touch_up(library, frame_id, Brush.CLONE, DAB)
    with pytest.raises(BadRequest, match="outside"):
        touch_up(library, frame_id, Brush.HEAL, Stroke(points=((900.0, 900.0),), size=20))
    with pytest.raises(BadRequest, match="round this stroke"):
        touch_up(library, frame_id, Brush.HEAL, Stroke(points=((100.0, 75.0),), size=900))
    made, _ = touch_up(library, frame_id, Brush.CLONE, DAB, 100, FROM)
    file = library.files.path(made.stroke)
    file.chmod(0o644)
    file.write_text("{}")
    with pytest.raises(LibraryTrouble, match="stroke is damaged"):
        shown(library, frame)


def test_tiles_asked_for_side_by_side_work_a_patch_out_once(originals: Originals) -> None:
    patch = Patch(
        Box(x=0, y=0, width=4, height=4), np.zeros((4, 4, 3), np.uint8), np.zeros((4, 4), np.uint8), Brush.CLONE, 0
    )
    made = []

    def make() -> Patch:
        made.append(1)
        time.sleep(0.05)
        return patch

    with ThreadPoolExecutor(4) as threads:
        got = list(threads.map(lambda _: originals.made("a key", make), range(8)))
    assert all(each is patch for each in got)
    assert len(made) == 1

    def broken() -> Patch:
        raise LibraryTrouble("gone")

    for _ in range(2):
        with pytest.raises(LibraryTrouble, match="gone"):
            originals.made("another", broken)


def test_patches_that_were_not_used_for_longest_are_let_go(library: Library, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("keen_sweep.studio.originals.CACHED_PATCH_BYTES", 1_000)
    originals = Originals(library)
    made: list[str] = []

    def patch_of(name: str) -> Patch:
        made.append(name)
        return Patch(
            Box(x=0, y=0, width=10, height=10),
            np.zeros((10, 10, 3), np.uint8),
            np.zeros((10, 10), np.uint8),
            Brush.CLONE,
            ord(name),
        )

    for name in "aabab" + "c" * 3 + "ab":
        assert originals.made(name, partial(patch_of, name)).seed == ord(name)
    # Two patches of 400 bytes fit: c pushes a out, whose turn pushes b out.
    assert made == ["a", "b", "c", "a", "b"]
