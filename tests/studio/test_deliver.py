"""Deliveries: like the original, for the web, layered, into folders and ZIPs; what they tell of themselves."""

import io
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pyora
import pytest
from numpy.typing import NDArray
from PIL import Image

from keen_sweep.core.box import Box
from keen_sweep.core.deliver.ledger import Way
from keen_sweep.core.deliver.ledger_pages import as_csv, as_page
from keen_sweep.core.deliver.xmp import ledger_in, source_type_in
from keen_sweep.core.errors import BadRequest, Conflict, LibraryTrouble, NotFound
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.touch.dab import Brush, Source
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.choosing.arrange import set_amount, show
from keen_sweep.studio.choosing.mix import mix_takes
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.delivering.deliver import deliver, name_of
from keen_sweep.studio.delivering.into import deliver_into, last_time, names_of, remember, zipped
from keen_sweep.studio.delivering.ledger import ledger_of
from keen_sweep.studio.delivering.wanted import Kind, Wanted
from keen_sweep.studio.filling.takes import keep_take
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.history import steps
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.touching.touch import touch_up
from tests.support.sure import sure

BOX = Box(x=200, y=120, width=48, height=40)


@pytest.fixture
def photo(library: Library, tmp_path: Path, photograph: NDArray[Any]) -> Frame:
    """A JPEG of 4:2:0 in a shoot of its own, with Exif."""
    exif = Image.Exif()
    exif[0x010E] = "the pond"
    file = library.incoming / "pond.jpg"
    Image.fromarray(photograph).save(file, quality=90, exif=exif)
    return add_frame(library, make_shoot(library, "Orrin Vale").id, "pond.jpg", file)


def filled(
    library: Library, frame: Frame, name: str, box: Box, method: MadeBy = MadeBy.WEAVE, **made: object
) -> tuple[str, int]:
    """A sweep with one take that was picked, flat grey; its id and the take's."""
    sweep, _ = new_sweep(library, frame.id, [Stroke(points=((box.x + 20, box.y + 20),), size=30)], name)
    shape = (box.height, box.width)
    patch = Patch(
        box=box,
        pixels=np.full((*shape, 3), 120, np.uint8),
        alpha=np.full(shape, 255, np.uint8),
        method=method,
        seed=5,
        provenance=Provenance.model_validate(made),
    )
    take = keep_take(library, frame.id, sweep, 0, patch)
    pick(library, frame.id, sweep, take)
    return sweep, take


def decoded(data: bytes) -> NDArray[Any]:
    with Image.open(io.BytesIO(data)) as image:
        return np.asarray(image)


def test_nothing_done_is_the_original_byte_for_byte(library: Library, photo: Frame) -> None:
    made = deliver(library, photo.id)
    assert made.name == "pond-swept.jpg"
    assert made.data == library.files.read(photo.original)


def test_a_jpeg_keeps_what_was_not_touched_and_says_what_was(library: Library, photo: Frame) -> None:
    filled(library, photo, "Bench", BOX)
    made = deliver(library, photo.id)
    before, after = decoded(library.files.read(photo.original)), decoded(made.data)
    # A unit of sixteen round the box, and the pixel beside it that a decoder's smoothing reaches.
    touched = np.zeros(before.shape[:2], bool)
    touched[
        BOX.y // 16 * 16 - 1 : -(-BOX.bottom // 16) * 16 + 1, BOX.x // 16 * 16 - 1 : -(-BOX.right // 16) * 16 + 1
    ] = True
    assert np.array_equal(after[~touched], before[~touched])
    assert np.abs(after[BOX.slices].astype(int) - 120).mean() < 3
    with Image.open(io.BytesIO(made.data)) as image:
        assert image.getexif()[0x010E] == "the pond"
        told = ledger_in(image.info["xmp"])
    assert told == ledger_of(library, photo.id)
    assert [(entry.name, entry.way, entry.seed) for entry in told.entries] == [("Bench", Way.WOVEN, 5)]
    assert told.entries[0].share == pytest.approx(100 * 48 * 40 / (640 * 427), abs=1e-3)
    silent = deliver(library, photo.id, Wanted(ledger=False))
    with Image.open(io.BytesIO(silent.data)) as image:
        assert "xmp" not in image.info


@pytest.mark.parametrize("kind", [Kind.PNG, Kind.TIFF])
def test_lossless_kinds_are_the_picture_to_the_bit(library: Library, photo: Frame, kind: Kind) -> None:
    sweep, _ = filled(library, photo, "Bench", BOX)
    whole = decoded(deliver(library, photo.id, Wanted(kind=kind)).data)
    assert np.array_equal(whole, open_frame(library, photo.id).seen())
    set_amount(library, photo.id, sweep, 37)
    faded = decoded(deliver(library, photo.id, Wanted(kind=kind)).data)
    assert np.array_equal(faded, open_frame(library, photo.id).seen())
    assert not np.array_equal(faded, whole)


