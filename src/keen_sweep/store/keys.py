"""Keys of services: in the keyring of the system, else in one file that only this user may read.

A library can be copied, sent and backed up; what pays must not travel with it. A server that runs without a session of
its user has no keyring, and so has a container: there it is the file.
"""

from __future__ import annotations

import json
import os
from pathlib import Path

from pydantic import SecretStr

from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.sentences import sentence
from keen_sweep.store.key_store import Keys

DEFAULT_FILE = Path("~/.config/keen-sweep/keys.json")


class FileKeys:
    """Keys in a file."""

    def __init__(self, file: Path) -> None:
        self._file = file.expanduser()

    def get(self, name: str) -> SecretStr:
        return SecretStr(self._read().get(name, ""))

    def has(self, name: str) -> bool:
        return bool(self._read().get(name))

    def put(self, name: str, key: SecretStr | None) -> None:
        known = self._read()
        if key is None or not key.get_secret_value():
            if known.pop(name, None) is None:
                return
        else:
            known[name] = key.get_secret_value()
        half = self._file.with_suffix(".part")
        try:
            self._file.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            half.unlink(missing_ok=True)
            with os.fdopen(os.open(half, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as file:
                json.dump(known, file)
            half.replace(self._file)
        except OSError as error:
            raise LibraryTrouble(
                sentence(
                    "The keys cannot be saved in {file}: {reason}.", file=self._file, reason=error.strerror or error
                )
            ) from error

    def _read(self) -> dict[str, str]:
        try:
            found = json.loads(self._file.read_text())
        except FileNotFoundError:
            return {}
        except (OSError, ValueError):
            # Its own words could hold what is in it.
            raise LibraryTrouble(sentence("The file of keys {file} cannot be read.", file=self._file)) from None
        return {str(name): str(key) for name, key in found.items()} if isinstance(found, dict) else {}


def keys_of(file: Path | None) -> Keys:
    """The keys of this user: in a file that was asked for, else in the keyring of the system, where there is one."""
    if file is not None:
        return FileKeys(file)
    # Only who has keys there pays for it.
    from keen_sweep.store.ring import keys_in_ring

    before = FileKeys(DEFAULT_FILE)
    return keys_in_ring(before) or before
