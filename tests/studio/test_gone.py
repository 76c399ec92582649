"""Shoots and pictures that were deleted: out of sight, brought back as they were, forgotten after a while."""

from datetime import timedelta
from pathlib import Path

import numpy as np
import pytest
from sqlmodel import select

from keen_sweep.core.errors import Conflict, NotFound
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.write import encode_picture
from keen_sweep.core.scout.found import FindKind
from keen_sweep.store.check import check
from keen_sweep.store.library import Library
from keen_sweep.store.moment import now
from keen_sweep.store.room import room_of_gone
from keen_sweep.store.tables import Find, Frame, Revision, Run, Shoot
from keen_sweep.store.words import RunState
from keen_sweep.studio.delivering.deliver import deliver, handed_over
from keen_sweep.studio.desk import desk
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.gathering import gone as bin_of
from keen_sweep.studio.gathering.frames import add_frame, remove_frame
from keen_sweep.studio.gathering.gather import gather
from keen_sweep.studio.gathering.gone import bring_back, forget_old, gone
from keen_sweep.studio.gathering.shoots import delete_shoot, make_shoot, shoots
from keen_sweep.studio.gathering.states import FrameState, standings_of
from keen_sweep.studio.history import steps
from keen_sweep.studio.marking.draw import new_sweep


@pytest.fixture
def other(library: Library, frame: Frame) -> Frame:
    file = library.incoming / "other"
    pixels = np.random.default_rng(4).integers(0, 255, (60, 90, 3)).astype(np.uint8)
    file.write_bytes(encode_picture(Picture(pixels=pixels, format="png"), "png"))
    return add_frame(library, frame.shoot_id, "other.png", file)


def names(library: Library) -> dict[str, list[str]]:
    return {shoot.name: [frame.name for frame in frames] for shoot, frames in shoots(library)}


def test_a_shoot_is_deleted_and_comes_back_with_all_that_was_done(library: Library, frame: Frame) -> None:
    new_sweep(library, frame.id, [Stroke(points=((50, 50), (70, 60)), size=12)])
    run = ask_fill(library, frame.id, desk(library, frame.id).sweeps[0].sweep.id)
    delete_shoot(library, frame.shoot_id)
    assert names(library) == {}
    # Nobody waits for its fills any more.
    with library.session() as session:
        assert session.get_one(Run, run.id).state is RunState.CANCELLED
    ((only),) = gone(library)
    assert (only.name, only.frames) == ("Roofs", 1)
    bring_back(library, only.shoot)
    assert names(library) == {"Roofs": ["roof.tif"]}
    assert len(steps(library, frame.id)) == 2
    assert gone(library) == []
    with pytest.raises(NotFound):
        bring_back(library, only.shoot)


def test_a_picture_leaves_its_shoot_and_comes_back_into_it(library: Library, frame: Frame, other: Frame) -> None:
    remove_frame(library, other.id)
    assert names(library) == {"Roofs": ["roof.tif"]}
    assert desk(library, frame.id).neighbours == [(frame.id, "roof.tif")]
    (only,) = gone(library)
    assert only.name == "other.png of Roofs"
    # While its shoot is gone too there is nothing that it could come back into.
    delete_shoot(library, frame.shoot_id)
    with pytest.raises(Conflict, match="Bring the shoot back first"):
        bring_back(library, only.shoot)
    bring_back(library, frame.shoot_id)
    bring_back(library, only.shoot)
    assert names(library) == {"Roofs": ["other.png", "roof.tif"]}
    assert gone(library) == []


def test_what_was_removed_can_be_gathered_anew(library: Library, frame: Frame, photo_file: object) -> None:
    remove_frame(library, frame.id)
    again = library.incoming / "again"
    again.write_bytes(library.files.read(frame.original))
    assert gather(library, frame.shoot_id, "roof.tif", again).id != frame.id


def test_after_a_while_it_is_forgotten_with_its_finds(
    library: Library, frame: Frame, other: Frame, monkeypatch: pytest.MonkeyPatch
) -> None:
    with library.session() as session:
        session.add(
            Find(frame_id=other.id, original=other.original, kind=FindKind.PEOPLE, name="", confidence=1, reason="")
        )
    remove_frame(library, other.id)
    assert forget_old(library) == 0
    monkeypatch.setattr(bin_of, "UNDELETE_TIME", timedelta(days=-1))
    assert forget_old(library) == 1
    with library.session() as session:
        assert session.get(Frame, other.id) is None
        assert session.exec(select(Find)).all() == []
        assert len(session.exec(select(Shoot)).all()) == 1
    assert library.files.read(other.original), "somebody may be adding it again just now"


def test_the_files_of_what_is_forgotten_are_freed_but_for_those_that_others_need(
    library: Library, frame: Frame, other: Frame, photo_file: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A picture that two shoots have stays; one that only the forgotten had goes, with its views."""
    again = library.incoming / "again"
    again.write_bytes(photo_file.read_bytes())
    twin = add_frame(library, make_shoot(library, "Twin").id, "roof.tif", again)
    assert twin.original == frame.original
    view = library.views / other.original
    view.mkdir(exist_ok=True)
    (view / "level").write_bytes(bytes(1000))
    delete_shoot(library, frame.shoot_id)
    size = library.files.size(other.original)
    assert room_of_gone(library) >= size + 1000
    monkeypatch.setattr(bin_of, "UNDELETE_TIME", timedelta(days=-1))
    monkeypatch.setattr("keen_sweep.store.files.RECENT_SECONDS", -1.0)
    assert forget_old(library) == 1
    assert library.files.size(other.original) == 0
    assert not view.exists()
    assert library.files.read(twin.original)
    assert room_of_gone(library) == 0
    assert not check(library).lost


def test_a_frame_is_delivered_until_something_is_done_to_it(library: Library, frame: Frame) -> None:
    def state() -> FrameState:
        return standings_of(library, frame.shoot_id)[frame.id].state

    assert state() is FrameState.UNTOUCHED
    deliver(library, frame.id)
    assert state() is FrameState.UNTOUCHED, "nobody has the file yet"
    handed_over(library, frame.id)
    assert state() is FrameState.DELIVERED
    new_sweep(library, frame.id, [Stroke(points=((50, 50), (70, 60)), size=12)])
    assert state() is FrameState.MARKED


def test_a_clock_that_is_wrong_for_a_day_makes_nothing_forgotten(
    library: Library, frame: Frame, other: Frame, monkeypatch: pytest.MonkeyPatch
) -> None:
    remove_frame(library, other.id)
    later = now() + timedelta(days=400)
    monkeypatch.setattr(bin_of, "now", lambda: later)
    assert forget_old(library) == 0
    # Work that was done as late as that is another matter.
    _, revision = new_sweep(library, frame.id, [Stroke(points=((50, 50), (70, 60)), size=12)])
    with library.session() as session:
        row = session.get_one(Revision, revision.id)
        row.made_at = later
        session.add(row)
    assert forget_old(library) == 1
