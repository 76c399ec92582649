"""A function is read on one screen."""

import ast
from pathlib import Path

ROOT = Path(__file__).parents[1]
MOST = 60
ROOMS = ("src", "tests", "demo", "training", "fuzz")
# What changed a table once stays as it was.
LEFT = "migrations"


def test_no_function_is_longer_than_a_screen() -> None:
    files = [each for room in ROOMS for each in (ROOT / room).rglob("*.py") if LEFT not in each.parts]
    long, count = [], 0
    for file in files:
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
                count += 1
                lines = (node.end_lineno or node.lineno) - node.lineno + 1 - _docstring_lines(node)
                if lines > MOST:
                    long.append((str(file.relative_to(ROOT)), node.name, lines))
    assert count > 3_000
    assert long == []


def _docstring_lines(node: ast.FunctionDef | ast.AsyncFunctionDef) -> int:
    """Lines that a function's docstring takes: parameters are listed one a line."""
    if ast.get_docstring(node) is None:
        return 0
    return (node.body[0].end_lineno or 0) - node.body[0].lineno + 1
