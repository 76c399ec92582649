"""Watched folders: newer versions are taken up when they are written, and nothing else is."""

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.write import encode_picture
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.delivering.into import deliver_into
from keen_sweep.studio.delivering.wanted import Wanted
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import delete_shoot, make_shoot
from keen_sweep.studio.gathering.watch import Watched, named_after, watch, watched_by
from keen_sweep.studio.history import steps, undo
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.running.watcher import Watcher


def as_file(pixels: NDArray[Any]) -> bytes:
    return encode_picture(Picture(pixels=pixels, format="png"), "png")


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    made = tmp_path / "developed"
    made.mkdir()
    return made


@pytest.fixture
def photo(library: Library, photograph: NDArray[Any], folder: Path) -> Frame:
    file = library.incoming / "roof.png"
    file.write_bytes(as_file(photograph))
    frame = add_frame(library, make_shoot(library, "Roofs").id, "roof.png", file)
    watch(library, frame.shoot_id, str(folder))
    return frame


@pytest.fixture
def watcher(library: Library) -> Watcher:
    return Watcher(library)


def told(library: Library, frame: Frame) -> Watched:
    found = watched_by(library, frame.shoot_id)
    assert found is not None
    return found


def test_a_newer_version_is_taken_up_once_it_is_written_to_its_end(
    library: Library, photo: Frame, folder: Path, watcher: Watcher, photograph: NDArray[Any]
) -> None:
    newer = (photograph * 0.8).astype(np.uint8)
    data = as_file(newer)
    file = folder / "Roof (graded).png"
    file.write_bytes(data[: len(data) // 2])
    watcher.look()
    # Still growing: it is left alone.
    file.write_bytes(data)
    watcher.look()
    assert np.array_equal(open_frame(library, photo.id).seen(), photograph)
    watcher.look()
    assert np.array_equal(open_frame(library, photo.id).seen(), newer)
    assert told(library, photo) == Watched(str(folder), True, 1, ())
    assert [step.title for step in steps(library, photo.id)][-1] == "newer version, Roof (graded).png"
    for _ in range(2):
        watcher.look()
    assert len(steps(library, photo.id)) == 2
    # Going back to the earlier version stays so, although the file is there.
    undo(library, photo.id)
    file.touch()
    for _ in range(3):
        watcher.look()
    assert np.array_equal(open_frame(library, photo.id).seen(), photograph)


def test_what_is_no_version_is_left_and_said(
    library: Library, photo: Frame, folder: Path, watcher: Watcher, photograph: NDArray[Any]
) -> None:
    noise = np.random.default_rng(2).integers(0, 255, photograph.shape).astype(np.uint8)
    (folder / "roof-2.png").write_bytes(as_file(noise))
    (folder / "roof.xmp").write_text("a sidecar")
    (folder / "roofs.png").write_bytes(as_file(photograph // 2))
    (folder / ".roof.png").write_bytes(as_file(photograph // 2))
    deliver_into(library, photo.id, Wanted(pattern="{name}_out"), str(folder))
    assert (folder / "roof_out.png").exists()
    for _ in range(3):
        watcher.look()
    found = told(library, photo)
    assert found.taken == 0
    ((name, why),) = found.left
    assert name == "roof-2.png"
    assert "does not show the same picture" in why
    assert np.array_equal(open_frame(library, photo.id).seen(), photograph)


def test_a_folder_that_goes_away_and_comes_back_does_no_harm(
    library: Library, photo: Frame, folder: Path, watcher: Watcher, photograph: NDArray[Any]
) -> None:
    away = folder.rename(folder.with_name("unplugged"))
    watcher.look()
    assert not told(library, photo).there
    (away / "roof.png").write_bytes(as_file(photograph // 2))
    away.rename(folder)
    for _ in range(2):
        watcher.look()
    assert told(library, photo).taken == 1
    delete_shoot(library, photo.shoot_id)
    watcher.look()


def test_folders_that_cannot_be_watched(library: Library, photo: Frame, folder: Path) -> None:
    for wrong, words in (
        ("developed", "full path"),
        (str(folder / "nowhere"), "no folder"),
        (str(library.folder / "originals"), "belongs to the library"),
    ):
        with pytest.raises(BadRequest, match=words):
            watch(library, photo.shoot_id, wrong)
    watch(library, photo.shoot_id, None)
    assert watched_by(library, photo.shoot_id) is None


@pytest.mark.parametrize(
    ("name", "frame"),
    [
        ("ov-0412.tif", "ov-0412.jpg"),
        ("OV-0412-b.TIF", "ov-0412-b.jpg"),
        ("ov-0412-c.tif", "ov-0412.jpg"),
        ("ov-04125.tif", None),
        ("other.tif", None),
    ],
)
def test_files_are_known_by_their_names(name: str, frame: str | None) -> None:
    frames = [
        Frame(id=n, shoot_id=1, name=each, original="", format="jpeg", width=9, height=6, depth=8)
        for n, each in enumerate(("ov-0412.jpg", "ov-0412-b.jpg"))
    ]
    found = named_after(name, frames)
    assert (found and found.name) == frame
