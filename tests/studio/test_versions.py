"""Newer versions of a picture: taken up, out of step, laid again."""

from dataclasses import replace
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.ndimage import distance_transform_edt

from keen_sweep.core.box import Box
from keen_sweep.core.errors import AlreadyThere, BadRequest, Conflict
from keen_sweep.core.fill.method import MadeBy, Method, Quality
from keen_sweep.core.fill.patch import patch_from_bytes, patch_to_bytes
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.write import encode_picture
from keen_sweep.core.scout.found import FindKind, Found
from keen_sweep.core.series.similarity import Similarity
from keen_sweep.core.touch.dab import Brush, Source
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Run, Take
from keen_sweep.store.words import RunState
from keen_sweep.studio.choosing.mix import mix_takes
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.delivering.ledger import ledger_of
from keen_sweep.studio.desk import SweepState, desk
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.filling.lay_again import fill_anew, lay_again, let_go
from keen_sweep.studio.filling.takes import takes_of
from keen_sweep.studio.finding.finds import keep_found
from keen_sweep.studio.found.open_finds import open_finds
from keen_sweep.studio.found.rows import found_in
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.gathering.versions import take_up
from keen_sweep.studio.history import redo, steps, undo
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.marking.guarding import guard
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.running.carry_out import carry_out
from keen_sweep.studio.touching.touch import touch_up
from tests.support.runs import fill_now
from tests.support.similarities import straightened

MARK = Stroke(points=((250.0, 150.0), (280.0, 160.0)), size=26)
ROD = Stroke(points=((60.0, 30.0), (160.0, 34.0)), size=6)


def graded(pixels: NDArray[Any]) -> NDArray[Any]:
    """Another grade: a gain and a curve."""
    light = np.clip(pixels / 255.0 * 1.18, 0, 1)
    return np.rint((0.7 * light + 0.3 * light**2) * 255).astype(np.uint8)


def written(library: Library, pixels: NDArray[Any], name: str = "new.png") -> Path:
    file = library.incoming / name
    file.write_bytes(encode_picture(Picture(pixels=pixels, format="png"), "png"))
    return file


@pytest.fixture
def photo(library: Library, photograph: NDArray[Any]) -> Frame:
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
    assert all(sweep.pick for sweep in open_frame(library, frame.id).stack.sweeps)
    return frame


def warped(mask: NDArray[Any], lies: Similarity, newer: NDArray[Any]) -> NDArray[Any]:
    return cv2.warpAffine(mask, lies.matrix[:2], (newer.shape[1], newer.shape[0]), flags=cv2.INTER_LINEAR)


def farthest_apart(one: NDArray[Any], other: NDArray[Any]) -> float:
    """How far a pixel of one of two masks is from the other at most, pixels (Hausdorff distance)."""
    far = [distance_transform_edt(~b)[a].max() for a, b in ((one, other), (other, one))]
    return float(max(far))


def leaning(pixels: NDArray[Any]) -> NDArray[Any]:
    height, width = pixels.shape[:2]
    ends = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    there = ends + np.array([[40, 0], [-40, 0], [0, 0], [0, 0]], np.float32)
    return cv2.warpPerspective(pixels, cv2.getPerspectiveTransform(ends, there), (width, height))


def keep_some_find(library: Library, frame: Frame) -> None:
    """A find that a scout could have made, at 500, 60."""
    mask = Mask(Box(x=500, y=60, width=20, height=12), np.full((12, 20), 255, np.uint8))
    with library.session() as session:
        found = Found(kind=FindKind.THINGS, mask=mask, confidence=0.9, name="Ball", reason="round")
        keep_found(library, session, open_frame(library, frame.id).frame, FindKind.THINGS, [found])


def states(library: Library, frame: Frame) -> list[SweepState]:
    return [each.state for each in desk(library, frame.id).sweeps]


def shot(library: Library, frame: Frame) -> NDArray[Any]:
    return np.asarray(open_frame(library, frame.id).pyramid.level(0))


