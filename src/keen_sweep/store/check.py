"""Whether a library is whole: its database, every file that something refers to, and what lies about in it."""

from __future__ import annotations

import re
import shutil
from dataclasses import dataclass, field
from pathlib import Path

from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.photo.write import PARTIAL_PREFIX
from keen_sweep.core.progress import Tick
from keen_sweep.core.sentences import sentence
from keen_sweep.store.files import HEX_DIGITS, content_hash
from keen_sweep.store.library import Library
from keen_sweep.store.rows import CONTENT_NAME, rows_of

# A file of ours inside a document; hashes of models are not files of the library.
FILE_REFERENCE = re.compile(r'"(?:file|stroke|patch|original)": ?"([0-9a-f]{64})"')
# Folder for files whose content does not match their name.
DAMAGED_FOLDER = "damaged"


@dataclass
class Report:
    """What is wrong with a library. missing: files that something refers to, with what does; damaged: files whose
    content is not what it was; orphans: files that nothing refers to; leftovers: what a killed program was at;
    views: of pictures that are not there. Paths are those of files, names are hashes."""

    database: list[str] = field(default_factory=list)
    missing: dict[str, str] = field(default_factory=dict)
    damaged: list[Path] = field(default_factory=list)
    orphans: list[Path] = field(default_factory=list)
    leftovers: list[Path] = field(default_factory=list)
    views: list[Path] = field(default_factory=list)
    files: int = 0
    size: int = 0

    @property
    def clean(self) -> bool:
        return not (self.lost or self.spare)

    @property
    def lost(self) -> bool:
        """Whether something is wrong that no repair brings back."""
        return bool(self.database or self.missing or self.damaged)

    @property
    def spare(self) -> list[Path]:
        """What only takes room: a program that is killed leaves what it was about to need."""
        return [*self.orphans, *self.leftovers, *self.views]


def check(library: Library, tell: Tick = lambda share: None) -> Report:
    """Look at everything in a library. Nobody may be working in it: what is on its way would count as left over."""
    report = Report()
    with library.engine.connect() as connection:
        for row in connection.exec_driver_sql("PRAGMA integrity_check"):
            if row[0] != "ok":
                report.database.append(str(row[0]))
        for row in connection.exec_driver_sql("PRAGMA foreign_key_check"):
            report.database.append(
                sentence(
                    "A row of {table} refers to a row of {referred} that is not there.", table=row[0], referred=row[2]
                )
            )
    named, needed = _references(library)
    present = {}
    for path in sorted(library.files.folder.rglob("*")):
        if not path.is_file():
            continue
        if path.name.startswith(PARTIAL_PREFIX) or not CONTENT_NAME.fullmatch(path.name):
            report.leftovers.append(path)
        else:
            present[path.name] = path
    report.leftovers += sorted(library.incoming.iterdir())
    report.missing = {name: who for name, who in needed.items() if name not in present}
    for k, (name, path) in enumerate(present.items()):
        tell(k / len(present))
        report.files += 1
        report.size += path.stat().st_size
        if name not in named:
            report.orphans.append(path)
        elif content_hash(path) != name:
            report.damaged.append(path)
    report.views = [each for each in sorted(library.views.iterdir()) if each.name not in present]
    return report


def repair(library: Library, report: Report) -> None:
    """Take away what nothing needs, and put aside what is damaged: what can be made again is made when it is needed,
    and what is missing is said by whatever needs it. Raises LibraryTrouble."""
    try:
        for each in report.spare:
            shutil.rmtree(each) if each.is_dir() else each.unlink()
        for each in report.damaged:
            aside = library.folder / DAMAGED_FOLDER
            aside.mkdir(exist_ok=True)
            each.rename(aside / each.name)
    except OSError as error:
        raise LibraryTrouble(
            sentence("The library cannot be repaired: {reason}.", reason=error.strerror or error)
        ) from error


def _references(library: Library) -> tuple[set[str], dict[str, str]]:
    """Every hash that is mentioned anywhere in the database; and those that have to be there, with who needs them."""
    named: set[str] = set()
    needed: dict[str, str] = {}
    for table, row in rows_of(library):
        for column, value in row.items():
            if not isinstance(value, str) or len(value) < HEX_DIGITS:
                continue
            named.update(CONTENT_NAME.findall(value))
            if CONTENT_NAME.fullmatch(value) and column in ("original", "patch"):
                needed.setdefault(value, f"{table} {row.get('id')}")
            for found in FILE_REFERENCE.findall(value):
                needed.setdefault(found, f"{table} {row.get('id')}")
    return named, needed
