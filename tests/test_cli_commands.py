"""The command line itself: one module a command, loaded when it is asked for; what each says of itself."""

import json
import subprocess
import sys
from pathlib import Path

import pytest
from PIL import Image

from keen_sweep import __version__
from keen_sweep.cli import COMMAND_MODULES
from tests.support.shell import keen_sweep

BENCHES = ("cling", "cluster", "curve", "deliver", "library", "models", "review", "scouts", "series", "speed", "touch")


def loaded(command: str) -> set[str]:
    """The modules of commands that are loaded once a command was asked for."""
    code = (
        "import sys; from keen_sweep import cli; cli.load_commands(sys.argv[1]); "
        "print(*sorted(m for m in sys.modules if m.startswith('keen_sweep.cli.')))"
    )
    told = subprocess.run([sys.executable, "-c", code, command], check=True, capture_output=True, text=True)
    return {name.rsplit(".", 1)[1] for name in told.stdout.split()} - {"app", "help", "said"}


@pytest.mark.parametrize("command", ["mask", "bench", "weights"])
def test_only_the_command_that_is_asked_for_is_loaded(command: str) -> None:
    assert loaded(command) == {COMMAND_MODULES[command]}


def test_help_knows_all_of_them() -> None:
    assert loaded("") == set(COMMAND_MODULES.values())
    told = keen_sweep("--help")
    assert told.returncode == 0
    for command in set(COMMAND_MODULES) - {"warm", "openapi"}:
        assert f"  {command} " in told.stdout


def test_the_version_is_said() -> None:
    told = keen_sweep("--version")
    assert (told.returncode, told.stdout) == (0, f"keen-sweep {__version__}\n")


# What takes long to load.
HEAVY = {"numpy", "cv2", "numba", "scipy", "onnxruntime", "fastapi", "sqlmodel", "pydantic_settings", "rich"}


@pytest.mark.parametrize("words", [["--help"], ["--version"], ["fill", "--help"], ["fill", "--wrong"], ["no-such"]])
def test_nothing_heavy_is_loaded_to_answer_a_word(words: list[str]) -> None:
    code = (
        "import sys, atexit; from keen_sweep.cli import main; "
        "atexit.register(lambda: print('LOADED', *sys.modules)); main()"
    )
    told = subprocess.run([sys.executable, "-c", code, *words], check=False, capture_output=True, text=True)
    names = set(told.stdout.split("LOADED ")[1].split())
    assert "typer" in names
    assert not names & HEAVY


def test_the_benchmark_has_a_command_for_each_thing_it_measures() -> None:
    told = keen_sweep("bench", "--help").stdout
    assert all(f"  {name} " in told for name in BENCHES)
    for name in BENCHES:
        refused = keen_sweep("bench", name)
        assert (refused.returncode, "--out" in refused.stderr) == (2, True)
    refused = keen_sweep("bench", "--takes", "1")
    assert refused.returncode == 2
    assert refused.stderr == "keen-sweep: Say with --out into which folder what is measured goes.\n"


def test_a_word_that_is_no_command_is_said() -> None:
    refused = keen_sweep("paint")
    assert refused.returncode == 2
    assert "paint" in refused.stderr
    assert refused.stderr.count("\n") == 1


def test_a_folder_is_gathered_from_a_shell(tmp_path: Path) -> None:
    card, library = tmp_path / "pond", tmp_path / "library"
    card.mkdir()
    Image.new("RGB", (60, 40), (90, 120, 60)).save(card / "a.png")
    (card / "b.txt").write_text("no picture")
    first = keen_sweep("gather", str(card), "--library", str(library), "--json")
    assert first.returncode == 0
    told = json.loads(first.stdout)["files"]
    assert told[0]["why"] == ""
    assert "not supported" in told[1]["why"]
    again = keen_sweep("gather", str(card), "--library", str(library))
    assert "0 gathered into pond, 1 there already, 1 that could not be read" in " ".join(again.stderr.split())
    nothing = keen_sweep("gather", str(tmp_path / "nowhere"))
    assert nothing.returncode == 2
    assert "There is no folder" in nothing.stderr


def test_pictures_are_delivered_from_a_shell(tmp_path: Path) -> None:
    card, library, out = tmp_path / "pond", tmp_path / "library", tmp_path / "client"
    card.mkdir()
    for name in ("a.png", "b.jpg"):
        Image.new("RGB", (60, 40), (90, 120, 60)).save(card / name)
    keen_sweep("gather", str(card), "--library", str(library))
    words = ["deliver", "pond", "--out", str(out), "--library", str(library)]
    first = keen_sweep(*words, "--ledger", "csv")
    assert first.returncode == 0, first.stderr
    assert sorted(each.name for each in out.iterdir()) == ["a-swept.png", "b-swept.jpg", "ledger.csv"]
    assert (out / "b-swept.jpg").read_bytes() == (card / "b.jpg").read_bytes()
    again = keen_sweep(*words)
    assert again.returncode == 1
    assert "exists already" in again.stderr
    web = keen_sweep("deliver", "a", "b.jpg", "--out", str(out / "web"), "--web", "30", "--library", str(library))
    assert web.returncode == 0
    with Image.open(out / "web" / "a-swept.jpg") as image:
        assert image.size == (30, 20)
    for wrong, why in (
        (["deliver", "nothing", "--out", str(out), "--library", str(library)], "no picture called nothing"),
        ([*words, "--names", "all", "--format", "png"], "Several pictures would be named all.png"),
        (["deliver", "pond", "--out", str(out), "--library", str(tmp_path / "none")], "no library in"),
        (["deliver", "pond", "--out", str(library / "files"), "--library", str(library)], "belongs to the library"),
    ):
        told = keen_sweep(*wrong)
        assert told.returncode == 2
        assert why in told.stderr
