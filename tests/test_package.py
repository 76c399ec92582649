"""A wheel in a clean environment: built and installed by the steps of packaging/Containerfile, started, worked in."""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
import subprocess
import sys
import time
import urllib.request
from configparser import ConfigParser
from pathlib import Path
from typing import Any

import pytest

from keen_sweep.install.once import done, mark_done
from tests.support.ports import free_port
from tests.support.shell import keen_sweep, keen_sweep_apart

ROOT = Path(__file__).parents[1]
CONTAINER = (ROOT / "packaging" / "Containerfile").read_text()


def steps() -> list[str]:
    return re.findall(r"^RUN (.+)$", CONTAINER, re.MULTILINE)


@pytest.fixture(scope="module")
def environment(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """An environment with nothing but the wheel in it, made by the container's steps in folders of this test."""
    room = tmp_path_factory.mktemp("package")
    source, wheels, made = room / "src", room / "wheels", room / "environment"
    subprocess.run(["git", "clone", "--quiet", "--depth", "1", f"file://{ROOT}", source], check=True)
    subprocess.run([sys.executable, "-m", "venv", made], check=True)
    # As on a user's machine: what this process was told is not told there.
    home = {name: value for name, value in os.environ.items() if not name.startswith(("KEEN_SWEEP", "PYTHON"))}
    home |= {"HOME": str(room / "home"), "PATH": f"{made / 'bin'}:{os.environ['PATH']}"}
    Path(home["HOME"]).mkdir()
    for step in steps():
        script = step.replace("/wheels", str(wheels)).replace("/src", str(source))
        done = subprocess.run(["bash", "-c", script], cwd=source, env=home, capture_output=True, text=True, check=False)
        assert done.returncode == 0, f"{step}\n{done.stdout[-2000:]}\n{done.stderr[-2000:]}"
    shutil.rmtree(source)
    return made


def asked(address: str, body: bytes | None = None) -> Any:
    request = urllib.request.Request(address, body, {"Content-Type": "application/json"} if body else {})
    with urllib.request.urlopen(request, timeout=60) as answer:
        return json.loads(answer.read())


@pytest.mark.slow
@pytest.mark.timeout(1200)
def test_the_containers_steps_make_a_program_that_serves_the_demo(environment: Path, tmp_path: Path) -> None:
    """From any folder: the demo's library is made, the front end is inside, and a take can be picked."""
    port = free_port()
    words: list[str | Path] = [
        environment / "bin" / "keen-sweep",
        "demo",
        "--port",
        str(port),
        "--library",
        tmp_path / "library",
    ]
    home = {**os.environ, "HOME": str(tmp_path)}
    with (tmp_path / "log").open("wb") as log:
        server = subprocess.Popen(words, cwd=tmp_path, env=home, stdout=log, stderr=log, start_new_session=True)
    try:
        here = f"http://127.0.0.1:{port}"
        while True:
            assert server.poll() is None, (tmp_path / "log").read_text()[-2000:]
            try:
                health = asked(f"{here}/api/health")
                break
            except OSError:
                time.sleep(0.2)
        assert health["networks"]
        assert "first start" not in (tmp_path / "log").read_text()  # the container's steps did that
        with urllib.request.urlopen(here, timeout=60) as page:
            script = re.search(r'src="(/assets/[^"]+\.js)"', page.read().decode())
        assert script is not None
        with urllib.request.urlopen(f"{here}{script[1]}", timeout=60) as answer:
            assert len(answer.read()) > 10_000
        (shoot,) = asked(f"{here}/api/shoots")
        assert len(shoot["frames"]) == 14
    finally:
        os.killpg(server.pid, signal.SIGTERM)
        server.wait(timeout=60)


@pytest.mark.slow
def test_the_wheel_tells_its_version(environment: Path) -> None:
    said = subprocess.run([environment / "bin" / "keen-sweep", "--version"], capture_output=True, text=True, check=True)
    assert said.stdout == keen_sweep("--version").stdout


def test_the_unit_starts_the_program_with_options_that_it_has() -> None:
    unit = ConfigParser(strict=False, interpolation=None)
    unit.optionxform = str  # type: ignore[method-assign, assignment]
    unit.read(ROOT / "packaging" / "keen-sweep.service")
    program, *words = unit["Service"]["ExecStart"].split()
    assert program.endswith("/keen-sweep")
    help_of = keen_sweep(words[0], "--help").stdout
    assert [word for word in words if word.startswith("--")] == ["--library", "--port"]
    assert all(word in help_of for word in words if word.startswith("--"))
    entry = json.loads(re.search(r"^ENTRYPOINT (.+)$", CONTAINER, re.MULTILINE)[1])  # type: ignore[index]
    assert all(word in help_of for word in entry if word.startswith("--"))


def test_what_is_done_once_is_kept_in_mind_and_where_nothing_can_be_written_elsewhere(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    own, cache = tmp_path / "own", tmp_path / "cache"
    monkeypatch.setattr("keen_sweep.install.once.INSTALL_FOLDER", own)
    monkeypatch.setattr("keen_sweep.install.once.CACHE_FOLDER", cache)
    assert not done("kernels")
    mark_done("kernels")
    assert done("kernels")
    assert not done("networks")
    assert [each.parent for each in tmp_path.rglob("kernels-*")] == [own]
    shutil.rmtree(own)
    own.write_text("a file where the folder would be")
    mark_done("kernels")
    assert done("kernels")
    assert [each.parent for each in tmp_path.rglob("kernels-*")] == [cache]


def test_completion_knows_commands_and_their_options() -> None:
    for line, place, wanted in (("keen-sweep fi", 1, "fill"), ("keen-sweep fill --stag", 2, "--stages")):
        home = {"_KEEN_SWEEP_COMPLETE": "complete_bash", "COMP_WORDS": line, "COMP_CWORD": str(place)}
        assert keen_sweep_apart(env=home).stdout.split() == [wanted]