def test_fills_follow_a_grade_by_a_gain_and_a_curve(library: Library, photo: Frame) -> None:
    before = open_frame(library, photo.id).seen()
    newer = graded(shot(library, photo))
    take_up(library, photo.id, "roof, graded.png", written(library, newer))
    assert states(library, photo) == [SweepState.OUT_OF_STEP] * 2
    # Until they are laid again the picture is seen without them, and none is in old tones.
    assert np.array_equal(open_frame(library, photo.id).seen(), newer)
    done = lay_again(library, photo.id)
    assert (done.done, done.left) == (2, ())
    assert states(library, photo) == [SweepState.KEPT] * 2
    after = open_frame(library, photo.id).seen().astype(float)
    wanted = graded(before).astype(float)
    filled = (before != shot(library, photo)).any(axis=2) | (after != newer).any(axis=2)
    woven = np.zeros_like(filled)
    woven[120:190, 220:310] = True
    off = np.abs(after - wanted)
    assert off[filled & woven].mean() < 0.75
    assert off[filled].mean() < 1.5
    first, second = (takes_of(library, sweep.id) for sweep in open_frame(library, photo.id).stack.sweeps)
    assert [len(first), len(second)] == [2, 2]
    assert first[1].provenance.of == (first[0].id,)
    assert [entry.seed for entry in ledger_of(library, photo.id).entries] == [3, 3]


def test_both_versions_stay_in_the_history(library: Library, photo: Frame) -> None:
    old, before = shot(library, photo), open_frame(library, photo.id).seen()
    newer = old.astype(np.uint16) * 257
    take_up(library, photo.id, "roof, 16 bit.png", written(library, newer))
    lay_again(library, photo.id)
    after = open_frame(library, photo.id).seen()
    assert after.dtype == np.uint16
    assert np.abs(after.astype(int) - before.astype(int) * 257).mean() < 130
    assert desk(library, photo.id).frame.depth == 16
    undo(library, photo.id)
    undo(library, photo.id)
    assert np.array_equal(open_frame(library, photo.id).seen(), before)
    assert desk(library, photo.id).frame.depth == 8
    redo(library, photo.id)
    redo(library, photo.id)
    assert np.array_equal(open_frame(library, photo.id).seen(), after)
    titles = [step.title for step in steps(library, photo.id)]
    assert "newer version, roof, 16 bit.png" in titles
    assert "lay fills again" in titles
    # A state of the history is of its own version, whichever is shown.
    first = min(step.revision for step in steps(library, photo.id))
    assert np.array_equal(open_frame(library, photo.id, first).seen(), old)


def test_a_take_of_an_earlier_version_is_not_picked_as_it_is(library: Library, photo: Frame) -> None:
    sweep = open_frame(library, photo.id).stack.sweeps[0]
    (take,) = takes_of(library, sweep.id)
    take_up(library, photo.id, "new.png", written(library, graded(shot(library, photo))))
    with pytest.raises(Conflict, match="another version"):
        pick(library, photo.id, sweep.id, take.id)
    let_go(library, photo.id)
    assert states(library, photo) == [SweepState.MARKED] * 2


def test_a_fill_that_ends_after_a_newer_version_came_is_of_the_earlier_one(library: Library, photo: Frame) -> None:
    sweep = open_frame(library, photo.id).stack.sweeps[0]
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
    sweep = open_frame(library, photo.id).stack.sweeps[0]
    (take,) = takes_of(library, sweep.id)
    borrowed = replace(patch_from_bytes(library.files.read(take.patch)), method=MadeBy.BORROW)
    with library.session() as session:
        row = session.get_one(Take, take.id)
        row.patch = library.files.add(patch_to_bytes(borrowed))
        session.add(row)
    pick(library, photo.id, sweep.id, take.id)
    take_up(library, photo.id, "new.png", written(library, graded(shot(library, photo))))
    done = lay_again(library, photo.id)
    assert done.done == 1
    ((name, why),) = done.left
    assert name == sweep.name
    assert "cannot be laid again" in why
    assert states(library, photo) == [SweepState.OUT_OF_STEP, SweepState.KEPT]


