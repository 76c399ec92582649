"""Code says what it means: constants have a noun, locals are named for what they hold, core documents its arrays."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.support.contents import PACKAGES, contents

ROOT = Path(__file__).parents[1] / "src" / "keen_sweep"
FILES = [each for each in sorted(ROOT.rglob("*.py")) if "migrations" not in each.parts]
# Words that say nothing of an array or a payload.
BANNED_LOCALS = {"told", "here", "there", "apart"}
# Aliases of arrays (core.arrays): their shape is documented.
ARRAYS = {"Bools", "Doubles", "EightBit", "Features", "Floats", "Labels", "Numbers", "Pixels"}
Function = ast.FunctionDef | ast.AsyncFunctionDef


def name_of(file: Path) -> str:
    return str(file.relative_to(ROOT))


def test_constants_have_two_words() -> None:
    """A single word such as MOST is a measure of nothing."""
    wrong = []
    for file in FILES:
        for node in ast.parse(file.read_text()).body:
            targets = node.targets if isinstance(node, ast.Assign) else [getattr(node, "target", None)]
            for target in targets:
                for name in ast.walk(target) if target is not None else []:
                    if isinstance(name, ast.Name) and re.fullmatch(r"_?[A-Z][A-Z0-9]{2,}", name.id):
                        wrong.append(f"{name_of(file)}: {name.id}")
    assert not wrong, "\n".join(wrong)


def test_comments_on_constants_are_whole_sentences() -> None:
    """Each is read on its own: none goes on with what stands above another constant."""
    wrong = []
    for file in FILES:
        lines = file.read_text().splitlines()
        for node in ast.parse("\n".join(lines)).body:
            at = node.lineno - 1
            if not isinstance(node, ast.Assign | ast.AnnAssign) or not re.match(r"_?[A-Z0-9_]+\b", lines[at]):
                continue
            first = at
            while first and lines[first - 1].startswith("# "):
                first -= 1
            comment = " ".join(line[2:] for line in lines[first:at])
            whole = not comment or (not comment[0].islower() and comment.endswith((".", ")")))
            wrong += [f"{name_of(file)}: {comment}"] * (not whole)
    assert not wrong, "\n".join(wrong)


def test_locals_are_named_for_what_they_hold() -> None:
    wrong = []
    for file in FILES:
        for function in functions_in(ast.parse(file.read_text())):
            names = {each.arg for each in ast.walk(function) if isinstance(each, ast.arg)}
            names |= {
                each.id for each in ast.walk(function) if isinstance(each, ast.Name) and isinstance(each.ctx, ast.Store)
            }
            wrong += [f"{name_of(file)}: {function.name}: {each}" for each in sorted(names & BANNED_LOCALS)]
    assert not wrong, "\n".join(wrong)


CORE = [each for each in FILES if each.is_relative_to(ROOT / "core")]


@pytest.mark.parametrize("file", CORE, ids=name_of)
def test_public_code_of_core_is_documented_in_numpydoc(file: Path) -> None:
    wrong = [each for node in ast.parse(file.read_text()).body for each in gaps_of(node)]
    assert not wrong, "\n".join(wrong)


def gaps_of(node: ast.stmt) -> Iterator[str]:
    """What the docstring of a public function or class of a module leaves out."""
    if not isinstance(node, Function | ast.ClassDef) or node.name.startswith("_"):
        return
    text = ast.get_docstring(node) or ""
    if not text:
        yield f"{node.name} has no docstring"
    if isinstance(node, ast.ClassDef):
        fields = fields_of(node)
        yield from entry_gaps(node.name, text, fields, "Parameters" if takes_arguments(node) else "Attributes")
        return
    arguments = {f"*{node.args.vararg.arg}": node.args.vararg.annotation} if node.args.vararg else {}
    arguments |= {each.arg: each.annotation for each in [*node.args.args, *node.args.kwonlyargs]}
    yield from entry_gaps(node.name, text, arguments, "Parameters")
    returned = section_of(text, "Returns") or section_of(text, "Yields")
    if node.returns is not None and ast.unparse(node.returns) != "None":
        if not returned:
            yield f"{node.name} does not say what it returns"
        elif is_array(node.returns) and not has_shape(returned):
            yield f"{node.name} does not say the shape that it returns"


def entry_gaps(owner: str, text: str, expected: dict[str, ast.expr | None], title: str) -> Iterator[str]:
    """Names that a section leaves out, and arrays whose shape it does not say."""
    entries = dict(re.findall(r"^(\*?\w+) : (.*)$", section_of(text, title), re.M))
    for name, annotation in expected.items():
        if name not in entries:
            yield f"{owner} does not document {name}"
        elif is_array(annotation) and not has_shape(entries[name]):
            yield f"{owner} does not say the shape of {name}"


def section_of(text: str, title: str) -> str:
    """The lines of a numpydoc section, nothing where there is none."""
    found = re.search(rf"^{title}\n-{{{len(title)}}}\n(.*?)(?=^\w+\n-+\n|\Z)", text, re.M | re.S)
    return found[1] if found else ""


def is_array(annotation: ast.expr | None) -> bool:
    names = {each.id for each in ast.walk(annotation) if isinstance(each, ast.Name)} if annotation else set()
    return bool(names & (ARRAYS | {"NDArray"})) and "Callable" not in names


def has_shape(words: str) -> bool:
    return "(" in words or "array" in words or "flat" in words


def takes_arguments(node: ast.ClassDef) -> bool:
    return any(isinstance(each, ast.FunctionDef) and each.name == "__init__" for each in node.body)


def fields_of(node: ast.ClassDef) -> dict[str, ast.expr | None]:
    """The fields of a data class, or what a class is made with."""
    for each in node.body:
        if isinstance(each, ast.FunctionDef) and each.name == "__init__":
            return {one.arg: one.annotation for one in each.args.args[1:]}
    return {
        each.target.id: each.annotation
        for each in node.body
        if isinstance(each, ast.AnnAssign) and isinstance(each.target, ast.Name) and each.target.id[0] != "_"
    }


def functions_in(tree: ast.Module) -> Iterator[Function]:
    return (each for each in ast.walk(tree) if isinstance(each, Function))


@pytest.mark.parametrize("package", PACKAGES, ids=lambda each: each.name)
def test_packages_of_core_list_their_public_names(package: Path) -> None:
    text = ast.get_docstring(ast.parse((package / "__init__.py").read_text())) or ""
    assert text, "says what the package is for"
    assert contents(package).strip() in text, "run: make lists"
