"""Carrying over: masks land where the picture says, in one step, and nothing is filled before somebody says so."""

from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from sqlmodel import select

from keen_sweep.core.box import box_of
from keen_sweep.core.errors import BadRequest, NotFound, NotTheSamePlace
from keen_sweep.core.fill.lead import LeadLine
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.write import encode_picture
from keen_sweep.core.scout.backdrop import BEYOND_NAME, find_backdrop
from keen_sweep.core.scout.found import FindKind
from keen_sweep.core.series.landing import Verdict
from keen_sweep.demo.shoot import clean_twin, distractions, mask_of
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Carrying, Find, Frame, Run
from keen_sweep.store.words import RunState
from keen_sweep.studio.carrying.aligning import alignment_of
from keen_sweep.studio.carrying.ask import How, ask_carry
from keen_sweep.studio.carrying.carry import Landed, put_down, work_out
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.fill import DEFAULT_FILL
from keen_sweep.studio.filling.lead import set_lead
from keen_sweep.studio.filling.series import approve, fill_series, series
from keen_sweep.studio.finding.finds import finds, keep_found
from keen_sweep.studio.finding.keep import keep_finds
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.gathering.states import FrameState
from keen_sweep.studio.history import undo
from keen_sweep.studio.marking.draw import add_shapes, move_sweep, new_sweep, settle
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.running.carriers import carry_out
from keen_sweep.studio.running.carry_out import carry_out as carry_out_run

SHIFT = (14, 9)


def _rod(pixels: NDArray[Any], at: tuple[int, int]) -> NDArray[Any]:
    out = pixels.copy()
    cv2.line(out, at, (at[0] + 90, at[1] + 24), (25, 20, 30), 7)
    return out


def _add(library: Library, shoot: int, name: str, pixels: NDArray[Any]) -> Frame:
    file: Path = library.incoming / name
    file.write_bytes(encode_picture(Picture(pixels=np.ascontiguousarray(pixels), format="png"), "png"))
    return add_frame(library, shoot, name, file)


@pytest.fixture
def burst(library: Library, photograph: NDArray[Any]) -> list[Frame]:
    """Three frames of a roof: a rod in the first; the camera a little aside, the rod still there; the rod gone."""
    shoot = make_shoot(library, "Roofs").id
    first = _rod(photograph[20:380, 40:560], (300, 200))
    second = _rod(photograph, (340, 220))[20 + SHIFT[1] : 380 + SHIFT[1], 40 + SHIFT[0] : 560 + SHIFT[0]]
    third = photograph[24:384, 46:566]
    return [_add(library, shoot, f"roof-{k}.png", each) for k, each in enumerate((first, second, third), start=1)]


@pytest.fixture
def rod(library: Library, burst: list[Frame]) -> str:
    return new_sweep(library, burst[0].id, [Stroke(points=((300, 200), (390, 224)), size=17)], "Rod")[0]


def _carried(library: Library, burst: list[Frame], to: int, sweeps: list[str], **how: bool) -> list[Landed]:
    return put_down(library, work_out(library, burst[0].id, sweeps, burst[to].id, **how))


def test_a_mask_lands_where_the_thing_is(library: Library, burst: list[Frame], rod: str) -> None:
    (landed,) = _carried(library, burst, 1, [rod])
    assert landed.verdict is Verdict.LANDED
    there = open_frame(library, burst[1].id)
    (sweep,) = there.stack.sweeps
    assert (sweep.id, sweep.name, sweep.pick) == (landed.made, "Rod", None)
    wanted = np.roll(open_frame(library, burst[0].id).mask(rod).full(520, 360) > 0, (-SHIFT[1], -SHIFT[0]), (0, 1))
    got = there.full(there.mask(sweep.id)) > 0
    assert (wanted & got).sum() / (wanted | got).sum() > 0.9
    with library.session() as session:
        assert session.exec(select(Run)).all() == []
    # One step: undone at once.
    undo(library, burst[1].id)
    assert open_frame(library, burst[1].id).stack.sweeps == ()


