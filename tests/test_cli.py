"""The command line keeps its contract to the letter: scripts rely on it."""

import json
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
import tifffile
from numpy.typing import NDArray
from PIL import Image
from skimage import data

from keen_sweep.bench.drawn import reflected
from keen_sweep.demo.shoot import clean_twin
from keen_sweep.simulated.app import DEMO_KEY
from tests.support.graphs import graph
from tests.support.service import running
from tests.support.shell import keen_sweep, keen_sweep_apart


@pytest.fixture
def job(tmp_path: Path, photograph: NDArray[Any]) -> tuple[Path, Path, Path]:
    photo, mask = tmp_path / "photo.png", tmp_path / "mask.png"
    pixels = np.ascontiguousarray(photograph[150:300, 200:400])
    photo.write_bytes(imagecodecs.png_encode(pixels.astype(np.uint16) * 257))
    area = np.zeros(pixels.shape[:2], np.uint8)
    area[60:90, 80:110] = 255
    mask.write_bytes(imagecodecs.png_encode(area))
    return photo, mask, tmp_path / "out"


def test_three_takes_best_first_at_full_size_and_depth(job: tuple[Path, Path, Path]) -> None:
    photo, mask, out = job
    before = photo.read_bytes()
    done = keen_sweep_apart("fill", photo, "--mask", mask, "--out", out, "--quality", "fast", "--json")
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout)
    assert told.keys() == {"takes", "seconds"}
    assert [Path(take["file"]).name for take in told["takes"]] == ["take-1.png", "take-2.png", "take-3.png"]
    assert sorted(take["seed"] for take in told["takes"]) == [0, 1, 2]
    source, area = imagecodecs.png_decode(before), imagecodecs.png_decode(mask.read_bytes()) > 0
    seen = []
    for take in told["takes"]:
        assert take.keys() == {"file", "method", "seed", "seconds", "made", "parts"}
        assert take["parts"][0].keys() >= {"method", "why"}
        after = imagecodecs.png_decode(Path(take["file"]).read_bytes())
        assert after.dtype == np.uint16
        assert np.array_equal(after[~area], source[~area])
        seen.append(after[area].tobytes())
    assert len(set(seen)) == 3
    assert photo.read_bytes() == before


def test_formats_seeds_and_methods(job: tuple[Path, Path, Path]) -> None:
    photo, mask, out = job
    words = ("--takes", 1, "--quality", "fast", "--seed", 7, "--method", "weave")
    for number in (1, 2):
        folder = out / str(number)
        assert keen_sweep("fill", photo, "--mask", mask, "--out", folder, "--format", "tiff", *words).returncode == 0
    first, second = (tifffile.imread(out / number / "take-1.tif") for number in "12")
    assert np.array_equal(first, second)
    done = keen_sweep("fill", photo, "--mask", mask, "--out", out, "--format", "jpeg", *words)
    assert done.returncode == 0
    assert done.stdout == ""
    with Image.open(out / "take-1.jpg") as image:
        assert image.size == (200, 150)


def test_stages_are_for_long_masks_only(job: tuple[Path, Path, Path], tmp_path: Path, photograph: NDArray[Any]) -> None:
    """A short mask is filled at once whatever was asked; a long one section by section, another fill."""
    photo, mask, out = job
    words = ("--takes", 1, "--quality", "fast", "--method", "weave")
    for folder, more in (("plain", ()), ("staged", ("--stages",))):
        assert keen_sweep("fill", photo, "--mask", mask, "--out", out / folder, *words, *more).returncode == 0
    assert (out / "plain/take-1.png").read_bytes() == (out / "staged/take-1.png").read_bytes()
    wide = np.concatenate([photograph[:200]] * 2, axis=1)[:, :1000]
    area = np.zeros(wide.shape[:2], np.uint8)
    area[90:110, 100:900] = 255
    Image.fromarray(wide).save(tmp_path / "wide.png")
    Image.fromarray(area).save(tmp_path / "area.png")
    for folder, more in (("plain", ()), ("staged", ("--stages",))):
        done = keen_sweep(
            "fill", tmp_path / "wide.png", "--mask", tmp_path / "area.png", "--out", out / folder, *words, *more
        )
        assert done.returncode == 0
    plain, staged = (np.asarray(Image.open(out / folder / "take-1.png")) for folder in ("plain", "staged"))
    assert np.array_equal(staged[area == 0], wide[area == 0])
    assert not np.array_equal(plain, staged)


def test_a_benchmark_case_that_is_not_there_is_named(tmp_path: Path) -> None:
    done = keen_sweep("bench", "--out", tmp_path, "--case", "no such thing")
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    assert "person on grass" in done.stderr


