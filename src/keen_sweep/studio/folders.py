"""Folders of this machine that are named by hand."""

from __future__ import annotations

from pathlib import Path

from keen_sweep.core.errors import BadRequest
from keen_sweep.store.library import Library


def folder_named(library: Library, folder: str, what: str) -> Path:
    """The folder of a path, which need not be there; what: an example of its name. Raises BadRequest for a path that is
    not whole, for a file, and for the library's own folder."""
    path = Path(folder).expanduser()
    if not folder.strip() or not path.is_absolute():
        raise BadRequest(f"Enter the full path of the folder, such as /home/me/{what} or ~/{what}.")
    path = path.resolve()
    own = library.folder.resolve()
    if path == own or own in path.parents:
        raise BadRequest("This folder belongs to the library: choose another one.")
    if path.exists() and not path.is_dir():
        raise BadRequest(f"{path} is a file, not a folder.")
    return path
