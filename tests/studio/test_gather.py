"""Gathering: raw files with the rest, each picture once, a broken one among many."""

from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from keen_sweep.core.errors import AlreadyThere, BadRequest
from keen_sweep.store.library import Library
from keen_sweep.studio.gathering.gather import files_in, gather, gather_folder
from keen_sweep.studio.gathering.shoots import make_shoot, shoots
from keen_sweep.studio.history import steps
from tests.support.raws import write_dng


@pytest.fixture
def card(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder as it comes off a card: raw files, pictures, and what is none."""
    folder = tmp_path_factory.mktemp("card")
    (folder / "day 2").mkdir()
    (folder / ".hidden").mkdir()
    random = np.random.default_rng(4)
    for name in ("a-2.png", "a-10.png", "day 2/b-1.png", ".hidden/c.png"):
        Image.fromarray(random.integers(0, 255, (40, 60, 3)).astype(np.uint8)).save(folder / name)
    write_dng(folder / "a-3.dng", np.full((64, 96, 3), 0.2))
    (folder / "a-4.jpg").write_bytes(b"\xff\xd8\xff\xe0 broken")
    (folder / "notes.txt").write_text("three frames of the pond")
    (folder / "copy of a-2.png").write_bytes((folder / "a-2.png").read_bytes())
    return folder


def test_a_folder_is_gathered_and_a_broken_file_stops_nothing(library: Library, card: Path) -> None:
    shoot = make_shoot(library, "Pond")
    before = {file: file.read_bytes() for file in card.rglob("*") if file.is_file()}
    files = files_in(card)
    assert [str(file.relative_to(card)) for file in files] == [
        "a-2.png",
        "a-3.dng",
        "a-4.jpg",
        "a-10.png",
        "copy of a-2.png",
        "day 2/b-1.png",
        "notes.txt",
    ]
    done = {str(each.file.relative_to(card)): each for each in gather_folder(library, shoot.id, files)}
    ((_, frames),) = shoots(library)
    assert [frame.name for frame in frames] == ["a-2.png", "a-3.dng", "a-10.png", "b-1.png"]
    assert done["copy of a-2.png"].known
    assert done["copy of a-2.png"].why == "This picture is already in the shoot, as a-2.png."
    assert "damaged" in done["a-4.jpg"].why
    assert "not supported" in done["notes.txt"].why
    assert not any(library.incoming.iterdir())
    # What lies in the folder is only read.
    assert {file: file.read_bytes() for file in card.rglob("*") if file.is_file()} == before


def test_a_second_time_everything_is_there_already(library: Library, card: Path) -> None:
    shoot = make_shoot(library, "Pond")
    list(gather_folder(library, shoot.id, files_in(card)))
    again = list(gather_folder(library, shoot.id, files_in(card)))
    assert sum(each.known for each in again) == 5
    assert not any(each.frame for each in again)
    other = make_shoot(library, "Pond, again")
    assert sum(each.frame is not None for each in gather_folder(library, other.id, files_in(card))) == 4


def test_a_raw_frame_says_how_it_was_developed(library: Library, card: Path) -> None:
    shoot = make_shoot(library, "Pond")
    part = library.incoming / "part"
    part.write_bytes((card / "a-3.dng").read_bytes())
    frame = gather(library, shoot.id, "a-3.dng", part)
    assert (frame.format, frame.depth, frame.width, frame.height) == ("raw", 16, 96, 64)
    assert steps(library, frame.id)[0].title == "as shot, developed neutrally"
    part.write_bytes((card / "a-3.dng").read_bytes())
    with pytest.raises(AlreadyThere, match=r"as a-3\.dng"):
        gather(library, shoot.id, "again.dng", part)


def test_no_folder_is_said_to_be_none(tmp_path: Path) -> None:
    with pytest.raises(BadRequest, match="There is no folder"):
        files_in(tmp_path / "nowhere")