def test_bad_input_is_one_line_on_stderr_and_exit_two(job: tuple[Path, Path, Path], tmp_path: Path) -> None:
    photo, mask, out = job
    small, empty, full, text = (tmp_path / name for name in ("small.png", "empty.png", "full.png", "text.png"))
    small.write_bytes(imagecodecs.png_encode(np.full((20, 20), 255, np.uint8)))
    empty.write_bytes(imagecodecs.png_encode(np.zeros((150, 200), np.uint8)))
    full.write_bytes(imagecodecs.png_encode(np.full((150, 200), 255, np.uint8)))
    text.write_text("no picture")
    for words, expected in [
        ((photo, "--mask", small, "--out", out), "same size"),
        ((photo, "--mask", empty, "--out", out), "empty"),
        ((photo, "--mask", full, "--out", out), "whole picture"),
        ((text, "--mask", mask, "--out", out), "not JPEG, PNG, TIFF"),
        ((tmp_path / "none.png", "--mask", mask, "--out", out), "cannot be read"),
        ((photo, "--mask", text, "--out", out), "mask cannot be used"),
        ((photo, "--mask", mask, "--out", text), "cannot be written"),
        ((photo, "--mask", mask, "--out", "/proc/nothing"), "cannot be written"),
        ((photo, "--mask", mask, "--out", out, "--takes", 0), "takes"),
        ((photo, "--mask", mask, "--out", out, "--method", "magic"), "magic"),
        ((photo, "--out", out), "--mask"),
    ]:
        done = keen_sweep("fill", *words)
        assert done.returncode == 2, (words, done.stderr)
        assert done.stdout == ""
        assert len(done.stderr.strip().splitlines()) == 1, done.stderr
        assert expected in done.stderr
    done = keen_sweep_apart("fill", photo, "--mask", small, "--out", out)
    assert (done.returncode, done.stdout, len(done.stderr.splitlines())) == (2, "", 1)


def test_masks_from_strokes(job: tuple[Path, Path, Path], tmp_path: Path) -> None:
    photo, _, _ = job
    out = tmp_path / "made.png"
    done = keen_sweep(
        "mask", photo, "--stroke", "60,50 100,50 @20", "--stroke", "150,100 @9", "--grow", 3, "--out", out
    )
    assert done.returncode == 0, done.stderr
    made = imagecodecs.png_decode(out.read_bytes())
    assert made.shape == (150, 200)
    assert made[50 + 12, 80] == 255
    assert made[50 + 14, 80] == 0
    assert made[100, 150] == 255
    clung = keen_sweep("mask", photo, "--stroke", "60,50 100,50 @20", "--cling", "--feather", 2, "--out", out)
    assert clung.returncode == 0, clung.stderr
    made = imagecodecs.png_decode(out.read_bytes())
    assert 0 < np.mean((made > 0) & (made < 255)) < 0.5


@pytest.mark.parametrize(
    ("words", "say"),
    [
        (("--stroke", "60;50 @20"), "x,y x,y ... @SIZE"),
        (("--stroke", "60,50 70,70"), "x,y x,y ... @SIZE"),
        (("--stroke", "60,50 @0"), "size"),
        (("--stroke", "60,50 @100000"), "size"),
        (("--stroke", "9000,9000 @10"), "outside"),
        (("--stroke", "60,50 @20", "--grow", "9000"), "--grow"),
        (("--stroke", "60,50 @20", "--feather", "-1"), "--feather"),
    ],
)
def test_senseless_strokes_are_answered_in_a_line(
    job: tuple[Path, Path, Path], tmp_path: Path, words: tuple[str, ...], say: str
) -> None:
    done = keen_sweep("mask", job[0], *words, "--out", tmp_path / "made.png")
    assert done.returncode == 2
    assert len(done.stderr.strip().splitlines()) == 1
    assert say in done.stderr
    assert not (tmp_path / "made.png").exists()


def test_a_scout_writes_a_mask_a_find(tmp_path: Path) -> None:
    pixels = np.full((240, 320, 3), (150, 180, 215), np.uint8)
    pixels = np.clip(pixels + np.random.default_rng(0).normal(0, 1.5, pixels.shape), 0, 255).astype(np.uint8)
    yy, xx = np.mgrid[0:240, 0:320]
    pixels[np.hypot(yy - 100, xx - 200) < 8] //= 2
    photo, out = tmp_path / "sky.png", tmp_path / "finds"
    photo.write_bytes(imagecodecs.png_encode(pixels))
    done = keen_sweep("scout", photo, "--for", "specks", "--out", out, "--json")
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout)
    assert told.keys() == {"finds", "seconds"}
    (find,) = told["finds"]
    assert find.keys() >= {"kind", "name", "mask", "box", "confidence", "subject"}
    mask = imagecodecs.png_decode((out / "specks-1.png").read_bytes())
    assert mask.shape == (240, 320)
    assert mask[100, 200] == 255
    assert (mask > 0).sum() < 1000
    assert keen_sweep("scout", photo, "--for", "ghosts", "--out", out).returncode == 2