def test_what_leads_its_fill_comes_along(library: Library, burst: list[Frame], rod: str) -> None:
    line = LeadLine(points=((340.0, 150.0), (350.0, 260.0)))
    arrow = LeadLine(points=((250.0, 140.0), (345.0, 212.0)), brings="ground")
    set_lead(library, burst[0].id, rod, [line, arrow])
    _carried(library, burst, 1, [rod])
    (there,) = open_frame(library, burst[1].id).stack.sweeps
    assert [each.brings for each in there.lead] == ["edge", "ground"]
    for carried, drawn in zip(there.lead, (line, arrow), strict=True):
        assert np.abs(carried.xy - (drawn.xy - SHIFT)).max() < 1.5
    # Carried again, it follows what was changed since.
    set_lead(library, burst[0].id, rod, [])
    _carried(library, burst, 1, [rod])
    assert open_frame(library, burst[1].id).stack.sweeps[0].lead == ()


def test_what_is_gone_is_not_marked(library: Library, burst: list[Frame], rod: str) -> None:
    (landed,) = _carried(library, burst, 2, [rod])
    assert (landed.verdict, landed.made) == (Verdict.NOT_THERE, None)
    assert open_frame(library, burst[2].id).stack.sweeps == ()


def test_carried_again_it_moves_what_was_carried_before(library: Library, burst: list[Frame], rod: str) -> None:
    _carried(library, burst, 1, [rod])
    before = open_frame(library, burst[1].id).stack.sweeps[0]
    add_shapes(library, burst[0].id, rod, [Stroke(points=((310, 190), (330, 192)), size=9)])
    (behind,) = [each for each in series(library, burst[0].id) if each.behind]
    assert behind.frame.id == burst[1].id
    _carried(library, burst, 1, [rod])
    (after,) = open_frame(library, burst[1].id).stack.sweeps
    assert after.id == before.id
    assert len(after.mark.shapes) == 2
    assert not any(each.behind for each in series(library, burst[0].id))


def test_a_doubtful_one_stays_so_until_somebody_looks(library: Library, burst: list[Frame], rod: str) -> None:
    worked = work_out(library, burst[0].id, [rod], burst[1].id)
    ((sweep, landed, mark, came),) = worked.sweeps
    unsure = came.model_copy(update={"doubtful": True, "confidence": 0.3})
    (put,) = put_down(library, type(worked)(worked.title, worked.to_id, ((sweep, landed, mark, unsure),)))
    assert put.made is not None
    states = {each.frame.id: each for each in series(library, burst[0].id)}
    assert states[burst[1].id].state is FrameState.DOUBTFUL
    assert states[burst[1].id].doubtful == (put.made,)
    assert states[burst[2].id].state is FrameState.UNTOUCHED
    settle(library, burst[1].id, put.made)
    assert series(library, burst[0].id)[1].state is FrameState.MARKED
    undo(library, burst[1].id)
    move_sweep(library, burst[1].id, put.made, 3, 0)
    assert series(library, burst[0].id)[1].doubtful == ()


def test_all_that_is_marked_is_filled_in_one_go(library: Library, burst: list[Frame], rod: str) -> None:
    for other in (burst[1], burst[2]):
        new_sweep(library, other.id, [Stroke(points=((60, 60), (90, 62)), size=12)])
    runs, refused = fill_series(library, burst[0].id, [])
    assert [run.frame_id for run in runs] == [burst[1].id, burst[2].id]
    assert refused == []
    with pytest.raises(BadRequest, match="Nothing in these frames"):
        fill_series(library, burst[0].id, [])
    assert series(library, burst[0].id)[1].state is FrameState.FILLING


def test_what_sits_on_the_sensor_stays_there(library: Library, burst: list[Frame], photograph: NDArray[Any]) -> None:
    spot, _ = new_sweep(library, burst[0].id, [Stroke(points=((50, 40),), size=12)], "Dust")
    with library.session() as session:
        session.add(
            Find(
                frame_id=burst[0].id,
                original=burst[0].original,
                kind=FindKind.SPECKS,
                name="",
                confidence=1,
                reason="",
                sweep_id=spot,
            )
        )
    rows = ask_carry(library, burst[0].id, [], [])
    assert {row.sensor for row in rows} == {True}
    (landed,) = _carried(library, burst, 1, [spot], sensor=True)
    assert landed.verdict is Verdict.LANDED
    own, there = open_frame(library, burst[0].id), open_frame(library, burst[1].id)
    assert there.stack.sweeps[0].mark == own.stack.sweep(spot).mark
    upright = _add(library, burst[0].shoot_id, "upright.png", np.rot90(photograph[20:380, 40:560]))
    with pytest.raises(BadRequest, match="upright"):
        work_out(library, burst[0].id, [spot], upright.id, sensor=True)


