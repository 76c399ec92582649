"""Pictures that registry packages ship, and libraries to work in."""

from __future__ import annotations

import importlib.util
import shutil
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from hypothesis import settings
from numpy.typing import NDArray
from PIL import Image
from skimage import data

from keen_sweep.store.library import Library
from keen_sweep.studio.originals import Originals, originals_of

settings.register_profile("here", max_examples=40, deadline=None, derandomize=True)
settings.load_profile("here")


pytest_plugins = ["tests.support.flaky"]

# The rooms whose tests need nothing but them.
ROOMS = (
    "core",
    "document",
    "install",
    "store",
    "remote",
    "test_docs.py",
    "test_layers.py",
    "test_functions.py",
    "test_plain_code.py",
    "test_till.py",
    "test_bench_removal.py",
)


# Before xdist reads the groups.
@pytest.hookimpl(tryfirst=True)
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Say what belongs to the first stage, keep each module on one worker, and begin with what takes longest."""
    for item in items:
        place = item.path.relative_to(Path(__file__).parent)
        if place.parts[0] in ROOMS and not any(item.get_closest_marker(each) for each in ("scenes", "slow")):
            item.add_marker("unit")
        item.add_marker(pytest.mark.xdist_group(str(place)))
        if place.parts[0] == "web":
            # Once more in a new context; tests.support.flaky says so at the end.
            item.add_marker(pytest.mark.flaky(reruns=1))
    items.sort(key=lambda item: "web" not in item.path.parts)


@pytest.fixture(scope="session")
def photograph() -> NDArray[np.uint8]:
    """A real photograph, 427 x 640, from scikit-learn."""
    # Read as a file: to import the package takes each process seconds.
    (package,) = importlib.util.find_spec("sklearn").submodule_search_locations or []  # type: ignore[union-attr]
    with Image.open(Path(package) / "datasets" / "images" / "china.jpg") as image:
        return np.asarray(image)


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
