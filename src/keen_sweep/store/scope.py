"""What may be done with a token; a room of its own, so that a command that names it loads no database."""

from __future__ import annotations

from enum import StrEnum


class Scope(StrEnum):
    """What may be done with a token: look, edit as well, and spend as well."""

    READ = "read"
    EDIT = "edit"
    SPEND = "spend"

    def reaches(self, other: Scope) -> bool:
        order = list(Scope)
        return order.index(self) >= order.index(other)
