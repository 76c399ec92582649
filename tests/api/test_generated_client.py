"""The OpenAPI document as others read it: a general-purpose generator makes a client of it that does a whole job."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.store.library import Library
from keen_sweep.store.scope import Scope
from keen_sweep.studio.tokens import make_token
from tests.support.application import Application, serving

ROOT = Path(__file__).parents[2]
GENERATOR = "openapi-python-client==0.29.1"
# What the generator knows no parser for is handed over as it comes.
AS_IT_COMES = (
    "image/png",
    "image/jpeg",
    "image/tiff",
    "image/openraster",
    "application/zip",
    "text/csv",
    "text/event-stream",
)


@pytest.fixture(scope="module")
def environment(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """An environment with the generator alone: it wants other versions than we do."""
    made = tmp_path_factory.mktemp("generator") / "environment"
    subprocess.run([sys.executable, "-m", "venv", made], check=True)
    pip: list[str | Path] = [made / "bin" / "pip", "install", "--quiet", "--disable-pip-version-check", GENERATOR]
    subprocess.run(pip, check=True, capture_output=True)
    return made


@pytest.fixture
def application(tmp_path: Path) -> Iterator[Application]:
    yield from serving(tmp_path / "library")


@pytest.mark.slow
@pytest.mark.timeout(600)
def test_a_generated_client_does_a_whole_job(
    environment: Path, application: Application, tmp_path: Path, photograph: NDArray[Any]
) -> None:
    settings = tmp_path / "settings.yml"
    overrides = "".join(f"  {each}: application/octet-stream\n" for each in AS_IT_COMES)
    settings.write_text(f"content_type_overrides:\n{overrides}  application/problem+json: application/json\n")
    generator = environment / "bin" / "openapi-python-client"
    words: list[str | Path] = ["generate", "--path", ROOT / "openapi.json", "--config", settings, "--meta", "none"]
    told = subprocess.run(
        [generator, *words, "--output-path", tmp_path / "keen_client"], capture_output=True, text=True, check=False
    )
    said = told.stdout + told.stderr
    assert told.returncode == 0, said
    # It understands every operation and every answer.
    assert "WARNING" not in said, said
    picture = tmp_path / "roof.png"
    picture.write_bytes(imagecodecs.png_encode(photograph))
    library = Library(application.library)
    _, token = make_token(library, "generated", Scope.EDIT)
    library.close()
    job = Path(__file__).with_name("generated_job.py")
    done = subprocess.run(
        [environment / "bin" / "python", job, application.address, token, picture, tmp_path / "out.png"],
        env={"PYTHONPATH": str(tmp_path), "PATH": ""},
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr[-3000:]
    delivered = np.asarray(imagecodecs.png_decode((tmp_path / "out.png").read_bytes()))
    differs = (delivered != photograph).any(axis=2)
    rows, columns = np.nonzero(differs)
    # Something is gone, and nothing but where the stroke went.
    assert 42 <= rows.min() <= rows.max() <= 58
    assert 52 <= columns.min() <= columns.max() <= 88
