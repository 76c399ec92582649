"""Marks as use cases: areas that become sweeps, masks from files, transparency, guards that fills respect."""

from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadMask, BadRequest, NotFound
from keen_sweep.core.fill.lead import LeadLine
from keen_sweep.core.fill.patch import patch_from_bytes
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.shape import mask_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.scout.found import FindKind
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Find, Frame
from keen_sweep.studio import desk, history
from keen_sweep.studio.filling.ask import ask_fill, ask_fills
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.filling.lead import set_lead
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.marking.advice import advise
from keen_sweep.studio.marking.areas import join
from keen_sweep.studio.marking.cling import cling_to
from keen_sweep.studio.marking.draw import new_sweep, refit
from keen_sweep.studio.marking.guarding import clear_guard, guard
from keen_sweep.studio.marking.mask_files import load_mask, mask_png
from keen_sweep.studio.marking.pieces import take_pieces
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.originals import Originals
from tests.support.runs import fill_now

LEFT = Stroke(points=((40.0, 40.0), (60.0, 44.0)), size=14)
RIGHT = Stroke(points=((150.0, 90.0),), size=18)


def full(library: Library, frame: Frame, sweep: str) -> NDArray[Any]:
    return open_frame(library, frame.id).mask(sweep).full(frame.width, frame.height)


def test_separate_areas_become_sweeps_when_they_are_filled(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [LEFT, RIGHT], "Cups")
    before = full(library, frame, sweep)
    runs = ask_fills(library, frame.id, sweep, Fill(quality="fast"))
    assert len(runs) == 2
    names = [each.sweep.name for each in desk.desk(library, frame.id).sweeps]
    assert names == ["Cups 1", "Cups 2"]
    parts = [full(library, frame, each.sweep.id) for each in desk.desk(library, frame.id).sweeps]
    assert np.array_equal(np.maximum(*parts), before)
    assert not np.minimum(*parts).any()
    history.undo(library, frame.id)
    assert len(desk.desk(library, frame.id).sweeps) == 1
    assert np.array_equal(full(library, frame, sweep), before)


def test_joined_sweeps_stay_one(library: Library, frame: Frame) -> None:
    first, _ = new_sweep(library, frame.id, [LEFT])
    second, _ = new_sweep(library, frame.id, [RIGHT])
    both = np.maximum(full(library, frame, first), full(library, frame, second))
    join(library, frame.id, [first, second])
    assert np.array_equal(full(library, frame, first), both)
    assert len(ask_fills(library, frame.id, first, Fill(quality="fast"))) == 1
    with pytest.raises(BadRequest):
        join(library, frame.id, [first])
    with pytest.raises(BadRequest):
        join(library, frame.id, [first, second])


def test_something_half_hidden_is_said_until_a_line_leads_it(library: Library, tmp_path: Path) -> None:
    pixels = np.full((240, 320, 3), (120, 150, 90), np.uint8)
    pixels[105:135, :150] = (40, 40, 60)
    # The thing that is to go.
    pixels[86:154, 126:194] = (200, 60, 40)
    file = tmp_path / "bar.png"
    file.write_bytes(imagecodecs.png_encode(pixels))
    frame = add_frame(library, make_shoot(library, "Bars").id, "bar.png", file)
    mark = Outline(points=((120.0, 80.0), (200.0, 80.0), (200.0, 160.0), (120.0, 160.0)))
    sweep, _ = new_sweep(library, frame.id, [mark])
    advice = advise(library, frame.id, sweep)[0]
    assert [each.kind for each in advice] == ["hidden"], advice
    assert "has to be invented" in advice[0].text
    set_lead(library, frame.id, sweep, [LeadLine(points=((90.0, 105.0), (150.0, 105.0)))])
    assert advise(library, frame.id, sweep)[0] == []


def test_a_fill_never_touches_the_guard(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [Stroke(points=((60.0, 60.0), (120.0, 60.0)), size=20)])
    guard(library, frame.id, [Outline(points=((80.0, 0.0), (200.0, 0.0), (200.0, 150.0), (80.0, 150.0)))])
    assert fill_now(library, frame, sweep, takes=1).state == "done"
    take = desk.desk(library, frame.id).sweeps[0].takes[0]
    patch = patch_from_bytes(library.files.read(take.patch))
    assert patch.box.right <= 80
    assert patch.alpha.any()
    guard(library, frame.id, [Stroke(points=((100.0, 75.0),), size=400)])
    other, _ = new_sweep(library, frame.id, [LEFT])
    with pytest.raises(BadMask, match="guard"):
        ask_fill(library, frame.id, other)
    assert [each.kind for each in advise(library, frame.id, other)[0]] == ["guard"]
    clear_guard(library, frame.id)
    assert full(library, frame, other).any()


def test_transparency_brings_its_mark_along(library: Library, photograph: NDArray[Any]) -> None:
    alpha = np.full((150, 200), 255, np.uint8)
    alpha[40:80, 60:120] = 0
    alpha[80, 60:120] = 100
    file = library.incoming / "cut.png"
    file.write_bytes(imagecodecs.png_encode(np.dstack([photograph[150:300, 200:400], alpha])))
    shoot = make_shoot(library, "Cut")
    frame = add_frame(library, shoot.id, "cut.png", file)
    (only,) = desk.desk(library, frame.id).sweeps
    assert only.sweep.name == "Transparent area"
    assert np.array_equal(full(library, frame, only.sweep.id), 255 - alpha)


