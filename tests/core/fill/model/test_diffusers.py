"""A folder in the diffusers format: a tiny random pipeline built on the spot, loaded and run by the real code."""

import shutil
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from skimage import data

from keen_sweep.core.box import whole
from keen_sweep.core.errors import Cancelled, ModelTrouble
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.model.engine import ModelEngine
from keen_sweep.core.fill.model.port import Knobs, Wish
from keen_sweep.core.fill.patch import lay
from tests.support.sure import sure

pytest.importorskip("diffusers", reason="needs the extra keen-sweep[diffusers], which make test-slow installs")
from keen_sweep.bench.tiny import tiny_diffusers
from keen_sweep.core.fill.model.diffusers_folder import DiffusersModel, folder_hash

pytestmark = pytest.mark.slow

FEW = Knobs(steps=3)


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tiny_diffusers(tmp_path_factory.mktemp("models") / "tiny")


@pytest.fixture(scope="module")
def model(folder: Path) -> DiffusersModel:
    return DiffusersModel(folder)


def case() -> tuple[NDArray[Any], NDArray[Any]]:
    picture = np.ascontiguousarray(np.asarray(data.coffee())[:128, :128])
    hole = np.zeros((128, 128), bool)
    hole[40:90, 30:80] = True
    return picture, hole


def test_sizes_and_hash_come_from_the_folder(model: DiffusersModel, folder: Path) -> None:
    assert (model.side, model.multiple, model.name) == (128, 2, "tiny")
    assert sure(model.facts.pipeline).endswith("InpaintPipeline")
    assert model.facts.sha256 == folder_hash(folder)


def test_seed_words_and_knobs_reach_the_networks(model: DiffusersModel) -> None:
    picture, hole = case()

    def painted(wish: Wish) -> NDArray[Any]:
        return np.asarray(model.paint(picture, hole, wish).pixels[hole].astype(int))

    first = painted(Wish(1, knobs=FEW))
    assert np.array_equal(first, painted(Wish(1, knobs=FEW))), "the same wish is the same painting"
    others = {
        "seed": Wish(2, knobs=FEW),
        "hint": Wish(1, hint="grass", knobs=FEW),
        "avoid": Wish(1, avoid="sky", knobs=FEW),
        "steps": Wish(1, knobs=Knobs(steps=4)),
        "guidance": Wish(1, knobs=Knobs(steps=3, guidance=2)),
        "strength": Wish(1, knobs=Knobs(steps=3, strength=0.5)),
    }
    for name, wish in others.items():
        assert (painted(wish) != first).any(), name


def test_progress_is_told_step_by_step_and_a_cancel_gets_through(model: DiffusersModel) -> None:
    picture, hole = case()
    said: list[str] = []
    model.paint(picture, hole, Wish(knobs=FEW), lambda _share, doing: said.append(doing))
    assert said == ["step 1 of 2", "step 2 of 2"], "at a strength of .85"
    said.clear()
    model.paint(picture, hole, Wish(knobs=Knobs(steps=3, strength=1)), lambda _share, doing: said.append(doing))
    assert said == ["step 1 of 3", "step 2 of 3", "step 3 of 3"]

    def stop(_share: float, _doing: str) -> None:
        raise Cancelled("enough")

    with pytest.raises(Cancelled):
        model.paint(picture, hole, Wish(knobs=FEW), stop)


def test_an_order_is_filled_and_nothing_else_changes(model: DiffusersModel) -> None:
    picture = np.ascontiguousarray(np.asarray(data.coffee())[:300, :400]).astype(np.uint16) * 257
    mask = np.zeros((300, 400), np.uint8)
    mask[100:190, 150:260] = 255
    given = FillInput(below=picture, mask=mask, takes=1, seed=5, knobs=FEW)
    (take,) = ModelEngine(model).fill(given)
    after = picture.copy()
    lay(after, whole(after), take)
    assert np.array_equal(after[mask == 0], picture[mask == 0])
    assert (after[mask > 0] != picture[mask > 0]).any()
    assert sure(take.provenance.knobs).steps == 3
    assert sure(take.provenance.model).sha256


def test_folders_that_are_none_are_named(tmp_path: Path, folder: Path) -> None:
    with pytest.raises(ModelTrouble, match="not a folder in the diffusers format"):
        DiffusersModel(tmp_path)
    broken = tmp_path / "broken"
    shutil.copytree(folder, broken)
    (broken / "unet" / "diffusion_pytorch_model.safetensors").write_bytes(b"no weights")
    with pytest.raises(ModelTrouble, match="broken cannot be loaded"):
        DiffusersModel(broken)
    pickled = tmp_path / "pickled"
    shutil.copytree(folder, pickled)
    weights = pickled / "unet" / "diffusion_pytorch_model.safetensors"
    weights.rename(weights.with_name("diffusion_pytorch_model.bin"))
    with pytest.raises(ModelTrouble, match="pickled cannot be loaded"):
        DiffusersModel(pickled)
