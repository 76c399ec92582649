"""A shoot with one real photograph in it."""

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.write import encode_picture
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot


@pytest.fixture
def photo_file(tmp_path: Path, photograph: NDArray[Any]) -> Path:
    """A 16-bit TIFF of 200 x 150."""
    pixels = photograph[150:300, 200:400].astype(np.uint16) * 257
    file = tmp_path / "roof.tif"
    file.write_bytes(encode_picture(Picture(pixels=pixels, format="tiff"), "tiff"))
    return file


@pytest.fixture
def frame(library: Library, photo_file: Path) -> Frame:
    shoot = make_shoot(library, "Roofs")
    assert shoot.id is not None
    incoming = library.incoming / "upload"
    incoming.write_bytes(photo_file.read_bytes())
    return add_frame(library, shoot.id, "roof.tif", incoming)
