"""Keys of services in the keyring of the system."""

from __future__ import annotations

import keyring
from keyring.backend import KeyringBackend
from keyring.core import recommended
from keyring.errors import KeyringError
from pydantic import SecretStr

from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.sentences import sentence
from keen_sweep.store.key_store import Keys

# Name under which the keyring stores our keys.
SERVICE_NAME = "keen-sweep"


def keys_in_ring(before: Keys) -> Keys | None:
    """The keys in the keyring of this system, None where there is none; before: where they were kept until now."""
    ring = keyring.get_keyring()
    return RingKeys(ring, before) if recommended(ring) else None


class RingKeys:
    """Keys in the keyring of a system; those that were kept in a file before are found there."""

    def __init__(self, ring: KeyringBackend, before: Keys) -> None:
        self._ring, self._before = ring, before

    def get(self, name: str) -> SecretStr:
        try:
            found = self._ring.get_password(SERVICE_NAME, name)
        except KeyringError as error:
            raise _closed(error) from None
        return SecretStr(found) if found else self._before.get(name)

    def has(self, name: str) -> bool:
        return bool(self.get(name).get_secret_value())

    def put(self, name: str, key: SecretStr | None) -> None:
        try:
            if key is not None and key.get_secret_value():
                self._ring.set_password(SERVICE_NAME, name, key.get_secret_value())
            elif self._ring.get_password(SERVICE_NAME, name) is not None:
                self._ring.delete_password(SERVICE_NAME, name)
        except KeyringError as error:
            raise _closed(error) from None
        self._before.put(name, None)


def _closed(error: KeyringError) -> LibraryTrouble:
    # Its own words could hold what is in it.
    kind = type(error).__name__
    return LibraryTrouble(
        sentence(
            "The keyring of this system cannot be opened ({kind}): unlock it, or set KEEN_SWEEP_KEYS to a file.",
            kind=kind,
        )
    )
