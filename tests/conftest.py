"""Pictures that registry packages ship, and libraries to work in."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from hypothesis import settings
from numpy.typing import NDArray
from skimage import data
from sklearn.datasets import load_sample_image

from keen_sweep.store.library import Library
from keen_sweep.studio.originals import Originals, originals_of

settings.register_profile("here", max_examples=40, deadline=None, derandomize=True)
settings.load_profile("here")


# The rooms whose tests need nothing but them.
ROOMS = (
    "core",
    "document",
    "store",
    "remote",
    "test_layers.py",
    "test_functions.py",
    "test_till.py",
    "test_bench_removal.py",
)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """What belongs to the first stage."""
    for item in items:
        (room, *_) = item.path.relative_to(Path(__file__).parent).parts
        if room in ROOMS and not any(item.get_closest_marker(each) for each in ("scenes", "slow")):
            item.add_marker("unit")


@pytest.fixture(scope="session")
def photograph() -> NDArray[np.uint8]:
    """A real photograph, 427 x 640, from scikit-learn."""
    return np.ascontiguousarray(load_sample_image("china.jpg"))


@pytest.fixture(scope="session")
def gravel() -> NDArray[np.uint8]:
    """A texture, 512 x 512 grey, from scikit-image."""
    return np.ascontiguousarray(np.repeat(data.gravel()[..., None], 3, axis=2))


@pytest.fixture(scope="session")
def empty_library(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A library's folder with nothing in it, made once: a copy takes a twentieth of the time."""
    folder = tmp_path_factory.mktemp("made") / "library"
    Library(folder).close()
    return folder


@pytest.fixture
def library(tmp_path: Path, empty_library: Path) -> Iterator[Library]:
    made = Library(Path(shutil.copytree(empty_library, tmp_path / "library")))
    yield made
    made.close()


@pytest.fixture
def originals(library: Library) -> Originals:
    return originals_of(library)