def test_for_the_web(library: Library, photo: Frame) -> None:
    filled(library, photo, "Bench", BOX)
    made = deliver(library, photo.id, Wanted(kind=Kind.WEB, longest=320, pattern="{name}-{size}"))
    assert made.name == "pond-320.jpg"
    with Image.open(io.BytesIO(made.data)) as image:
        assert image.size == (320, 214)
        assert sure(source_type_in(image.info["xmp"])).endswith("algorithmicallyEnhanced")


def test_a_delivered_file_is_recognised_and_its_ledger_read(library: Library, photo: Frame) -> None:
    filled(library, photo, "Bench", BOX)
    file = library.incoming / "back.jpg"
    file.write_bytes(deliver(library, photo.id).data)
    back = add_frame(library, photo.shoot_id, "pond-swept.jpg", file)
    assert steps(library, back.id)[0].title == "as delivered by Keen Sweep before"
    assert [entry.name for entry in ledger_of(library, back.id).entries] == ["Bench"]
    filled(
        library,
        back,
        "Sign",
        Box(x=40, y=40, width=20, height=20),
        MadeBy.MODEL,
        model={"name": "house", "sha256": "ab" * 32},
    )
    again = ledger_of(library, back.id)
    assert [(entry.name, entry.way, entry.model) for entry in again.entries] == [
        ("Bench", Way.WOVEN, ""),
        ("Sign", Way.MODEL, "house"),
    ]


def test_layers_are_the_sweeps_and_the_touch_ups_between_them(library: Library, photo: Frame, tmp_path: Path) -> None:
    filled(library, photo, "Bench", BOX)
    hidden, _ = filled(library, photo, "Bin", Box(x=400, y=300, width=30, height=30))
    show(library, photo.id, hidden, False)
    stroke = Stroke(points=((80.5, 80.5),), size=20)
    touch_up(library, photo.id, Brush.CLONE, stroke, 100, Source(at=(300.5, 300.5), to=(80.5, 80.5)))
    made = deliver(library, photo.id, Wanted(kind=Kind.ORA))
    assert (made.name, made.media_type) == ("pond-swept.ora", "image/openraster")
    (tmp_path / "a.ora").write_bytes(made.data)
    project = pyora.Project.load(str(tmp_path / "a.ora"))
    layers = list(project.children_recursive)
    assert [(layer.name, layer.visible) for layer in layers] == [
        ("Touch-up 1", True),
        ("Bin", False),
        ("Bench", True),
        ("As shot", True),
    ]
    shown = np.asarray(project.get_image_data(use_original=True).convert("RGB"))
    assert np.array_equal(shown, open_frame(library, photo.id).seen())
    pages = deliver(library, photo.id, Wanted(kind=Kind.LAYERS))
    assert pages.name == "pond-swept.layers.tif"
    told = ledger_of(library, photo.id)
    assert [(entry.name, entry.way) for entry in told.entries] == [
        ("Bench", Way.WOVEN),
        ("Cloned, 1 stroke", Way.BY_HAND),
    ]
    assert 0 < told.entries[1].share < 0.2


def test_a_mix_is_told_by_what_it_was_made_of(library: Library, photo: Frame) -> None:
    sweep, take = filled(
        library, photo, "Sign", BOX, MadeBy.MODEL, model={"name": "house", "service": "painters"}, credits=2.0
    )
    mix_takes(library, photo.id, sweep, take, 0, [Stroke(points=((215.0, 135.0),), size=12)])
    (entry,) = ledger_of(library, photo.id).entries
    assert (entry.way, entry.model, entry.service, entry.credits) == (Way.MODEL, "house", "painters", 2.0)


@pytest.mark.parametrize(
    ("method", "made", "way"),
    [
        ("borrow", {"sisters": ["pond-2"], "borrowed": 1.0}, Way.BORROWED),
        ("borrow", {"sisters": ["pond-2"], "borrowed": 0.8}, Way.WOVEN),
        ("close", {}, Way.CONTINUED),
        ("backdrop", {}, Way.BACKDROP),
        ("auto", {}, Way.WOVEN),
    ],
)
def test_ways(library: Library, photo: Frame, method: MadeBy, made: dict[str, object], way: Way) -> None:
    filled(library, photo, "Bench", BOX, method, **made)
    (entry,) = ledger_of(library, photo.id).entries
    assert entry.way is way
    assert list(entry.sisters) == made.get("sisters", [])


