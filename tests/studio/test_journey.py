"""The journey without a screen: gather, mark, fill, choose, go back, deliver."""

import hashlib
import io
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

import numpy as np
import pytest
import tifffile

from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadMask, BadPicture, BadRequest, Conflict, LibraryTrouble, NotFound
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import patch_from_bytes
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.scout.found import FindKind, Found
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio import desk, history
from keen_sweep.studio.choosing.arrange import delete_sweep, show
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.delivering.deliver import deliver
from keen_sweep.studio.delivering.wanted import Kind, Wanted
from keen_sweep.studio.filling.ask import ask_fill, cancel
from keen_sweep.studio.filling.fill import Fill, FillRequest
from keen_sweep.studio.filling.sweep_method import choose_method
from keen_sweep.studio.finding.finds import keep_found
from keen_sweep.studio.gathering import gone
from keen_sweep.studio.gathering.frames import add_frame, remove_frame
from keen_sweep.studio.gathering.names import natural
from keen_sweep.studio.gathering.shoots import delete_shoot, make_shoot, shoots
from keen_sweep.studio.look import Look, crop, look
from keen_sweep.studio.marking.draw import add_shapes, clear_mark, new_sweep, rename_sweep
from tests.support.masks import mask_of_strokes
from tests.support.runs import fill_now
from tests.support.sure import sure

DOT = Stroke(points=((100.0, 80.0), (120.0, 84.0)), size=24)
MORE = Stroke(points=((60.0, 60.0),), size=10)


def test_from_stroke_to_file_nothing_but_the_mask_changes(library: Library, frame: Frame, photo_file: Path) -> None:
    original = library.files.path(frame.original)
    before = hashlib.sha256(original.read_bytes()).hexdigest()
    sweep, _ = new_sweep(library, frame.id, [DOT])
    assert desk.desk(library, frame.id).sweeps[0].state == "marked"
    assert fill_now(library, frame, sweep).state == "done"
    on_desk = desk.desk(library, frame.id).sweeps[0]
    assert (on_desk.state, len(on_desk.takes)) == ("provisional", 3)
    pick(library, frame.id, sweep, on_desk.best)
    assert desk.desk(library, frame.id).sweeps[0].state == "kept"
    made = deliver(library, frame.id)
    assert (made.name, made.media_type) == ("roof-swept.tif", "image/tiff")
    after, source = tifffile.imread(io.BytesIO(made.data)), tifffile.imread(photo_file)
    assert after.dtype == np.uint16
    inside = mask_of_strokes([DOT], frame.width, frame.height) > 0
    assert np.array_equal(after[~inside], source[~inside])
    assert np.mean(after[inside] != source[inside]) > 0.5
    assert hashlib.sha256(original.read_bytes()).hexdigest() == before == frame.original


