"""Imports point downwards only (CONTRIBUTING.md)."""

import ast
from pathlib import Path

import pytest

import keen_sweep

ROOT = Path(keen_sweep.__file__).parent
# Facts that any room but core may ask for.
FACTS = {"settings", "__version__"}
# What each room may import of the others.
BELOW = {
    "core": set(),
    "document": {"core"},
    "store": {"core"},
    "remote": {"core"},
    "studio": {"core", "document", "store", "remote"},
    "api": {"core", "document", "store", "studio"},
    "demo": {"core", "document", "store", "studio", "simulated"},
    "simulated": {"core", "remote"},
    "install": {"core"},
    "bench": {"core", "document", "demo", "simulated", "studio", "store", "install", "remote"},
    "cli": {"core", "document", "store", "studio", "api", "demo", "simulated", "install", "bench"},
}


def rooms_imported(file: Path) -> set[str]:
    """The rooms of the package that a module imports from, however far down in it."""
    found = set()
    for node in ast.walk(ast.parse(file.read_text())):
        names = []
        if isinstance(node, ast.ImportFrom) and node.module:
            names = [f"{node.module}.{each.name}" for each in node.names]
        elif isinstance(node, ast.Import):
            names = [each.name for each in node.names]
        found |= {name.split(".")[1] for name in names if name.startswith("keen_sweep.") and name.count(".")}
    return found


@pytest.mark.parametrize("room", BELOW)
def test_no_room_imports_from_one_above(room: str) -> None:
    files = list((ROOT / room).rglob("*.py"))
    assert files
    for file in files:
        upwards = rooms_imported(file) - BELOW[room] - {room} - (FACTS if room != "core" else set())
        assert not upwards, f"{file.relative_to(ROOT)} imports {', '.join(sorted(upwards))}"


def test_every_room_has_its_place() -> None:
    rooms = {each.name for each in ROOT.iterdir() if each.is_dir() and any(each.rglob("*.py"))} - {"web", "__pycache__"}
    assert rooms == set(BELOW)
