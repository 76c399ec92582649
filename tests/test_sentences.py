"""Every sentence of the server and the shell can be said in another language."""

import ast
import os
import string
import subprocess
import sys
from collections.abc import Iterator
from io import BytesIO
from pathlib import Path

import pytest
from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po

from keen_sweep.core import errors, sentences
from keen_sweep.core.errors import KeenSweepError
from keen_sweep.core.sentences import (
    CATALOGUE_DOMAIN,
    FOLDER_VARIABLE,
    LANGUAGE_VARIABLE,
    LOCALE_FOLDER,
    counted_sentence,
    sentence,
)
from tests.support.catalogue import CATALOGUE_FILE, SOURCE_FOLDER, catalogue

# Not translated: figures for developers, the simulated service and the people and places of the demo.
DEVELOPERS_ROOMS = {"bench", "simulated", "demo"}
FILES = [
    each
    for each in sorted(SOURCE_FOLDER.rglob("*.py"))
    if not DEVELOPERS_ROOMS & {*each.relative_to(SOURCE_FOLDER).with_suffix("").parts}
]


def calls(file: Path) -> Iterator[tuple[str, ast.Call]]:
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name | ast.Attribute):
            name = node.func.id if isinstance(node.func, ast.Name) else node.func.attr
            yield name, node


def fields(text: str) -> set[str]:
    return {field for _, field, _, _ in string.Formatter().parse(text) if field is not None}


def test_the_catalogue_is_up_to_date() -> None:
    assert CATALOGUE_FILE.read_text() == catalogue(), "run: make lists"


def test_every_sentence_is_in_the_catalogue_with_its_values() -> None:
    """A field without a value would fail only when somebody meets that sentence."""
    written = {each.id if isinstance(each.id, str) else each.id[0] for each in read_po(CATALOGUE_FILE.open())}
    wrong, seen = [], 0
    for file in FILES:
        for name, call in calls(file):
            if name not in ("sentence", "counted_sentence") or file == Path(sentences.__file__):
                continue
            seen += 1
            texts = [each.value for each in call.args if isinstance(each, ast.Constant) and isinstance(each.value, str)]
            given = {each.arg for each in call.keywords} | ({"count"} if name == "counted_sentence" else set())
            needed = set().union(*map(fields, texts)) if given else set()
            if not texts or texts[0] not in written or not needed <= given or given - needed - {"count"}:
                wrong.append(f"{file.name}:{call.lineno}")
    assert not wrong, wrong
    assert seen > 500


def test_errors_take_their_message_from_the_catalogue() -> None:
    kinds = {
        each.__name__ for each in vars(errors).values() if isinstance(each, type) and issubclass(each, KeenSweepError)
    }
    wrong = []
    for file in FILES:
        for name, call in calls(file):
            first = call.args[0] if call.args and name in kinds else None
            if isinstance(first, ast.JoinedStr) or (isinstance(first, ast.Constant) and " " in str(first.value)):
                wrong.append(f"{file.name}:{call.lineno}")
    assert len(kinds) > 10
    assert not wrong, wrong


@pytest.fixture
def bracketed(tmp_path: Path) -> dict[str, str]:
    """A language that puts brackets round every sentence."""
    english, other = read_po(CATALOGUE_FILE.open()), Catalog(locale="de")
    for message in english:
        if message.id:
            several = isinstance(message.id, tuple)
            other.add(message.id, tuple(f"[{each}]" for each in message.id) if several else f"[{message.id}]")
    out = BytesIO()
    write_mo(out, other)
    file = tmp_path / "de" / "LC_MESSAGES" / f"{CATALOGUE_DOMAIN}.mo"
    file.parent.mkdir(parents=True)
    file.write_bytes(out.getvalue())
    return {LANGUAGE_VARIABLE: "de", FOLDER_VARIABLE: str(tmp_path)}


def test_the_shell_speaks_another_language(bracketed: dict[str, str], tmp_path: Path) -> None:
    def run(*words: str) -> str:
        call = [sys.executable, "-m", "keen_sweep", *words]
        done = subprocess.run(call, env={**os.environ, **bracketed}, capture_output=True, text=True, check=False)
        return done.stdout + done.stderr

    assert "[Take people, wires" in run("--help")
    assert "[Make a mask from brush strokes.]" in run("mask", "--help")
    assert "[There is no library at " in run("check", str(tmp_path / "none"))


def test_numbers_take_the_form_of_the_language(bracketed: dict[str, str], monkeypatch: pytest.MonkeyPatch) -> None:
    for name, value in bracketed.items():
        monkeypatch.setenv(name, value)
    sentences._translations.cache_clear()
    try:
        assert counted_sentence("{count:g} credit", "{count:g} credits", 1.0) == "[1 credit]"
        assert counted_sentence("{count:g} credit", "{count:g} credits", 0.5) == "[0.5 credits]"
        assert sentence("The picture is {size} px.", size=7) == "The picture is 7 px.", "not in the catalogue: English"
        assert sentence("") == ""
    finally:
        monkeypatch.undo()
        sentences._translations.cache_clear()


def test_english_needs_no_catalogue() -> None:
    assert sentence("Not there") == "Not there"
    assert sentence("{name} {{", name="braces") == "braces {"
    assert sentence("no values: {braces} stay") == "no values: {braces} stay"
    assert LOCALE_FOLDER.is_dir()