def test_undo_and_redo_reach_every_state_and_survive_a_restart(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    add_shapes(library, frame.id, sweep, [MORE])
    fill_now(library, frame, sweep, takes=1)
    take = desk.desk(library, frame.id).sweeps[0].takes[0].id
    pick(library, frame.id, sweep, take)
    show(library, frame.id, sweep, False)
    delete_sweep(library, frame.id, sweep)
    library.close()
    again = Library(library.folder)
    titles = []
    while (undo := desk.desk(again, frame.id).undo) is not None:
        titles.append(undo)
        history.undo(again, frame.id)
    done = ["delete sweep", "switch off", "take 1 picked", "add to mark", "new mark"]
    assert titles == [f"Sweep 1: {each}" for each in done]
    assert desk.desk(again, frame.id).sweeps == []
    with pytest.raises(Conflict, match="nothing to undo"):
        history.undo(again, frame.id)
    while desk.desk(again, frame.id).redo is not None:
        history.redo(again, frame.id)
    assert desk.desk(again, frame.id).sweeps == []
    history.undo(again, frame.id)
    history.undo(again, frame.id)
    kept = desk.desk(again, frame.id).sweeps[0]
    assert (kept.pick, kept.state) == (take, "kept")  # the take was never thrown away
    again.close()


def test_two_windows_edit_the_same_frame_and_both_edits_stay(library: Library, frame: Frame) -> None:
    other = Library(library.folder)
    first, _ = new_sweep(library, frame.id, [DOT], "one")
    new_sweep(other, frame.id, [MORE], "two")
    rename_sweep(library, frame.id, first, "first")
    assert [s.sweep.name for s in desk.desk(other, frame.id).sweeps] == ["first", "two"]
    other.close()


def test_what_is_shown_is_what_is_delivered(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    fill_now(library, frame, sweep)
    takes = desk.desk(library, frame.id).sweeps[0].takes
    pick(library, frame.id, sweep, takes[0].id)
    box = Box(x=90, y=60, width=50, height=40)
    shown = look(library, frame.id, Look(), box, 0).pixels
    delivered = tifffile.imread(io.BytesIO(deliver(library, frame.id).data))[box.slices]
    # What lies between two steps of the screen is shown by a pattern of both.
    apart = shown.astype(float) - delivered / 257
    assert np.abs(apart).max() < 1
    assert np.abs(apart.mean(axis=(0, 1))).max() < 0.1
    as_shot = look(library, frame.id, Look(as_shot=True), box, 0).pixels
    without = look(library, frame.id, Look(sweep=sweep, take=0), box, 0).pixels
    assert np.array_equal(as_shot, without)
    other = look(library, frame.id, Look(sweep=sweep, take=takes[1].id), box, 0).pixels
    assert not np.array_equal(other, shown)
    assert crop(library, frame.id, Look(), Box(x=0, y=0, width=200, height=150), 50).pixels.shape == (38, 50, 3)


def test_more_takes_carry_on_with_new_seeds_and_keep_the_old(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    fill_now(library, frame, sweep, takes=2)
    fill_now(library, frame, sweep, takes=2)
    takes = desk.desk(library, frame.id).sweeps[0].takes
    assert [take.seed for take in takes] == [0, 1, 2, 3]
    assert len({take.patch for take in takes}) == 4


def test_a_sweep_is_filled_on_top_of_the_ones_below(library: Library, frame: Frame) -> None:
    below, _ = new_sweep(library, frame.id, [DOT])
    fill_now(library, frame, below, takes=1)
    pick(library, frame.id, below, desk.desk(library, frame.id).sweeps[0].takes[0].id)
    above, _ = new_sweep(library, frame.id, [DOT.model_copy(update={"size": 8.0})])
    fill_now(library, frame, above, takes=1)
    assert desk.desk(library, frame.id).sweeps[1].state == "provisional"


def test_a_fill_is_made_of_the_photograph_alone(library: Library, frame: Frame) -> None:
    """A sweep beside an earlier one may look at what was made up there, but copies nothing of it."""
    first, _ = new_sweep(library, frame.id, [DOT])
    fill_now(library, frame, first, takes=1)
    pick(library, frame.id, first, desk.desk(library, frame.id).sweeps[0].best)
    beside = Stroke(points=((100.0, 106.0), (120.0, 110.0)), size=20)
    second, _ = new_sweep(library, frame.id, [beside])
    choose_method(library, frame.id, second, Method.WEAVE)
    fill_now(library, frame, second, takes=3)
    made_up = mask_of_strokes([DOT], frame.width, frame.height) > 0
    for take in desk.desk(library, frame.id).sweeps[1].takes:
        patch = patch_from_bytes(library.files.read(take.patch))
        rows, columns = np.nonzero(sure(patch.offsets).any(axis=2))
        dx, dy = sure(patch.offsets)[rows, columns].T
        assert len(rows) > 100
        assert not made_up[rows + patch.box.y + dy, columns + patch.box.x + dx].any()


def test_how_a_sweep_was_to_be_filled_is_kept_with_the_run(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    run = ask_fill(library, frame.id, sweep, Fill(takes=2, quality="fast", staged=True))
    kept = FillRequest.model_validate(run.request)
    assert kept == FillRequest(
        revision=desk.desk(library, frame.id).revision,
        takes=2,
        quality="fast",
        staged=True,
        seed=0,
        consent=kept.consent,
    )
    assert kept.credits == 0, "nobody agreed to pay"
    cancel(library, run.id)
    # A run of an older version says nothing of stages.
    older = {key: value for key, value in run.request.items() if key != "staged"}
    assert FillRequest.model_validate(older).staged is False


def test_senseless_wishes_leave_everything_as_it_was(library: Library, frame: Frame) -> None:
    sweep, revision = new_sweep(library, frame.id, [DOT])
    wishes: list[tuple[type[Exception], Callable[[], object]]] = [
        (BadRequest, lambda: new_sweep(library, frame.id, [DOT.model_copy(update={"erase": True})])),
        (BadRequest, lambda: rename_sweep(library, frame.id, sweep, "  ")),
        (NotFound, lambda: pick(library, frame.id, sweep, 999)),
        (NotFound, lambda: show(library, frame.id, "nobody", True)),
        (NotFound, lambda: desk.desk(library, 999)),
        (NotFound, lambda: deliver(library, frame.id, revision_id=999)),
        (BadRequest, lambda: make_shoot(library, " \n ")),
    ]
    for error, wish in wishes:
        with pytest.raises(error):
            wish()
    assert desk.desk(library, frame.id).revision == revision.id
    clear_mark(library, frame.id, sweep)
    with pytest.raises(BadMask, match="empty"):
        ask_fill(library, frame.id, sweep)


def test_a_sweep_is_filled_once_at_a_time_and_a_waiting_run_can_be_cancelled(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    run = ask_fill(library, frame.id, sweep)
    with pytest.raises(Conflict, match="being filled"):
        ask_fill(library, frame.id, sweep)
    assert cancel(library, run.id).state == "cancelled"
    assert desk.desk(library, frame.id).sweeps[0].state == "marked"


def test_a_picture_that_cannot_be_used_leaves_no_trace(library: Library) -> None:
    shoot = make_shoot(library, "Empty")
    file = library.incoming / "upload"
    file.write_bytes(b"\xff\xd8\xff but then text")
    before = sorted(library.files.folder.rglob("*"))
    with pytest.raises(BadPicture):
        add_frame(library, shoot.id, "a.jpg", file)
    assert sorted(library.files.folder.rglob("*")) == before
    assert list(library.views.iterdir()) == []
    assert shoots(library)[0][1] == []


def test_a_full_disk_is_said_and_nothing_is_half_written(
    library: Library, frame: Frame, monkeypatch: pytest.MonkeyPatch
) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])

    def full(_fd: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("keen_sweep.core.photo.write.os.fsync", full)
    run = fill_now(library, frame, sweep)
    assert run.state == "failed"
    assert "No space left" in sure(run.error)
    assert not list(library.files.folder.rglob(".part-*"))
    assert desk.desk(library, frame.id).sweeps[0].takes == []
    monkeypatch.undo()
    assert fill_now(library, frame, sweep).state == "done"


def test_views_that_were_lost_are_made_again_and_lost_originals_are_named(library: Library, frame: Frame) -> None:
    import shutil

    shutil.rmtree(library.views)
    library.views.mkdir()
    box = Box(x=0, y=0, width=20, height=20)
    assert look(library, frame.id, Look(), box, 0).pixels.shape == (20, 20, 3)
    library.files.path(frame.original).unlink()
    with pytest.raises(NotFound, match="missing"):
        deliver(library, frame.id)


def test_a_moved_library_works_as_it_is(library: Library, frame: Frame, tmp_path: Path) -> None:
    library.close()
    moved = Library(library.folder.rename(tmp_path / "elsewhere"))
    assert deliver(moved, frame.id, Wanted(kind=Kind.PNG)).name == "roof-swept.png"
    moved.close()


def test_one_server_at_a_time_and_damage_is_named(library: Library, tmp_path: Path) -> None:
    library.claim()
    with pytest.raises(Conflict, match="already open"):
        Library(library.folder).claim()
    broken = tmp_path / "broken"
    broken.mkdir()
    (broken / "library.db").write_bytes(b"this is no database" * 100)
    with pytest.raises(LibraryTrouble, match="damaged"):
        Library(broken)


def test_what_was_removed_long_ago_takes_its_rows_along(
    library: Library, frame: Frame, monkeypatch: pytest.MonkeyPatch
) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    fill_now(library, frame, sweep, takes=1)
    remove_frame(library, frame.id)
    monkeypatch.setattr(gone, "UNDELETE_TIME", timedelta(days=-1))
    gone.forget_old(library)
    with pytest.raises(NotFound):
        desk.desk(library, frame.id)
    delete_shoot(library, frame.shoot_id)
    assert shoots(library) == []


def test_frames_are_in_the_order_people_count() -> None:
    names = ["frame 10", "Frame 9", "frame 9b", "a"]
    assert sorted(names, key=natural) == ["Frame 9", "frame 9b", "frame 10", "a"] or sorted(names, key=natural) == [
        "a",
        "Frame 9",
        "frame 9b",
        "frame 10",
    ]


def test_a_fill_takes_nothing_from_people_who_were_found_beside_it(library: Library, frame: Frame) -> None:
    person = Box(x=130, y=60, width=40, height=60)
    mask = Mask(person, np.full((person.height, person.width), 255, np.uint8))
    with library.session() as session:
        found = Found(FindKind.PEOPLE, "Person 1", mask, 0.8, "", subject=True, chosen=False)
        keep_found(library, session, frame, FindKind.PEOPLE, [found])
    sweep, _ = new_sweep(library, frame.id, [Stroke(points=((105.0, 70.0), (105.0, 110.0)), size=30)])
    assert fill_now(library, frame, sweep).state == "done"
    for take in desk.desk(library, frame.id).sweeps[0].takes:
        patch = patch_from_bytes(library.files.read(take.patch))
        y, x = np.nonzero(patch.alpha)
        dx, dy = sure(patch.offsets)[y, x].T
        from_x, from_y = x + patch.box.x + dx, y + patch.box.y + dy
        inside = (from_x >= person.x) & (from_x < person.right) & (from_y >= person.y) & (from_y < person.bottom)
        assert not inside.any()