def test_what_cannot_be_carried_says_why(library: Library, burst: list[Frame], photograph: NDArray[Any]) -> None:
    with pytest.raises(BadRequest, match="nothing to carry"):
        ask_carry(library, burst[0].id, [], [])
    sweep, _ = new_sweep(library, burst[0].id, [Stroke(points=((60, 60), (90, 62)), size=12)])
    with pytest.raises(NotFound):
        ask_carry(library, burst[0].id, ["no such sweep"], [])
    with pytest.raises(NotFound):
        ask_carry(library, burst[0].id, [], [4711])
    alone = _add(library, make_shoot(library, "One").id, "one.png", photograph)
    new_sweep(library, alone.id, [Stroke(points=((60, 60), (90, 62)), size=12)])
    with pytest.raises(BadRequest, match="only one picture"):
        ask_carry(library, alone.id, [], [])
    noise = np.random.default_rng(3).integers(0, 255, (360, 520, 3)).astype(np.uint8)
    elsewhere = _add(library, burst[0].shoot_id, "sea.png", cv2.blur(noise, (3, 3)))
    for _ in range(2):  # found out, and remembered
        with pytest.raises(NotTheSamePlace, match=r"sea\.png does not show the same place as roof-1\.png"):
            work_out(library, burst[0].id, [sweep], elsewhere.id)


def test_a_row_tells_how_it_ended(library: Library, burst: list[Frame], rod: str, photograph: NDArray[Any]) -> None:
    elsewhere = _add(library, burst[0].shoot_id, "zinc.png", np.full_like(photograph, 90))
    ask_carry(library, burst[0].id, [rod], [burst[1].id, elsewhere.id])
    with library.session() as session:
        rows = list(session.exec(select(Carrying)))
        for row in rows:
            row.state = RunState.RUNNING
            session.add(row)
    for row in rows:
        carry_out(library, row.id)
    told = {each.frame.name: each for each in series(library, burst[0].id)}
    assert told["roof-2.png"].carrying is RunState.DONE
    assert [each.verdict for each in told["roof-2.png"].landed] == [Verdict.LANDED]
    assert told["zinc.png"].carrying is RunState.FAILED
    assert "does not show the same place" in (told["zinc.png"].error or "")
    assert [each.elsewhere for each in told.values()] == [each == "zinc.png" for each in told]
    assert told["roof-3.png"].carrying is None


def test_an_alignment_is_worked_out_once(library: Library, burst: list[Frame], monkeypatch: pytest.MonkeyPatch) -> None:
    one, other = (open_frame(library, frame.id) for frame in burst[:2])
    found = alignment_of(one, other)
    monkeypatch.setattr("keen_sweep.studio.carrying.aligning.align", lambda *_: pytest.fail("worked out again"))
    again = alignment_of(one, other)
    assert np.array_equal(found.homography, again.homography)
    with pytest.raises(BadRequest, match="cannot be aligned with itself"):
        alignment_of(one, one)


def _work_on(library: Library, run_id: int) -> None:
    with library.session() as session:
        run = session.get_one(Run, run_id)
        run.state = RunState.RUNNING
        session.add(run)
    carry_out_run(library, run_id)


