"""Catalogue of all sentences for the user: `make lists` writes it after one has changed.

Translators start from it, see docs/languages.md.
"""

from __future__ import annotations

import io

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.pofile import write_po
from typer.main import get_command

import keen_sweep.cli
from keen_sweep.cli.app import app
from keen_sweep.cli.help import help_texts
from keen_sweep.core.sentences import CATALOGUE_DOMAIN, LOCALE_FOLDER

SOURCE_FOLDER = LOCALE_FOLDER.parent
CATALOGUE_FILE = LOCALE_FOLDER / f"{CATALOGUE_DOMAIN}.pot"
KEYWORDS = {"sentence": (1,), "counted_sentence": (1, 2)}


def catalogue() -> str:
    """The catalogue in the PO format, sentences in alphabetical order with the files that have them."""
    collected = Catalog(project="Keen Sweep", charset="utf-8")
    for file, _, message, _, _ in extract_from_dir(str(SOURCE_FOLDER), [("**.py", "python")], keywords=KEYWORDS):
        collected.add(message, locations=[(file, 0)])
    keen_sweep.cli.load_commands()
    for text in help_texts(get_command(app)):
        collected.add(text, locations=[("cli", 0)])
    out = io.BytesIO()
    write_po(out, collected, width=100, sort_output=True, omit_header=True, include_lineno=False)
    return out.getvalue().decode()


if __name__ == "__main__":
    CATALOGUE_FILE.parent.mkdir(exist_ok=True)
    CATALOGUE_FILE.write_text(catalogue())
