"""Contents of core's packages: `make lists` writes them into each `__init__` after a change."""

from __future__ import annotations

import ast
import textwrap
from pathlib import Path

import keen_sweep.core

CORE = Path(keen_sweep.core.__file__).parent
PACKAGES = sorted(each.parent for each in CORE.rglob("__init__.py"))
WIDTH = 100


def public_names(module: Path) -> list[str]:
    """Functions and classes of a module that others may use, in the order of the file."""
    kinds = (ast.FunctionDef, ast.ClassDef)
    return [
        each.name
        for each in ast.parse(module.read_text()).body
        if isinstance(each, kinds) and not each.name.startswith("_")
    ]


def contents(package: Path) -> str:
    """The docstring's list of modules with their public names; empty for a package without modules."""
    lines = []
    for module in sorted(package.glob("*.py")):
        names = public_names(module) if module.name != "__init__.py" else []
        if names:
            text = f"{module.stem} : {', '.join(names)}"
            lines += textwrap.wrap(text, WIDTH, subsequent_indent="    ", break_long_words=False)
    return "\n".join(["Modules and their public names", "-" * 30, *lines, ""]) if lines else ""


def summary(package: Path) -> str:
    """What the package is for: the first paragraph of its docstring."""
    return (ast.get_docstring(ast.parse((package / "__init__.py").read_text())) or "").split("\n\n")[0]


if __name__ == "__main__":
    for package in PACKAGES:
        listed = contents(package)
        body = f"{summary(package)}\n\n{listed}" if listed else summary(package)
        (package / "__init__.py").write_text(f'"""{body}"""\n')
