"""What answers that are no JSON are, for the OpenAPI document."""

from __future__ import annotations

from typing import Any

Described = dict[int | str, dict[str, Any]]


def sends(*kinds: str) -> Described:
    """Of a route that answers with a file of one of these media types."""
    binary = {"schema": {"type": "string", "format": "binary"}}
    return {200: {"description": "The file", "content": dict.fromkeys(kinds, binary)}}
