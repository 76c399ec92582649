"""Finds in a library: asked for once, dropped, corrected, kept as sweeps, dust in several frames."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from sqlmodel import select

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadMask, BadRequest, NotFound
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.write import encode_picture
from keen_sweep.core.scout.found import Also, FindKind, Found
from keen_sweep.core.scout.networks import detector
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Run, Scouting
from keen_sweep.store.words import RunState
from keen_sweep.studio import history
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.finding.ask import _scoutings, ask_scouts, scoutings
from keen_sweep.studio.finding.finds import FindChange, change_find, finds, keep_found
from keen_sweep.studio.finding.keep import keep, keep_dust_everywhere, keep_finds
from keen_sweep.studio.finding.person import person_in_box
from keen_sweep.studio.finding.reflection import seek_reflection
from keen_sweep.studio.found.open_finds import things_of
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.running.scouts import Scouts
from keen_sweep.studio.running.scouts import scout as look
from tests.support.runs import fill_now


def disc(x: int, y: int, size: int = 20) -> Mask:
    return Mask(Box(x=x, y=y, width=size, height=size), np.full((size, size), 255, np.uint8))


def found(name: str, x: int, y: int, kind: str = "people", subject: bool = False, also: bool = False) -> Found:
    shadow = (Also("shadow", disc(x + 20, y + 10)),) if also else ()
    return Found(FindKind(kind), name, disc(x, y), 0.8, "because", subject, not subject, shadow)


def put(library: Library, frame_id: int, kind: str, *finds: Found) -> None:
    with library.session() as session:
        frame = history.frame_of(session, frame_id)
        keep_found(library, session, frame, FindKind(kind), finds)


@pytest.fixture
def frame_id(frame: Frame) -> int:
    assert frame.id is not None
    return frame.id


def another(library: Library, frame: Frame, seed: int) -> int:
    """Another frame of the shoot, of the same size."""
    pixels = np.random.default_rng(seed).integers(0, 255, (frame.height, frame.width, 3)).astype(np.uint8)
    incoming = library.incoming / f"upload-{seed}"
    incoming.write_bytes(encode_picture(Picture(pixels=pixels, format="png"), "png"))
    return add_frame(library, frame.shoot_id, f"other-{seed}.png", incoming).id or 0


def names(library: Library, frame_id: int) -> list[str]:
    return [each.find.name for each in finds(library, frame_id)]


def test_each_scout_is_asked_once_and_again_on_demand(library: Library, frame_id: int) -> None:
    ask_scouts(library, frame_id, [FindKind.PEOPLE, FindKind.SPECKS])
    ask_scouts(library, frame_id, [FindKind.PEOPLE, FindKind.WIRES])
    told = scoutings(library, frame_id)
    assert sorted(s.kind for s, _ in told) == ["people", "specks", "wires"]
    first = {s.kind: s.id for s, _ in told}
    ask_scouts(library, frame_id, [FindKind.PEOPLE], small=True, again=True)
    assert {s.kind: s.id for s, _ in scoutings(library, frame_id)} == first, "it still waits: no need to ask again"
    with library.session() as session:
        row = session.get(Scouting, first[FindKind.PEOPLE])
        assert row is not None
        row.state = RunState.DONE
        session.add(row)
    ask_scouts(library, frame_id, [FindKind.PEOPLE], small=True, again=True)
    again = next(s for s, sought in scoutings(library, frame_id) if s.kind == "people")
    assert (again.state, again.small) == ("waiting", True)


def test_a_subject_is_not_ticked_and_finds_have_outlines(library: Library, frame_id: int) -> None:
    put(library, frame_id, "people", found("Person 1", 10, 10, subject=True), found("Person 2", 60, 10, also=True))
    one, two = finds(library, frame_id)
    assert (one.find.goes, two.find.goes) == (False, True)
    assert (one.box.x, one.box.right) == (9, 31), "tight, with a pixel for the fit"
    assert len(two.rings) == 1
    assert list(two.also) == ["shadow"]


def test_what_was_dropped_stays_dropped_when_the_scout_looks_again(library: Library, frame_id: int) -> None:
    put(library, frame_id, "people", found("Person 1", 10, 10), found("Person 2", 60, 10))
    dropped = finds(library, frame_id)[0].find
    change_find(library, frame_id, dropped.id or 0, FindChange(dropped=True))
    put(library, frame_id, "people", found("Person 1", 11, 10), found("Person 2", 60, 11), found("Person 3", 110, 10))
    left = finds(library, frame_id)
    assert [each.box.x + 1 for each in left] == [60, 110]
    assert "Person 1" not in [each.find.name for each in left]
    with pytest.raises(NotFound):
        change_find(library, frame_id, 999, FindChange(goes=True))


def test_looking_again_keeps_ticks_and_what_was_corrected_by_hand(library: Library, frame_id: int) -> None:
    put(library, frame_id, "people", found("Person 1", 10, 10), found("Person 2", 60, 10), found("Person 3", 110, 10))
    one, two, _ = (each.find.id or 0 for each in finds(library, frame_id))
    change_find(library, frame_id, one, FindChange(goes=False))
    change_find(library, frame_id, two, FindChange(shapes=[Stroke(points=((75.0, 40.0),), size=6)]))
    put(library, frame_id, "people", found("Person 1", 11, 10), found("Person 2", 60, 11))
    left = {each.find.name: each.find for each in finds(library, frame_id)}
    assert len(left) == 2
    assert left["Person 2"].id == two
    (other,) = (find for find in left.values() if find.id != two)
    assert not other.goes


def test_looking_again_searches_the_picture_as_it_stands(
    library: Library, frame: Frame, frame_id: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    put(library, frame_id, "people", found("Person 1", 60, 40), found("Person 2", 120, 10))
    person, other = (each.find.id or 0 for each in finds(library, frame_id))
    (sweep,), _ = keep_finds(library, frame_id, [person])
    change_find(library, frame_id, other, FindChange(dropped=True))
    fill_now(library, frame, sweep)
    searched: list[Pixels] = []

    def look_for(kind: FindKind, pixels: Pixels, *_: object) -> list[Found]:
        searched.append(pixels)
        return [found("Person 1", 61, 41), found("Person 2", 120, 11), found("Person 3", 20, 100)]

    monkeypatch.setattr("keen_sweep.studio.running.scouts.search_for", look_for)
    for again in (False, True):
        ask_scouts(library, frame_id, [FindKind.PEOPLE], again=again)
        with library.session(write=True) as session:
            (row,) = _scoutings(session, frame_id)
            row.state = RunState.RUNNING
            session.add(row)
        look(library, row.id)
        left = [(each.box.x + 1, each.box.y + 1) for each in finds(library, frame_id)]
        # What is left where somebody was removed is offered only if it was seen in the take.
        assert left == ([(61, 41), (20, 100)] if again else [(20, 100)])
    here = open_frame(library, frame_id)
    shot = here.pyramid.window(here.box)
    assert np.array_equal(searched[0], shot)
    assert np.array_equal(searched[1], here.seen())
    assert not np.array_equal(searched[1], shot)


def test_kept_finds_become_sweeps_in_one_step_and_come_back_with_undo(library: Library, frame_id: int) -> None:
    put(library, frame_id, "people", found("Person 1", 10, 10), found("Person 2", 60, 10, also=True))
    put(library, frame_id, "specks", *(found(f"Speck {k}", 20 * k, 90, "specks") for k in range(1, 5)))
    put(library, frame_id, "backdrop", found("Beyond the backdrop", 150, 20, "backdrop"))
    ids = [each.find.id or 0 for each in finds(library, frame_id)]
    change_find(library, frame_id, ids[1], FindChange(also=["shadow"]))
    sweeps, _ = keep_finds(library, frame_id, ids)
    stack = open_frame(library, frame_id).stack
    kept = {each.name: each for each in stack.sweeps}
    assert [layer.id for layer in stack.layers] == sweeps
    assert list(kept) == ["Person 1", "Person 2", "Beyond the backdrop", "4 specks"]
    assert len(kept["Person 2"].mark.shapes) == 2
    assert kept["Beyond the backdrop"].method == "backdrop"
    assert kept["4 specks"].together
    assert names(library, frame_id) == []
    history.undo(library, frame_id)
    assert len(names(library, frame_id)) == 7
    history.redo(library, frame_id)
    assert names(library, frame_id) == []
    with pytest.raises(BadRequest, match="at least one"):
        keep_finds(library, frame_id, ids)


def test_what_was_painted_by_hand_is_not_offered(library: Library, frame_id: int) -> None:
    put(library, frame_id, "people", found("Person 1", 20, 20), found("Person 2", 100, 20))
    new_sweep(library, frame_id, [Stroke(points=((22.0, 30.0), (38.0, 30.0)), size=30)])
    assert [each.find.name for each in finds(library, frame_id)] == ["Person 2"]
    # Half of somebody is not all of them.
    new_sweep(library, frame_id, [Stroke(points=((95.0, 30.0), (100.0, 30.0)), size=10)])
    assert [each.find.name for each in finds(library, frame_id)] == ["Person 2"]
    history.undo(library, frame_id)
    history.undo(library, frame_id)
    assert [each.find.name for each in finds(library, frame_id)] == ["Person 1", "Person 2"]
    # What takes a reflection off everything leaves people where they are.
    seek_reflection(library, frame_id, anyway=True)
    assert len(finds(library, frame_id)) == 2


def test_a_kind_of_things_is_ticked_wherever_it_is_found_once_somebody_said_so(
    library: Library, frame: Frame, frame_id: int
) -> None:
    bins = [replace(found(f"Bin {n}", 20 + 40 * n, 20, "things"), what="bin", chosen=False) for n in (1, 2)]
    chair = replace(found("Chair 1", 20, 80, "things"), what="chair", chosen=False)
    put(library, frame_id, "things", *bins, chair)
    first = next(each.find for each in finds(library, frame_id) if each.find.name == "Bin 1")
    change_find(library, frame_id, first.id, FindChange(always=True))
    assert {each.find.name: each.find.goes for each in finds(library, frame_id)} == {
        "Bin 1": True,
        "Bin 2": True,
        "Chair 1": False,
    }
    other = another(library, frame, 3)
    put(library, other, "things", *bins, chair)
    assert [each.always for each in finds(library, other)] == [True, True, False]
    assert [each.find.goes for each in finds(library, other)] == [True, True, False]
    change_find(library, frame_id, first.id, FindChange(always=False))
    put(library, other, "things", *bins, chair)
    assert not any(each.find.goes for each in finds(library, other))


def test_painting_adds_to_a_find_and_takes_away(library: Library, frame_id: int) -> None:
    put(library, frame_id, "people", found("Person 1", 10, 10))
    find_id = finds(library, frame_id)[0].find.id or 0
    change_find(library, frame_id, find_id, FindChange(shapes=[Stroke(points=((60, 20), (70, 20)), size=10)]))
    [wider] = finds(library, frame_id)
    assert wider.box.right >= 74
    cut = Stroke(points=((10, 20), (30, 20)), size=30, erase=True)
    change_find(library, frame_id, find_id, FindChange(shapes=[cut]))
    [left] = finds(library, frame_id)
    assert len(left.rings) == 1
    sweeps, _ = keep_finds(library, frame_id, [find_id])
    pixels = open_frame(library, frame_id).mask(sweeps[0])
    full = pixels.full(200, 150)
    assert full[20, 65] == 255
    assert full[20, 20] == 0


def test_dust_at_the_same_place_of_the_sensor_is_taken_in_all_frames(
    library: Library, frame: Frame, frame_id: int
) -> None:
    second, third = another(library, frame, 2), another(library, frame, 3)
    for each, shift in ((frame_id, 0), (second, 1), (third, 60)):
        specks = found("Speck 1", 100 + shift, 40, "specks"), found("Speck 2", 10, 40 + shift, "specks")
        put(library, each, "specks", *specks)
    mine = {each.find.name: each for each in finds(library, frame_id)}
    assert (mine["Speck 1"].frames, mine["Speck 2"].frames) == (2, 2)
    made = keep_dust_everywhere(library, frame_id, [mine["Speck 1"].find.id or 0])
    assert sorted(made) == [frame_id, second]
    assert names(library, second) == ["Speck 2"]
    assert len(names(library, third)) == 2


def test_nobody_in_a_box_is_said(library: Library, frame_id: int) -> None:
    with pytest.raises(BadMask, match="Nobody"):
        person_in_box(library, frame_id, Box(x=20, y=20, width=40, height=80))
    with pytest.raises(BadMask, match="outside"):
        person_in_box(library, frame_id, Box(x=900, y=20, width=40, height=80))


def test_a_scout_writes_what_it_finds_and_what_goes_wrong(
    library: Library, frame_id: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("keen_sweep.core.scout.networks.weights._place", tmp_path)
    detector._session.cache_clear()
    ask_scouts(library, frame_id, [FindKind.PEOPLE, FindKind.SPECKS])
    for row, _ in scoutings(library, frame_id):
        with library.session() as session:
            row.state = RunState.RUNNING
            session.add(row)
        look(library, row.id or 0)
    told = {s.kind: s for s, _ in scoutings(library, frame_id)}
    assert told[FindKind.SPECKS].state == "done"
    assert told[FindKind.SPECKS].seconds is not None
    assert told[FindKind.PEOPLE].state == "failed"
    assert "keen-sweep weights" in (told[FindKind.PEOPLE].error or "")


def test_waiting_looks_are_worked_off_and_a_killed_server_loses_none(library: Library, frame_id: int) -> None:
    ask_scouts(library, frame_id, [FindKind.SPECKS, FindKind.BACKDROP])
    with library.session() as session:
        left = next(s for s in _scoutings(session, frame_id) if s.kind == "specks")
        left.state = RunState.RUNNING  # as a killed server leaves it
        session.add(left)
    runner = Scouts(library, executor=ThreadPoolExecutor)
    runner.start()
    try:
        for _ in range(200):
            if all(s.state == "done" for s, _ in scoutings(library, frame_id)):
                break
            runner._stop.wait(0.05)
    finally:
        runner.stop()
    assert [s.state for s, _ in scoutings(library, frame_id)] == ["done", "done"]


def test_people_who_were_found_are_things_until_they_are_dropped(library: Library, frame: Frame, frame_id: int) -> None:
    put(library, frame_id, "people", found("Person 1", 120, 60), found("Person 2", 20, 20))
    put(library, frame_id, "specks", found("Speck 1", 170, 100, "specks"))
    assert len(list(things_of(open_frame(library, frame.id)))) == 2
    person = next(each.find for each in finds(library, frame_id) if each.find.name == "Person 2")
    change_find(library, frame_id, person.id or 0, FindChange(dropped=True))
    (left,) = things_of(open_frame(library, frame.id))
    assert left.shape == (frame.height, frame.width)
    assert left[70, 130]
    assert not left[30, 30], "what was dropped is no thing"


def test_finds_are_kept_and_filled_together_or_not_at_all(
    library: Library, frame_id: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    put(library, frame_id, "people", found("Person 1", 20, 20), found("Person 2", 120, 60))
    ids = [each.find.id or 0 for each in finds(library, frame_id)]
    before = history.steps(library, frame_id)
    asked: list[str] = []

    def full_after_one(library: Library, frame: int, sweep_id: str) -> Run:
        asked.append(sweep_id)
        if len(asked) == 2:
            raise BadMask("The second cannot be filled.")
        return ask_fill(library, frame, sweep_id)

    monkeypatch.setattr("keen_sweep.studio.finding.keep.ask_fill", full_after_one)
    with pytest.raises(BadMask):
        keep(library, frame_id, ids, fill=True)
    assert len(asked) == 2
    assert history.steps(library, frame_id) == before
    assert len(finds(library, frame_id)) == 2, "they are still offered"
    with library.session() as session:
        assert session.exec(select(Run)).all() == [], "nothing waits to be filled"
    monkeypatch.undo()
    made = keep(library, frame_id, ids, fill=True)
    assert len(made[frame_id]) == 2
    assert finds(library, frame_id) == []
    with library.session() as session:
        assert {run.sweep_id for run in session.exec(select(Run)).all()} == set(made[frame_id])
