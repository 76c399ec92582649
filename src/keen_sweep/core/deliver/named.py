"""Names of delivered files, by a pattern."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date
from pathlib import PurePosixPath

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence

DEFAULT_PATTERN = "{name}-swept"
PATTERN_FIELDS = {
    "name": "the picture's name, without its ending",
    "shoot": "the shoot's name",
    "number": "its place among those delivered, from 1 on",
    "date": "today",
    "size": "the longer side, pixels",
}
# Characters that some file system does not allow in a name.
FORBIDDEN_CHARACTERS = re.compile(r'[<>:"|?*\\\x00-\x1f]')
MAX_NAME_CHARS = 180


@dataclass(frozen=True)
class Facts:
    """What a file name can contain.

    Attributes
    ----------
    name : str
        Name of the picture.
    shoot : str
        Name of the shoot.
    number : int
        Number of the picture, from 1.
    count : int
        Number of pictures.
    size : int
        Longer side, pixels.
    day : date
        Date of delivery.
    """

    name: str
    shoot: str
    number: int
    count: int
    size: int
    day: date


def file_name(pattern: str, facts: Facts, suffix: str) -> str:
    """Name of a delivered file below its folder; slashes create folders.

    Parameters
    ----------
    pattern : str
        The pattern.
    facts : Facts
        Values of its fields.
    suffix : str
        File name extension.

    Returns
    -------
    str
        The name.

    Raises
    ------
    BadRequest
        The pattern has an unknown field, leaves the folder, or gives no valid name.
    """
    digits = len(str(facts.count))
    values = {
        "name": _one(facts.name),
        "shoot": _one(facts.shoot),
        "number": f"{facts.number:0{digits}}",
        "date": facts.day.isoformat(),
        "size": str(facts.size),
    }
    asked = set(re.findall(r"\{([^{}]*)\}", pattern))
    if unknown := asked - set(values):
        known = ", ".join("{" + each + "}" for each in PATTERN_FIELDS)
        field = "{" + sorted(unknown)[0] + "}"
        raise BadRequest(
            sentence("The pattern of names cannot use {field}: known are {known}.", field=field, known=known)
        )
    made = re.sub(r"\{([^{}]*)\}", lambda found: values[found.group(1)], pattern.replace("\\", "/"))
    parts = [FORBIDDEN_CHARACTERS.sub("_", part).strip(" .") for part in made.split("/")]
    if any(not part for part in parts) or ".." in made.split("/") or len(made) > MAX_NAME_CHARS:
        raise BadRequest(sentence("The pattern {pattern!r} does not make a valid file name.", pattern=pattern))
    return str(PurePosixPath(*parts)) + suffix


def collisions(names: list[str]) -> list[str]:
    """Names that occur more than once, ignoring case as some file systems do.

    Parameters
    ----------
    names : list of str
        The names.

    Returns
    -------
    list of str
        The colliding names.
    """
    seen: dict[str, int] = {}
    for name in names:
        seen[name.casefold()] = seen.get(name.casefold(), 0) + 1
    return sorted({name for name in names if seen[name.casefold()] > 1})


def _one(name: str) -> str:
    """A name that makes no folders."""
    return name.replace("/", "_").replace("\\", "_")