def test_marks_guards_and_touch_ups_follow(library: Library, photo: Frame) -> None:
    source = Source(at=(400.5, 300.5), to=(500.5, 200.5))
    touch_up(library, photo.id, Brush.CLONE, Stroke(points=((500.5, 200.5),), size=20), 100, source)
    before = open_frame(library, photo.id).stack
    newer = graded(shot(library, photo))
    take_up(library, photo.id, "new.png", written(library, newer))
    after = open_frame(library, photo.id).stack
    assert [sweep.mark for sweep in after.sweeps] == [sweep.mark for sweep in before.sweeps]
    assert after.touches == before.touches
    assert np.array_equal(open_frame(library, photo.id).seen()[200, 500], newer[300, 400])


def test_a_straightened_and_cropped_version_takes_everything_along(library: Library, photo: Frame) -> None:
    source = Source(at=(400.5, 300.5), to=(480.5, 200.5))
    touch_up(library, photo.id, Brush.CLONE, Stroke(points=((480.5, 200.5),), size=20), 100, source)
    guard(library, photo.id, [Stroke(points=((350.0, 350.0), (380.0, 350.0)), size=30)])
    keep_some_find(library, photo)
    before = open_frame(library, photo.id)
    masks = [before.full(before.mask(sweep.id)) for sweep in before.stack.sweeps]
    newer, lies = straightened(shot(library, photo), 2, 0.1)
    revision = take_up(library, photo.id, "level.png", written(library, graded(newer)))
    assert revision.title == "newer version, level.png, turned by 2.0°, cropped"
    after = open_frame(library, photo.id)
    assert (after.frame.width, after.frame.height) == (newer.shape[1], newer.shape[0])
    assert states(library, photo) == [SweepState.OUT_OF_STEP] * 2
    for sweep, mask in zip(after.stack.sweeps, masks, strict=True):
        there = after.full(after.mask(sweep.id)) >= 128
        wanted = warped(mask, lies, newer) >= 128
        assert farthest_apart(there, wanted) <= 1
    assert before.guard is not None
    assert after.guard is not None
    assert farthest_apart(after.guard, warped(before.guard.astype(np.uint8) * 255, lies, newer) >= 128) <= 1
    (find,) = open_finds(after)
    ((x, y),) = lies.places(np.array([[500.0, 60.0]]))
    box = found_in(find)
    assert abs(box.x - x) < 3
    assert abs(box.y - y) < 3
    # Cloned from where it was cloned from.
    (touch,) = after.stack.touches
    assert touch.source is not None
    ((x, y),) = lies.places(np.array([[400.0, 300.0]])) + 0.5
    assert np.hypot(touch.source.at[0] - x, touch.source.at[1] - y) < 0.3

    done = lay_again(library, photo.id)
    assert (done.done, done.left) == (2, ())
    assert states(library, photo) == [SweepState.KEPT] * 2
    seen = open_frame(library, photo.id).seen().astype(float)
    wanted = graded(cv2.warpAffine(before.seen(), lies.matrix[:2], (newer.shape[1], newer.shape[0]), flags=2))
    filled = np.maximum.reduce([warped(mask, lies, newer) for mask in masks]) > 0
    laid = np.abs(seen - wanted)[filled].mean()
    assert laid < 0.5 * np.abs(graded(newer).astype(float) - wanted)[filled].mean()
    # Both versions stay, each with what was done to it.
    undo(library, photo.id)
    undo(library, photo.id)
    assert np.array_equal(open_frame(library, photo.id).seen(), before.seen())
    assert [find.id for find in open_finds(open_frame(library, photo.id))] == [find.id for find in open_finds(before)]


