"""The ledger for people: a table for spreadsheets, and a page to print."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from datetime import date
from html import escape

from keen_sweep.core.deliver.ledger import Entry, Ledger
from keen_sweep.core.sentences import counted_sentence, sentence

CSV_COLUMNS = (
    "frame", "what", "how", "% of picture", "engine", "model", "sha256", "service", "from frames", "words",
    "not wanted", "seed", "credits", "provisional",
)  # fmt: skip
PAGE_STYLE = """
body { font: 12pt/1.45 "Atkinson Hyperlegible", sans-serif; color: #1b1b1a; margin: 2.2em auto; max-width: 62em; }
h1 { font-size: 1.5em; margin: 0 0 .1em; } h2 { font-size: 1.1em; margin: 1.6em 0 .3em; }
table { border-collapse: collapse; width: 100%; }
th, td { text-align: left; vertical-align: top; padding: .25em .7em .25em 0; border-bottom: 1px solid #bbb8b0; }
th { font-size: .85em; } td.n { text-align: right; } p { margin: .2em 0; }
@media print { body { margin: 0; font-size: 10pt; } h2 { break-after: avoid; } tr { break-inside: avoid; } }
"""


def paragraph(text: str) -> str:
    """A paragraph of HTML.

    Parameters
    ----------
    text : str
        Plain text, which is escaped.

    Returns
    -------
    str
        The element.
    """
    return f"<p>{escape(text)}</p>"


def as_csv(ledgers: Sequence[Ledger]) -> str:
    """Ledgers as CSV (RFC 4180), one line for each step.

    What a spreadsheet could execute as a formula is escaped.

    Parameters
    ----------
    ledgers : sequence of Ledger
        The ledgers.

    Returns
    -------
    str
        The text.
    """
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(CSV_COLUMNS)
    for ledger in ledgers:
        for entry in ledger.entries:
            writer.writerow([_plain(each) for each in (ledger.frame, *_told(entry))])
    return out.getvalue()


def as_page(ledgers: Sequence[Ledger], title: str, day: date) -> str:
    """Ledgers as a self-contained HTML page, to be printed or sent.

    Parameters
    ----------
    ledgers : sequence of Ledger
        The ledgers.
    title : str
        Title of the page.
    day : date
        Date on the page.

    Returns
    -------
    str
        The page.
    """
    parts = [_frame(ledger) for ledger in ledgers]
    done = sum(1 for ledger in ledgers if ledger.entries)
    some = counted_sentence(
        "{count} picture, {done} of them changed", "{count} pictures, {done} of them changed", len(ledgers), done=done
    )
    heading = sentence("Ledger: {title}", title=title)
    about = sentence("What in these pictures is not as shot, and how it was made.")
    return (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><title>{escape(heading)}</title>'
        f"<style>{PAGE_STYLE}</style><h1>{escape(title)}</h1><p>{about} {some}; "
        f"{day.isoformat()}.</p>{''.join(parts)}</html>"
    )


def _frame(ledger: Ledger) -> str:
    head = f"<h2>{escape(ledger.frame)}</h2>"
    if not ledger.entries:
        return head + paragraph(sentence("As shot."))
    rows = "".join(_row(entry) for entry in ledger.entries)
    columns = (
        sentence("What"), sentence("How"), sentence("% of picture"), sentence("Made with"), sentence("Said to it"),
    )  # fmt: skip
    titles = "".join(f"<th>{each}</th>" for each in columns)
    return f"{head}<table><tr>{titles}</tr>{rows}</table>"


def _row(entry: Entry) -> str:
    made = [
        entry.engine,
        entry.model,
        entry.service,
        f"sha256 {entry.sha256[:16]}…" if entry.sha256 else "",
        sentence("from {frames}", frames=", ".join(entry.sisters)) if entry.sisters else "",
        counted_sentence("led by hand: {count} line", "led by hand: {count} lines", entry.led) if entry.led else "",
        "" if entry.seed is None else sentence("seed {seed}", seed=entry.seed),
        counted_sentence("{count:g} credit", "{count:g} credits", entry.credits) if entry.credits else "",
        sentence("provisional: this take was not picked") if entry.provisional else "",
    ]
    said = [entry.hint, sentence("not: {words}", words=entry.avoid) if entry.avoid else ""]
    cells = [entry.name, entry.way.value, "", "; ".join(filter(None, made)), "; ".join(filter(None, said))]
    cells_html = [f"<td>{escape(each)}</td>" for each in cells]
    cells_html[2] = f'<td class="n">{entry.share:.2f}</td>'
    return f"<tr>{''.join(cells_html)}</tr>"


def _told(entry: Entry) -> tuple[str, ...]:
    return (
        entry.name,
        entry.way.value,
        f"{entry.share:.4f}",
        entry.engine,
        entry.model,
        entry.sha256,
        entry.service,
        ", ".join(entry.sisters),
        entry.hint,
        entry.avoid,
        "" if entry.seed is None else str(entry.seed),
        f"{entry.credits:g}",
        "yes" if entry.provisional else "",
    )


def _plain(text: str) -> str:
    return "'" + text if text[:1] in ("=", "+", "-", "@", "\t") else text
