"""Newer versions of a picture: taken up, out of step, laid again."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from keen_sweep.core.errors import AlreadyThere, BadRequest, Conflict
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.patch import patch_from_bytes, patch_to_bytes
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.write import encode_picture
from keen_sweep.core.touch.dab import Brush, Source
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Run, Take
from keen_sweep.store.words import RunState
from keen_sweep.studio.choosing.mix import mix_takes
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.delivering.ledger import ledger_of
from keen_sweep.studio.desk import SweepState, desk
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.carry_out import carry_out
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.filling.lay_again import lay_again, let_go
from keen_sweep.studio.filling.takes import takes_of
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.gathering.versions import take_up
from keen_sweep.studio.history import redo, steps, undo
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.sitting import sit
from keen_sweep.studio.touching.touch import touch_up

MARK = Stroke(points=((250.0, 150.0), (280.0, 160.0)), size=26)
ROD = Stroke(points=((60.0, 30.0), (160.0, 34.0)), size=6)


def graded(pixels: np.ndarray) -> np.ndarray:
    """Another grade: a gain and a curve."""
    light = np.clip(pixels / 255.0 * 1.18, 0, 1)
    return np.rint((0.7 * light + 0.3 * light**2) * 255).astype(np.uint8)


def written(library: Library, pixels: np.ndarray, name: str = "new.png") -> Path:
    file = library.incoming / name
    file.write_bytes(encode_picture(Picture(pixels=pixels, format="png"), "png"))
    return file


@pytest.fixture
def photo(library: Library, photograph: np.ndarray) -> Frame:
    """The photograph with two sweeps that were filled and picked."""
    # With room above, so that no tone is clipped by another grade.
    calm = (photograph * 0.8).astype(np.uint8)
    frame = add_frame(library, make_shoot(library, "Roofs").id, "roof.png", written(library, calm))
    for shape, method in ((MARK, Method.WEAVE), (ROD, Method.CLOSE)):
        sweep, _ = new_sweep(library, frame.id, [shape])
        run = ask_fill(library, frame.id, sweep, Fill(takes=1, quality=Quality.FAST, seed=3, method=method, pick=True))
        with library.session() as session:
            row = session.get_one(Run, run.id)
            row.state = RunState.RUNNING
            session.add(row)
        carry_out(library, run.id)
    assert all(sweep.pick for sweep in sit(library, frame.id).stack.sweeps)
    return frame


def states(library: Library, frame: Frame) -> list[SweepState]:
    return [each.state for each in desk(library, frame.id).sweeps]


def shot(library: Library, frame: Frame) -> np.ndarray:
    return np.asarray(sit(library, frame.id).pyramid.level(0))


def test_fills_follow_a_grade_by_a_gain_and_a_curve(library: Library, photo: Frame) -> None:
    before = sit(library, photo.id).seen()
    newer = graded(shot(library, photo))
    take_up(library, photo.id, "roof, graded.png", written(library, newer))
    assert states(library, photo) == [SweepState.OUT_OF_STEP] * 2
    # Until they are laid again the picture is seen without them, and none is in old tones.
    assert np.array_equal(sit(library, photo.id).seen(), newer)
    done = lay_again(library, photo.id)
    assert (done.laid, done.left) == (2, ())
    assert states(library, photo) == [SweepState.KEPT] * 2
    after = sit(library, photo.id).seen().astype(float)
    wanted = graded(before).astype(float)
    filled = (before != shot(library, photo)).any(axis=2) | (after != newer).any(axis=2)
    woven = np.zeros_like(filled)
    woven[120:190, 220:310] = True
    off = np.abs(after - wanted)
    assert off[filled & woven].mean() < 0.75
    assert off[filled].mean() < 1.5
    first, second = (takes_of(library, sweep.id) for sweep in sit(library, photo.id).stack.sweeps)
    assert [len(first), len(second)] == [2, 2]
    assert first[1].made["of"] == [first[0].id]
    assert [entry.seed for entry in ledger_of(library, photo.id).entries] == [3, 3]


def test_both_versions_stay_in_the_history(library: Library, photo: Frame) -> None:
    old, before = shot(library, photo), sit(library, photo.id).seen()
    newer = old.astype(np.uint16) * 257
    take_up(library, photo.id, "roof, 16 bit.png", written(library, newer))
    lay_again(library, photo.id)
    after = sit(library, photo.id).seen()
    assert after.dtype == np.uint16
    assert np.abs(after.astype(int) - before.astype(int) * 257).mean() < 130
    assert desk(library, photo.id).frame.depth == 16
    undo(library, photo.id)
    undo(library, photo.id)
    assert np.array_equal(sit(library, photo.id).seen(), before)
    assert desk(library, photo.id).frame.depth == 8
    redo(library, photo.id)
    redo(library, photo.id)
    assert np.array_equal(sit(library, photo.id).seen(), after)
    titles = [step.title for step in steps(library, photo.id)]
    assert "newer version, roof, 16 bit.png" in titles
    assert "lay fills again" in titles
    # A state of the history is of its own version, whichever is shown.
    first = min(step.revision for step in steps(library, photo.id))
    assert np.array_equal(sit(library, photo.id, first).seen(), old)


def test_a_take_of_an_earlier_version_is_not_picked_as_it_is(library: Library, photo: Frame) -> None:
    sweep = sit(library, photo.id).stack.sweeps[0]
    (take,) = takes_of(library, sweep.id)
    take_up(library, photo.id, "new.png", written(library, graded(shot(library, photo))))
    with pytest.raises(Conflict, match="another version"):
        pick(library, photo.id, sweep.id, take.id)
    let_go(library, photo.id)
    assert states(library, photo) == [SweepState.CHOOSE] * 2


def test_a_fill_that_ends_after_a_newer_version_came_is_of_the_earlier_one(library: Library, photo: Frame) -> None:
    sweep = sit(library, photo.id).stack.sweeps[0]
    run = ask_fill(library, photo.id, sweep.id, Fill(takes=1, quality=Quality.FAST, seed=8, pick=True))
    take_up(library, photo.id, "new.png", written(library, graded(shot(library, photo))))
    with library.session() as session:
        row = session.get_one(Run, run.id)
        row.state = RunState.RUNNING
        session.add(row)
    carry_out(library, run.id)
    with library.session() as session:
        assert session.get_one(Run, run.id).state is RunState.DONE
    late = takes_of(library, sweep.id)[-1]
    assert late.original == photo.original
    assert states(library, photo)[0] is SweepState.OUT_OF_STEP
    with pytest.raises(Conflict, match="another version"):
        mix_takes(library, photo.id, sweep.id, late.id, 0, [MARK])


def test_what_was_not_made_of_the_picture_stays_out_of_step_and_says_why(library: Library, photo: Frame) -> None:
    sweep = sit(library, photo.id).stack.sweeps[0]
    (take,) = takes_of(library, sweep.id)
    borrowed = replace(patch_from_bytes(library.files.read(take.patch)), method="borrow")
    with library.session() as session:
        row = session.get_one(Take, take.id)
        row.patch = library.files.add(patch_to_bytes(borrowed))
        session.add(row)
    pick(library, photo.id, sweep.id, take.id)
    take_up(library, photo.id, "new.png", written(library, graded(shot(library, photo))))
    done = lay_again(library, photo.id)
    assert done.laid == 1
    ((name, why),) = done.left
    assert name == sweep.name
    assert "cannot be laid again" in why
    assert states(library, photo) == [SweepState.OUT_OF_STEP, SweepState.KEPT]


def test_marks_guards_and_touch_ups_follow(library: Library, photo: Frame) -> None:
    source = Source(at=(400.5, 300.5), to=(500.5, 200.5))
    touch_up(library, photo.id, Brush.CLONE, Stroke(points=((500.5, 200.5),), size=20), 100, source)
    before = sit(library, photo.id).stack
    newer = graded(shot(library, photo))
    take_up(library, photo.id, "new.png", written(library, newer))
    after = sit(library, photo.id).stack
    assert [sweep.mark for sweep in after.sweeps] == [sweep.mark for sweep in before.sweeps]
    assert after.touches == before.touches
    assert np.array_equal(sit(library, photo.id).seen()[200, 500], newer[300, 400])


def test_what_is_no_newer_version_is_refused_and_nothing_changes(
    library: Library, photo: Frame, photograph: np.ndarray
) -> None:
    present = shot(library, photo)
    same = encode_picture(Picture(pixels=present, format="png"), "png")
    (library.incoming / "same.png").write_bytes(same)
    with pytest.raises(AlreadyThere):
        take_up(library, photo.id, "same.png", library.incoming / "same.png")
    for pixels, words in (
        (present[:400], "640 x 400 px, the picture 640 x 427"),
        (np.ascontiguousarray(photograph[::-1, ::-1]), "does not show the same picture|lies otherwise"),
        (np.roll(present, 5, axis=1), "lies otherwise"),
        (np.random.default_rng(1).integers(0, 255, present.shape).astype(np.uint8), "does not show the same"),
    ):
        with pytest.raises(BadRequest, match=words):
            take_up(library, photo.id, "other.png", written(library, np.ascontiguousarray(pixels)))
    assert np.array_equal(shot(library, photo), present)
    assert states(library, photo) == [SweepState.KEPT] * 2
