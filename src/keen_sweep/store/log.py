"""What happened, a line of JSON each, in files of the library that take turns: for whoever has to find out why.

A line holds numbers and words of ours: no pictures, no names that people gave, no keys. Of an error it tells the kind
and where in the program it was, not its words, which may hold anything.
"""

from __future__ import annotations

import json
import logging
import sys
import traceback
from datetime import UTC, datetime
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import TracebackType

LOG_FOLDER = "logs"
LOG_NAME = "keen-sweep.jsonl"
# Size of one log file, bytes.
MAX_LOG_BYTES = 1_000_000
# Number of older log files that are kept.
OLDER_LOGS = 4
Fact = str | int | float | bool | None

_EVENT_LOGGER = logging.getLogger("keen_sweep.happened")
_EVENT_LOGGER.setLevel(logging.INFO)
_EVENT_LOGGER.propagate = False


class _AsJson(logging.Formatter):
    def format(self, record: logging.LogRecord) -> str:
        facts: dict[str, object] = getattr(record, "facts", {})
        at = datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds")
        return json.dumps({"at": at, "level": record.levelname.lower(), "what": record.getMessage(), **facts})


class _Turns(RotatingFileHandler):
    def handleError(self, record: logging.LogRecord) -> None:
        """Where a line cannot be written, as on a full disk, the work goes on without it."""


def open_log(folder: Path) -> logging.Handler:
    """Write from now on into a library's folder; for close_log. Raises OSError where that cannot be begun."""
    (folder / LOG_FOLDER).mkdir(exist_ok=True)
    handler = _Turns(
        folder / LOG_FOLDER / LOG_NAME, maxBytes=MAX_LOG_BYTES, backupCount=OLDER_LOGS, encoding="utf-8", delay=True
    )
    handler.setFormatter(_AsJson())
    _EVENT_LOGGER.addHandler(handler)
    return handler


def close_log(handler: logging.Handler) -> None:
    _EVENT_LOGGER.removeHandler(handler)
    handler.close()


def log_files(folder: Path) -> list[Path]:
    """The files of a library's log, the newest first."""
    return sorted((folder / LOG_FOLDER).glob(f"{LOG_NAME}*"))


def happened(what: str, **facts: Fact) -> None:
    """Something that happened."""
    _EVENT_LOGGER.info(what, extra={"facts": facts})


def trouble(what: str, error: BaseException | None = None, **facts: Fact) -> None:
    """Something that should not have happened; error: the one that is handled now unless given."""
    found = error if error is not None else sys.exc_info()[1]
    fields: dict[str, object] = dict(facts)
    if found is not None:
        fields |= {"error": type(found).__name__, "where": _places(found.__traceback__)}
    _EVENT_LOGGER.error(what, extra={"facts": fields})


def _places(trace: TracebackType | None) -> list[str]:
    return [f"{Path(each.filename).name}:{each.lineno} {each.name}" for each in traceback.extract_tb(trace)]