def test_a_backdrop_and_a_reflection_from_a_shell(tmp_path: Path) -> None:
    picture, _ = clean_twin("ov-0524")
    photo, out = tmp_path / "pot.png", tmp_path / "finds"
    photo.write_bytes(imagecodecs.png_encode(picture))
    done = keen_sweep("scout", photo, "--for", "people,backdrop", "--out", out, "--json")
    assert done.returncode == 0, done.stderr
    finds = json.loads(done.stdout)["finds"]
    assert finds[0]["name"] == "Beyond the backdrop"
    assert {f["kind"] for f in finds} == {"backdrop"}
    assert imagecodecs.png_decode((out / "backdrop-1.png").read_bytes()).shape == picture.shape[:2]
    pane = reflected(np.ascontiguousarray(data.coffee()), np.ascontiguousarray(data.astronaut()), 0.4)
    photo.write_bytes(imagecodecs.png_encode(pane))
    done = keen_sweep("scout", photo, "--for", "reflection", "--out", out, "--json")
    assert [f["kind"] for f in json.loads(done.stdout)["finds"]] == ["reflection"]
    clean = imagecodecs.png_decode((out / "reflection-clean.png").read_bytes()).astype(int)
    alone = imagecodecs.png_decode((out / "reflection-alone.png").read_bytes())
    assert np.abs(clean + alone - pane).max() <= 1
    photo.write_bytes(imagecodecs.png_encode(np.ascontiguousarray(data.coffee())))
    done = keen_sweep("scout", photo, "--for", "reflection", "--out", out)
    assert done.returncode == 0
    assert "None found of: soft, even light" in done.stderr


def test_a_models_file_fills_and_a_broken_one_is_named(job: tuple[Path, Path, Path], tmp_path: Path) -> None:
    photo, mask, out = job
    model = graph(tmp_path / "nought.onnx", None, 64)
    done = keen_sweep("fill", photo, "--mask", mask, "--out", out, "--takes", 1, "--model", model, "--json")
    assert done.returncode == 0, done.stderr
    [take] = json.loads(done.stdout)["takes"]
    assert take["method"] == "model"
    assert take["parts"][0]["why"].startswith("nought: painted at 64 x 64")
    area = imagecodecs.png_decode(mask.read_bytes()) > 0
    after = imagecodecs.png_decode(Path(take["file"]).read_bytes())
    assert np.array_equal(after[~area], imagecodecs.png_decode(photo.read_bytes())[~area])
    model.write_bytes(b"nothing")
    wrong = keen_sweep("fill", photo, "--mask", mask, "--out", out, "--model", model)
    assert wrong.returncode == 2
    assert "nought.onnx cannot be loaded" in wrong.stderr


def test_words_fill_and_orders_are_answered(job: tuple[Path, Path, Path]) -> None:
    photo, mask, out = job
    wrong = keen_sweep("fill", photo, "--mask", mask, "--out", out, "--hint", "remove the chimney")
    assert wrong.returncode == 2
    assert "what the fill should show, not what to do" in wrong.stderr
    wrong = keen_sweep("fill", photo, "--mask", mask, "--out", out, "--hint", "a dragon")
    assert wrong.returncode == 2
    assert "weave does not know this ground" in wrong.stderr


def test_lines_from_a_file_lead_a_fill(job: tuple[Path, Path, Path]) -> None:
    photo, mask, out = job
    rows, columns = np.nonzero(imagecodecs.png_decode(mask.read_bytes()))
    middle, left, right = float(rows.mean()), float(columns.min()), float(columns.max())
    lines = out.with_name("lines.json")
    arrow = {"points": [[left - 30, middle - 20], [(left + right) / 2, middle]], "brings": "ground"}
    lines.write_text(json.dumps([[[left - 30, middle], [right + 30, middle]], arrow]))
    call = ("fill", photo, "--mask", mask, "--out", out, "--takes", 1, "--quality", "fast", "--lead", lines, "--json")
    done = keen_sweep(*call)
    assert done.returncode == 0, done.stderr
    assert json.loads(done.stdout)["takes"][0]["parts"][0]["why"] == "woven as your lines lead it"
    lines.write_text("[[[0, 0], [1e308, 1]]]")
    assert "too long" in keen_sweep(*call).stderr
    lines.write_text("[[1, 2]]")
    wrong = keen_sweep(*call)
    assert wrong.returncode == 2
    assert "is not a list of lines" in wrong.stderr


