"""A report for whoever looks for a fault: what happened lately and what it happened on; no pictures, names or keys."""

from __future__ import annotations

import io
import json
import platform
import sqlite3
import zipfile
from functools import cache
from importlib.metadata import distributions, version

from sqlmodel import col, select

from keen_sweep import __version__
from keen_sweep.core.photo.bounds import machine_memory
from keen_sweep.settings import Settings
from keen_sweep.store.library import Library
from keen_sweep.store.log import log_files
from keen_sweep.store.room import free_room
from keen_sweep.store.rows import tables_of
from keen_sweep.store.tables import Run

# Packages whose version explains most.
REPORTED_PACKAGES = (
    "fastapi",
    "sqlmodel",
    "numpy",
    "opencv-python-headless",
    "numba",
    "onnxruntime",
    "pillow",
    "rawpy",
    "tifffile",
)
# Number of runs in a report, the latest.
MAX_RUNS = 200
REPORT_README = """What is in here:
  about.json     versions, machine, settings, how full the disk is
  tables.json    how many rows each table of the library has
  runs.json      the latest fills: how each was asked for, how it ended, how long it took
  packages.txt   what is installed beside the program
  logs/          what happened, a line of JSON each
No pictures, no names of pictures, shoots or sweeps, no words of hints, no keys, no passphrase.
"""


@cache
def versions() -> dict[str, str]:
    """What the program runs on."""
    installed = {each.metadata["Name"].lower() for each in distributions()}
    found = {name: version(name) for name in REPORTED_PACKAGES if name in installed}
    return {"python": platform.python_version(), "sqlite": sqlite3.sqlite_version, **found}


def report_of(library: Library, in_the_way: str) -> bytes:
    """A ZIP of what is known; in_the_way: what is in the way of working now."""
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as out:
        out.writestr("README.txt", REPORT_README)
        out.writestr("about.json", _json(_about(library, in_the_way)))
        out.writestr("tables.json", _json(_tables(library)))
        out.writestr("runs.json", _json(_runs(library)))
        out.writestr("packages.txt", "\n".join(sorted(f"{d.metadata['Name']}=={d.version}" for d in distributions())))
        for file in log_files(library.folder):
            out.write(file, f"logs/{file.name}")
    return packed.getvalue()


def _about(library: Library, in_the_way: str) -> dict[str, object]:
    settings = Settings()
    return {
        "version": __version__,
        "in_the_way": in_the_way.replace(str(library.folder), "LIBRARY"),
        "schema_revision": library.revision,
        "versions": versions(),
        "machine": {"system": platform.platform(), "memory": machine_memory(), "free": free_room(library)},
        "settings": {
            "beyond_this_machine": bool(settings.passphrase.get_secret_value()),
            "cluster": bool(settings.cluster),
            "service_seconds": settings.service_seconds,
        },
    }


def _tables(library: Library) -> dict[str, int]:
    with library.engine.connect() as connection:
        return {
            name: connection.exec_driver_sql(f'SELECT count(*) FROM "{name}"').scalar_one()
            for name in tables_of(library)
        }


def _runs(library: Library) -> list[dict[str, object]]:
    with library.session() as session:
        rows = session.exec(select(Run).order_by(col(Run.id).desc()).limit(MAX_RUNS)).all()
    return [
        {
            "run": row.id,
            "state": row.state.value,
            "attempts": row.attempts,
            "quality": row.request.get("quality"),
            "takes": row.request.get("takes"),
            "method": row.request.get("method"),
            "remedy": row.remedy,
            "asked_at": row.asked_at.isoformat(),
            "seconds": (row.ended_at - row.started_at).total_seconds() if row.ended_at and row.started_at else None,
        }
        for row in rows
    ]


def _json(content: object) -> str:
    return json.dumps(content, indent=1)