def test_mask_files_and_their_faults(library: Library, frame: Frame) -> None:
    wanted = np.zeros((frame.height, frame.width), np.uint8)
    wanted[20:50, 30:90] = 255
    wanted[50, 30:90] = 120
    sweep, _ = load_mask(library, frame.id, bytes(imagecodecs.png_encode(wanted)), None)
    assert np.array_equal(full(library, frame, sweep), wanted)
    assert np.array_equal(imagecodecs.png_decode(mask_png(library, frame.id, sweep)), wanted)
    # Colours count by their brightest channel; more of it is added to the same sweep.
    colours = np.zeros((frame.height, frame.width, 3), np.uint8)
    colours[100:110, 100:110] = (0, 255, 0)
    load_mask(library, frame.id, bytes(imagecodecs.png_encode(colours)), sweep)
    assert full(library, frame, sweep)[105, 105] == 255
    for data in (b"", b"no picture", bytes(imagecodecs.png_encode(wanted[:20]))):
        with pytest.raises(BadMask):
            load_mask(library, frame.id, data, None)
    assert len(desk.desk(library, frame.id).sweeps) == 1


def test_areas_must_be_there_and_fit(library: Library, frame: Frame) -> None:
    with pytest.raises(NotFound):
        new_sweep(library, frame.id, [Area(file="0" * 64, box=Box(x=0, y=0, width=4, height=4))])
    name = library.files.add(bytes(imagecodecs.png_encode(np.full((3, 3), 255, np.uint8))))
    with pytest.raises(BadRequest):
        new_sweep(library, frame.id, [Area(file=name, box=Box(x=0, y=0, width=4, height=4))])


def test_the_fit_is_a_step_of_the_history(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [RIGHT])
    tight = full(library, frame, sweep)
    refit(library, frame.id, sweep, Fit(margin=6))
    assert full(library, frame, sweep).sum() > tight.sum()
    as_tried = open_frame(library, frame.id).mask(sweep, Fit()).full(frame.width, frame.height)
    assert np.array_equal(as_tried, tight)
    history.undo(library, frame.id)
    assert np.array_equal(full(library, frame, sweep), tight)


def test_a_click_takes_the_smallest_find_that_it_lies_on(library: Library, frame: Frame) -> None:
    shapes = [Stroke(points=((150.0, 90.0), (170.0, 90.0)), size=60), Stroke(points=((150.0, 90.0),), size=24)]
    for number, (kind, shape) in enumerate(zip((FindKind.PEOPLE, FindKind.THINGS), shapes, strict=True)):
        mask = mask_of([shape], Box(x=0, y=0, width=frame.width, height=frame.height))
        area = as_area(mask, library.files.add)
        filed = area.model_dump(mode="json")
        told: dict[str, Any] = {
            "frame_id": frame.id,
            "original": frame.original,
            "kind": kind,
            "name": f"{number}",
            "reason": "",
        }
        with library.session(write=True) as session:
            session.add(Find(**told, shapes=[filed], confidence=0.9))
    sweep, _ = cling_to(library, frame.id, Stroke(points=((150.0, 90.0),), size=6), None)
    refit(library, frame.id, sweep, Fit())
    taken = full(library, frame, sweep) > 0
    small = mask_of([shapes[1]], Box(x=0, y=0, width=frame.width, height=frame.height)).full(frame.width, frame.height)
    assert np.array_equal(taken, small > 127)


def test_a_stroke_on_the_mark_stays_near_and_one_elsewhere_is_another_thing(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [LEFT])
    before = full(library, frame, sweep) > 0
    cling_to(library, frame.id, Stroke(points=((60.0, 44.0), (66.0, 46.0)), size=8), sweep)
    after = full(library, frame, sweep) > 0
    assert not (before & ~after).any()
    rows, columns = np.nonzero(after & ~before)
    assert rows.size == 0 or np.hypot(rows - 46, columns - 66).max() < 24
    cling_to(library, frame.id, RIGHT, sweep)
    assert (full(library, frame, sweep) > 0)[90, 150]


def test_cling_and_pieces_add_areas_with_a_margin(library: Library, originals: Originals, frame: Frame) -> None:
    sweep, _ = cling_to(library, frame.id, RIGHT, None)
    made = desk.desk(library, frame.id).sweeps[0].sweep.mark
    assert isinstance(made.shapes[0], Area)
    assert made.fit.margin >= 2
    cling_to(library, frame.id, LEFT.model_copy(update={"erase": True}), sweep)
    assert desk.desk(library, frame.id).sweeps[0].sweep.mark.shapes[1].erase
    labels = originals.pieces(frame.original, "small")
    number = int(labels[labels.shape[0] // 2, labels.shape[1] // 2])
    other, _ = take_pieces(library, frame.id, "small", [number], None)
    assert full(library, frame, other)[frame.height // 2, frame.width // 2] == 255
    with pytest.raises(BadRequest):
        take_pieces(library, frame.id, "small", [10**6], None)
    with pytest.raises(BadMask):
        cling_to(library, frame.id, Stroke(points=((-900.0, -900.0),), size=4), None)