def test_a_service_is_paid_only_what_was_agreed(job: tuple[Path, Path, Path], tmp_path: Path) -> None:
    photo, mask, out = job
    with running(tmp_path / "service") as service:
        service.switch(refuse_skin=False)
        order = ("fill", photo, "--mask", mask, "--out", out, "--takes", 1, "--model", service.address, "--json")
        locked = keen_sweep(*order, "--credits", 9)
        assert locked.returncode == 2
        assert "does not accept the key" in locked.stderr
        dear = keen_sweep(*order, env={"KEEN_SWEEP_KEY": DEMO_KEY})
        assert dear.returncode == 2
        assert "Add --credits 1" in dear.stderr
        assert service.books()["asked"] == 0
        done = keen_sweep(*order, "--credits", 1, env={"KEEN_SWEEP_KEY": DEMO_KEY})
        assert done.returncode == 0, done.stderr
        (take,) = json.loads(done.stdout)["takes"]
        assert take["made"]["credits"] == 1
        assert take["made"]["model"]["service"] == service.address
        assert DEMO_KEY not in done.stdout + done.stderr + locked.stderr + dear.stderr


@pytest.fixture
def sisters(tmp_path: Path, photograph: NDArray[Any]) -> tuple[Path, Path, Path]:
    """A picture with a block in it, a sister a few pixels aside without, and the folder of the block's mask."""
    one = photograph[20:320, 40:440].copy()
    mask = np.zeros(one.shape[:2], np.uint8)
    one[120:170, 180:220], mask[114:176, 174:226] = (210, 30, 160), 255
    (tmp_path / "masks").mkdir()
    (tmp_path / "masks" / "block.png").write_bytes(imagecodecs.png_encode(mask))
    files = []
    for name, pixels in (("one", one), ("two", photograph[26:326, 47:447])):
        files.append(tmp_path / f"{name}.png")
        files[-1].write_bytes(imagecodecs.png_encode(np.ascontiguousarray(pixels)))
    return files[0], files[1], tmp_path / "masks"


def test_true_pixels_are_borrowed_from_a_sister(
    sisters: tuple[Path, Path, Path], tmp_path: Path, photograph: NDArray[Any]
) -> None:
    one, two, masks = sisters
    out = tmp_path / "out"
    words = ["fill", one, "--mask", masks / "block.png", "--out", out, "--method", "borrow", "--sister", two, "--json"]
    done = keen_sweep(*words)
    assert done.returncode == 0, done.stderr
    (take,) = json.loads(done.stdout)["takes"]
    assert take["made"]["sisters"] == ["two"]
    got = imagecodecs.png_decode(Path(take["file"]).read_bytes()).astype(int)
    assert np.abs(got - photograph[20:320, 40:440])[120:170, 180:220].mean() < 4
    refused = keen_sweep("fill", one, "--mask", masks / "block.png", "--out", out, "--method", "borrow")
    assert (refused.returncode, "--sister" in refused.stderr) == (2, True)
    plain = tmp_path / "plain.png"
    plain.write_bytes(imagecodecs.png_encode(np.full((300, 400, 3), 90, np.uint8)))
    refused = keen_sweep(*words[:-2], plain)
    assert refused.returncode == 2
    assert "does not show the same place" in refused.stderr


def test_masks_are_carried_to_a_sister(
    sisters: tuple[Path, Path, Path], tmp_path: Path, photograph: NDArray[Any]
) -> None:
    one, two, masks = sisters
    moved = tmp_path / "moved.png"
    aside = photograph[26:326, 47:447].copy()
    aside[114:164, 173:213] = (210, 30, 160)
    moved.write_bytes(imagecodecs.png_encode(np.ascontiguousarray(aside)))
    out = tmp_path / "out"
    done = keen_sweep("carry", "--from", one, "--to", moved, "--to", two, "--masks", masks, "--out", out, "--json")
    assert done.returncode == 0, done.stderr
    there, gone = json.loads(done.stdout)["carried"]
    assert (there["verdict"], gone["verdict"]) == ("landed", "not there")
    assert "file" not in gone
    wanted = np.zeros((300, 400), bool)
    wanted[108:170, 167:219] = True
    got = imagecodecs.png_decode(Path(there["file"]).read_bytes()) > 127
    assert (got & wanted).sum() / (got | wanted).sum() > 0.95
    refused = keen_sweep("carry", "--from", one, "--to", two, "--masks", tmp_path / "none", "--out", out)
    assert (refused.returncode, "no mask" in refused.stderr) == (2, True)
