"""All rows of a library's database, whatever tables there are: for those who look through everything."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from sqlalchemy import text

from keen_sweep.store.library import Library

# Name of a file by content, wherever it occurs.
CONTENT_NAME = re.compile(r"[0-9a-f]{64}")


def names_in(row: Mapping[str, Any]) -> set[str]:
    """The names of all files that a row mentions."""
    return {name for value in row.values() if isinstance(value, str) for name in CONTENT_NAME.findall(value)}


def tables_of(library: Library) -> list[str]:
    """The names of all tables."""
    with library.engine.connect() as connection:
        found = connection.exec_driver_sql("SELECT name FROM sqlite_master WHERE type = 'table'")
        return [str(row[0]) for row in found]


def rows_of(library: Library) -> Iterator[tuple[str, Mapping[str, Any]]]:
    """Every row as its columns, with the table that it is of."""
    for table in tables_of(library):
        with library.engine.connect() as connection:
            for row in connection.execute(text(f'SELECT * FROM "{table}"')).mappings():
                yield table, dict(row)
