"""The scripts of docs/api.md do what they say, with the real server."""

import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
from numpy.typing import NDArray

from tests.support.application import Application, serving

GUIDE = Path(__file__).parents[2] / "docs" / "api.md"


@pytest.fixture(scope="module")
def application(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    yield from serving(tmp_path_factory.mktemp("library"))


@pytest.mark.parametrize(("language", "program"), [("python", sys.executable), ("bash", "bash")])
def test_a_job_from_the_picture_to_the_file(
    language: str, program: str, application: Application, photograph: NDArray[Any], tmp_path: Path
) -> None:
    if language == "bash" and shutil.which("curl") is None:
        pytest.skip("there is no curl here")
    (script,) = re.findall(rf"```{language}\n(.*?)```", GUIDE.read_text(), re.DOTALL)
    before = np.ascontiguousarray(photograph[150:300, 200:400])
    picture, out, file = tmp_path / "roof.png", tmp_path / "swept.png", tmp_path / "job"
    picture.write_bytes(imagecodecs.png_encode(before))
    file.write_text(script)
    ran = subprocess.run(
        [program, file, application.address, picture, out], check=False, capture_output=True, text=True, timeout=240
    )
    assert ran.returncode == 0, ran.stderr + ran.stdout
    after = np.asarray(imagecodecs.png_decode(out.read_bytes()))[..., :3]
    assert after.shape == before.shape
    changed = (after != before).any(axis=2)
    rows, columns = np.nonzero(changed)
    assert changed.sum() > 100
    assert (rows.min() >= 42, rows.max() <= 58, columns.min() >= 52, columns.max() <= 88) == (True,) * 4
    assert "roof.png" in ran.stdout
