"""What must be there, for the types and for the test."""

from __future__ import annotations

from typing import TypeVar

T = TypeVar("T")


def sure(found: T | None) -> T:
    assert found is not None
    return found
