"""Starting and ending the server: quickly, and without a word."""

import signal
import subprocess
import sys
from pathlib import Path

from tests.support.application import Application

# What only marks, fills, deliveries of one kind, services and old libraries ask for.
LATE = {
    "scipy.ndimage",
    "scipy.sparse",
    "scipy.fft",
    "skimage.segmentation",
    "jpeglib",
    "httpx",
    "alembic",
    "onnxruntime",
}


def test_a_server_listens_before_what_only_marks_and_fills_ask_for_is_loaded() -> None:
    code = "import sys, keen_sweep.api.app; print(*sys.modules)"
    names = set(subprocess.check_output([sys.executable, "-c", code], text=True).split())
    assert {"numpy", "keen_sweep.studio.filling.quote"} <= names
    assert not names & LATE


def test_a_server_that_is_ended_while_its_workers_load_ends_without_a_word(tmp_path: Path) -> None:
    application = Application(tmp_path / "library")
    application.start()
    application.stop(signal.SIGINT)
    first, *more = application.log.read_text().splitlines()
    assert (first.startswith("Keen Sweep is at"), more) == (True, [])