def test_carried_filled_and_picked_it_waits_to_be_approved(library: Library, burst: list[Frame], rod: str) -> None:
    (row,) = ask_carry(library, burst[0].id, [rod], [burst[1].id], How(fill=True))
    with library.session() as session:
        row.state = RunState.RUNNING
        session.add(row)
    carry_out(library, row.id)
    with library.session() as session:
        (run,) = session.exec(select(Run)).all()
    assert (run.frame_id, run.request["takes"]) == (burst[1].id, 1)
    _work_on(library, run.id)
    (sweep,) = open_frame(library, burst[1].id).stack.sweeps
    assert sweep.pick is not None
    assert series(library, burst[0].id)[1].state is FrameState.DOUBTFUL
    approve(library, burst[0].id, [burst[1].id], True)
    assert series(library, burst[0].id)[1].state is FrameState.DONE
    approve(library, burst[0].id, [burst[1].id], False)
    (back,) = open_frame(library, burst[1].id).stack.sweeps
    assert back.pick is None
    assert series(library, burst[0].id)[1].doubtful == (back.id,)
    # What was refused is not shown as if it waited; what is made after that is.
    assert series(library, burst[0].id)[1].offered == ()
    _work_on(library, ask_fill(library, burst[1].id, back.id, DEFAULT_FILL.model_copy(update={"takes": 1})).id)
    assert len(series(library, burst[0].id)[1].offered) == 1
    approve(library, burst[0].id, [burst[1].id], True)
    assert open_frame(library, burst[1].id).stack.sweeps[0].pick is not None
    undo(library, burst[1].id)
    # One step each: undone at once.
    undo(library, burst[1].id)
    assert open_frame(library, burst[1].id).stack.sweeps[0].pick == sweep.pick


def test_a_backdrop_is_found_anew_in_each_frame_of_its_series(library: Library) -> None:
    shoot = make_shoot(library, "Plants").id
    frames = [_add(library, shoot, f"{name}.png", clean_twin(name)[0]) for name in ("ov-0521", "ov-0522")]
    here = open_frame(library, frames[0].id)
    found = find_backdrop(np.asarray(here.pyramid.level(0)))
    with library.session() as session:
        keep_found(library, session, here.frame, FindKind.BACKDROP, found)
    sweeps, _ = keep_finds(library, frames[0].id, [each.find.id for each in finds(library, frames[0].id)])
    landed = put_down(library, work_out(library, frames[0].id, sweeps, frames[1].id))
    beyond = next(each for each in landed if each.name == BEYOND_NAME)
    assert beyond.verdict is Verdict.LANDED
    there = open_frame(library, frames[1].id)
    full = there.full(there.mask(beyond.made or ""))
    # To the very edge, although this frame shows more on that side than the first did.
    for edge in (full[0], full[: 1000 // 2, 0], full[: 1000 // 2, -1]):
        assert (edge > 0).mean() > 0.98
    clutter = np.maximum.reduce(
        [
            mask_of("ov-0522", each)
            for each in distractions("ov-0522")
            if each.part == "object" and "leaves" not in each.name
        ]
    )
    assert (full[clutter > 128] > 0).mean() > 0.97


def test_who_walked_on_is_looked_for_among_the_people_of_the_other_frame(library: Library) -> None:
    shoot = make_shoot(library, "Path").id
    frames = [_add(library, shoot, f"{name}.png", clean_twin(name)[0]) for name in ("ov-0412", "ov-0414", "ov-0415")]
    (red,) = [d for d in distractions("ov-0412") if d.name == "visitor in red" and d.part == "object"]
    full = np.where(mask_of("ov-0412", red) > 0, 255, 0).astype(np.uint8)
    box = box_of(full)
    area = as_area(Mask(box, full[box.slices]), library.files.add)
    sweep, _ = new_sweep(library, frames[0].id, [area], "In red")
    (gone,) = put_down(library, work_out(library, frames[0].id, [sweep], frames[1].id))
    assert gone.verdict is Verdict.NOT_THERE
    (again,) = put_down(library, work_out(library, frames[0].id, [sweep], frames[1].id, wide=True))
    assert again.verdict is Verdict.DOUBTFUL
    there = open_frame(library, frames[1].id)
    got = there.full(there.mask(again.made or "")) > 0
    (walked,) = [d for d in distractions("ov-0414") if d.name == "visitor in red" and d.part == "object"]
    truth = mask_of("ov-0414", walked) > 128
    assert (got & truth).sum() > 0.9 * truth.sum()
    # In the third frame there are others only.
    (nobody,) = put_down(library, work_out(library, frames[0].id, [sweep], frames[2].id, wide=True))
    assert nobody.verdict is Verdict.NOT_THERE
