"""Imports point downwards only (CONTRIBUTING.md)."""

import ast
import os
import re
from graphlib import TopologicalSorter
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


# The folders of studio, lowest first: the steps of the journey, and what they stand on. A file that is none of theirs
# is its first line's.
STUDIO = (
    *(
        "",
        "found",
        "ranking",
        "gathering",
        "models",
        "marking",
        "carrying",
        "filling",
        "choosing",
        "finding",
        "touching",
    ),
    *("delivering", "desk", "running", "job"),
)


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


def folders_imported(file: Path) -> set[str]:
    """The folders of studio that a module imports from; its files that are a layer by themselves, by their name."""
    found = set()
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("keen_sweep.studio"):
            for each in node.names:
                first = f"{node.module}.{each.name}".split(".")[2]
                found.add(first if first in STUDIO else "")
    return found


@pytest.mark.parametrize("folder", STUDIO)
def test_no_step_imports_from_one_that_stands_on_it(folder: str) -> None:
    if not folder:
        files = [each for each in (ROOT / "studio").glob("*.py") if each.stem not in STUDIO]
    else:
        files = [*(ROOT / "studio" / folder).glob("*.py"), *(ROOT / "studio").glob(f"{folder}.py")]
    assert files
    below = set(STUDIO[: STUDIO.index(folder) + 1])
    for file in files:
        upwards = folders_imported(file) - below
        assert not upwards, f"{file.relative_to(ROOT)} imports {', '.join(sorted(upwards))}"


def test_every_step_has_its_place() -> None:
    folders = {each.name for each in (ROOT / "studio").iterdir() if each.is_dir() and any(each.glob("*.py"))}
    assert folders <= set(STUDIO)


# What a module of the front end takes from another when it runs; types are gone by then.
TAKEN = re.compile(r'^(?:import|export) (?!type )[^;]*?from "(\.[^"]+)"', re.MULTILINE)


def test_no_module_of_the_front_end_needs_itself() -> None:
    root = ROOT.parents[1] / "web" / "src"
    modules = {each for each in root.rglob("*.ts*") if ".test." not in each.name}
    needs = {
        each: {
            path
            for name in TAKEN.findall(each.read_text())
            for path in (Path(os.path.normpath(each.parent / f"{name}{suffix}")) for suffix in (".ts", ".tsx"))
            if path in modules
        }
        for each in modules
    }
    assert sum(map(len, needs.values())) > len(modules)
    TopologicalSorter(needs).prepare()