def test_a_folder_gets_whole_files_and_none_is_written_over(library: Library, photo: Frame, tmp_path: Path) -> None:
    filled(library, photo, "Bench", BOX)
    wanted = Wanted(masks=True, pattern="{shoot}/{name}")
    out = tmp_path / "client"
    files = deliver_into(library, photo.id, wanted, str(out))
    assert [str(each.relative_to(out)) for each in files] == ["Orrin Vale/pond.jpg", "Orrin Vale/pond-mask-1.png"]
    mask = decoded(files[1].read_bytes())
    assert mask.shape == (427, 640)
    assert mask.any()
    content = files[0].read_bytes()
    with pytest.raises(Conflict, match="exists already"):
        deliver_into(library, photo.id, wanted, str(out))
    assert files[0].read_bytes() == content
    assert [each.there for each in names_of(library, [photo.id], wanted, str(out))] == [True]
    files[0].write_bytes(b"older")
    deliver_into(library, photo.id, wanted, str(out), over=True)
    assert len(files[0].read_bytes()) == len(content)
    assert not [each for each in out.rglob("*") if each.name.startswith(".part")]


def test_folders_that_are_none(library: Library, photo: Frame, tmp_path: Path) -> None:
    for folder, words in (
        ("", "full path"),
        ("delivered", "full path"),
        (str(library.folder / "files"), "belongs to the library"),
        (str(tmp_path / "note"), "is a file"),
    ):
        (tmp_path / "note").write_text("a note")
        with pytest.raises(BadRequest, match=words):
            deliver_into(library, photo.id, Wanted(), folder)
    (tmp_path / "shut").mkdir()
    (tmp_path / "shut" / "pond-swept.jpg").symlink_to(library.files.path(photo.original))
    with pytest.raises(Conflict, match="left as it is"):
        deliver_into(library, photo.id, Wanted(), str(tmp_path / "shut"), over=True)


def test_a_folder_that_cannot_be_written_says_so(library: Library, photo: Frame) -> None:
    with pytest.raises(LibraryTrouble, match=r"not enough space|cannot be created|cannot be written"):
        deliver_into(library, photo.id, Wanted(), "/proc/keen sweep")


def test_a_full_disk_leaves_nothing_half(
    library: Library, photo: Frame, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("keen_sweep.core.photo.write.os.fsync", full)
    with pytest.raises(LibraryTrouble, match="No space left"):
        deliver_into(library, photo.id, Wanted(), str(tmp_path / "client"))
    assert not [each for each in (tmp_path / "client").rglob("*") if each.is_file()]


def test_several_pictures_that_would_have_one_name(library: Library, photo: Frame) -> None:
    file = library.incoming / "two.png"
    Image.fromarray(np.zeros((40, 40, 3), np.uint8)).save(file)
    other = add_frame(library, photo.shoot_id, "bridge.png", file)
    frames = [photo.id, other.id]
    assert [each.name for each in names_of(library, frames, Wanted())] == ["pond-swept.jpg", "bridge-swept.png"]
    with pytest.raises(BadRequest, match="Several pictures would be named all"):
        names_of(library, frames, Wanted(kind=Kind.PNG, pattern="all"))
    with pytest.raises(NotFound):
        names_of(library, [photo.id, 4711], Wanted())
    data = b"".join(zipped(library, frames, Wanted(pattern="{number} {name}")))
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        assert packed.namelist() == ["1 pond.jpg", "2 bridge.png"]
        assert packed.testzip() is None
        assert packed.read("1 pond.jpg") == library.files.read(photo.original)


def test_again_as_last_time(library: Library, photo: Frame) -> None:
    assert last_time(library, photo.shoot_id) is None
    wanted = Wanted(kind=Kind.WEB, longest=1_000)
    remember(library, photo.shoot_id, wanted, "/home/me/client")
    assert last_time(library, photo.shoot_id) == (wanted, "/home/me/client")
    assert name_of(library, photo.id, wanted) == "pond-swept.jpg"


def test_ledgers_for_people(library: Library, photo: Frame) -> None:
    filled(library, photo, "=Bench & <Bin>", BOX)
    ledgers = [ledger_of(library, photo.id)]
    lines = as_csv(ledgers).splitlines()
    assert lines[0].startswith("frame,what,how")
    assert lines[1].startswith("pond.jpg,'=Bench & <Bin>,woven,0.70")
    page = as_page(ledgers, "Orrin <Vale>", steps(library, photo.id)[0].made_at.date())
    assert "Orrin &lt;Vale&gt;" in page
    assert "=Bench &amp; &lt;Bin&gt;" in page
    assert "<script" not in page
