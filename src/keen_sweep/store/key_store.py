"""What a store of keys can do; in a file (keys) or in the keyring of the system (ring)."""

from __future__ import annotations

from typing import Protocol

from pydantic import SecretStr


class Keys(Protocol):
    """Keys by the names that models and notices give them."""

    def get(self, name: str) -> SecretStr:
        """A key, empty if there is none. Raises LibraryTrouble when it cannot be read."""

    def has(self, name: str) -> bool:
        """Whether there is a key. Raises LibraryTrouble when that cannot be told."""

    def put(self, name: str, key: SecretStr | None) -> None:
        """Keep a key, or forget it. Raises LibraryTrouble when it cannot be kept."""
