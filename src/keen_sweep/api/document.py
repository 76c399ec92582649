"""The OpenAPI document: what the framework tells of the routes, and what it does not: how problems are sent, and which
of them are to be expected where."""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI

PROBLEM = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
# By status: the name of the answer, and what it means.
EXPECTED = {
    "400": ("BadRequest", "It makes no sense, as its detail says"),
    "403": ("Elsewhere", "Asked from elsewhere, or without the passphrase"),
    "404": ("NotThere", "There is no such thing, or not any more"),
    "409": ("Conflict", "It does not go with how things are now: read them anew"),
    "422": ("Invalid", "The request is not valid, or cannot be carried out on this picture"),
    "507": ("NoRoom", "The disk is full, or the library cannot be reached"),
    "default": ("Unexpected", "Any other problem (RFC 9457)"),
}


def describe(app: FastAPI) -> None:
    """Make the application describe its problems as they are sent (RFC 9457)."""
    plain = app.openapi

    def openapi() -> dict[str, Any]:
        if app.openapi_schema is None:
            document = plain()
            for path, operations in document["paths"].items():
                for method, operation in operations.items():
                    _describe(path, method, operation["responses"])
            document["components"]["responses"] = {
                name: {"description": meaning, "content": PROBLEM} for name, meaning in EXPECTED.values()
            }
        return plain()

    app.openapi = openapi  # type: ignore[method-assign]


def _describe(path: str, method: str, responses: dict[str, Any]) -> None:
    left_out = set() if "{" in path else {"404"}
    if method == "get":
        left_out.add("409")
    for status, (name, _) in EXPECTED.items():
        if status not in left_out:
            responses[status] = {"$ref": f"#/components/responses/{name}"}
