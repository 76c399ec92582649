"""Attributes documented in numpydoc, moved to the fields of an OpenAPI document."""

from __future__ import annotations

import re
from typing import Any

SECTION_HEADING = re.compile(r"\n\n?Attributes\n-+\n")
ATTRIBUTE_PATTERN = re.compile(r"^(\w+) : .*\n((?: {4}.*\n?)+)", re.M)


def describe_fields(document: dict[str, Any]) -> None:
    """Move what class docstrings say about attributes to the descriptions of the fields, in place.

    Parameters
    ----------
    document : dict
        An OpenAPI document.
    """
    for schema in document.get("components", {}).get("schemas", {}).values():
        summary, *sections = SECTION_HEADING.split(schema.get("description", ""))
        if not sections:
            continue
        schema["description"] = summary
        for name, text in ATTRIBUTE_PATTERN.findall(sections[0]):
            field = schema.get("properties", {}).get(name)
            # Beside a reference, a description is allowed from OpenAPI 3.1 on.
            if field is not None:
                field.setdefault("description", " ".join(text.split()))