def test_fills_that_are_still_out_of_step_follow_a_second_version(library: Library, photo: Frame) -> None:
    first, _ = straightened(shot(library, photo), 2, 0.1)
    take_up(library, photo.id, "level.png", written(library, first))
    second, _ = straightened(first, -2, 0.05)
    take_up(library, photo.id, "as it was.png", written(library, second))
    (behind, _) = (sweep.behind for sweep in open_frame(library, photo.id).stack.sweeps)
    assert behind is not None
    assert behind.lies.turn == pytest.approx(0, abs=0.05)
    assert lay_again(library, photo.id).done == 2


def test_what_lies_outside_a_crop_is_left_to_the_history(library: Library, photo: Frame) -> None:
    present = shot(library, photo)
    take_up(library, photo.id, "right half.png", written(library, np.ascontiguousarray(present[:, 200:])))
    assert [sweep.name for sweep in open_frame(library, photo.id).stack.sweeps] == ["Sweep 1"]
    undo(library, photo.id)
    assert states(library, photo) == [SweepState.KEPT] * 2


def test_what_cannot_be_laid_again_is_filled_anew(library: Library, photo: Frame) -> None:
    take_up(library, photo.id, "new.png", written(library, graded(shot(library, photo))))
    asked = fill_anew(library, photo.id)
    assert (asked.done, asked.left) == (2, ())
    assert states(library, photo) == [SweepState.WAITING] * 2
    assert all(sweep.behind is None for sweep in open_frame(library, photo.id).stack.sweeps)


def test_takes_of_another_version_are_not_on_the_desk(library: Library, photo: Frame) -> None:
    assert [len(each.takes) for each in desk(library, photo.id).sweeps] == [1, 1]
    take_up(library, photo.id, "new.png", written(library, graded(shot(library, photo))))
    assert [len(each.takes) for each in desk(library, photo.id).sweeps] == [0, 0]
    lay_again(library, photo.id)
    assert [len(each.takes) for each in desk(library, photo.id).sweeps] == [1, 1]
    undo(library, photo.id)
    undo(library, photo.id)
    assert [len(each.takes) for each in desk(library, photo.id).sweeps] == [1, 1]


def test_what_is_no_newer_version_is_refused_and_nothing_changes(
    library: Library, photo: Frame, photograph: NDArray[Any]
) -> None:
    present = shot(library, photo)
    same = encode_picture(Picture(pixels=present, format="png"), "png")
    (library.incoming / "same.png").write_bytes(same)
    with pytest.raises(AlreadyThere):
        take_up(library, photo.id, "same.png", library.incoming / "same.png")
    for pixels, words in (
        (np.ascontiguousarray(photograph[:, ::-1]), "does not show the same picture"),
        (leaning(present), "distorted"),
        (np.random.default_rng(1).integers(0, 255, present.shape).astype(np.uint8), "does not show the same"),
    ):
        with pytest.raises(BadRequest, match=words):
            take_up(library, photo.id, "other.png", written(library, np.ascontiguousarray(pixels)))
    assert np.array_equal(shot(library, photo), present)
    assert states(library, photo) == [SweepState.KEPT] * 2


def test_a_provisional_take_follows_and_stays_provisional(library: Library, photograph: NDArray[Any]) -> None:
    frame = add_frame(library, make_shoot(library, "Walls").id, "wall.png", written(library, photograph))
    sweep, _ = new_sweep(library, frame.id, [MARK])
    fill_now(library, frame, sweep, takes=1)
    before = open_frame(library, frame.id).seen()
    take_up(library, frame.id, "wall, graded.png", written(library, graded(photograph)))
    assert states(library, frame) == [SweepState.OUT_OF_STEP]
    assert lay_again(library, frame.id).done == 1
    (told,) = desk(library, frame.id).sweeps
    assert (told.state, told.standing) == (SweepState.PROVISIONAL, told.takes[0].id)
    assert (open_frame(library, frame.id).seen() != graded(photograph)).any()
    undo(library, frame.id)
    undo(library, frame.id)
    assert np.array_equal(open_frame(library, frame.id).seen(), before)
