"""Folders of this machine that are named by hand."""

from __future__ import annotations

from pathlib import Path

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library


def folder_named(library: Library, folder: str, what: str) -> Path:
    """The folder of a path, which need not be there; what: an example of its name. Raises BadRequest for a path that is
    not whole, for a file, and for the library's own folder."""
    path = Path(folder).expanduser()
    if not folder.strip() or not path.is_absolute():
        raise BadRequest(sentence("Enter the full path of the folder, such as /home/me/{what} or ~/{what}.", what=what))
    path = path.resolve()
    own = library.folder.resolve()
    if path == own or own in path.parents:
        raise BadRequest(sentence("This folder belongs to the library: choose another one."))
    if path.exists() and not path.is_dir():
        raise BadRequest(sentence("{path} is a file, not a folder.", path=path))
    return path
