"""The OpenAPI document: what the framework tells of the routes, and what it does not: how problems are sent, and which
of them are to be expected where."""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI

from keen_sweep.core.attribute_docs import describe_fields

PROBLEM_CONTENT = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
# By status: name and meaning of the response.
EXPECTED_PROBLEMS = {
    "400": ("BadRequest", "The request is not valid; see detail"),
    "403": ("Elsewhere", "Asked from elsewhere, or without the passphrase"),
    "404": ("NotThere", "Not found, or no longer there"),
    "409": ("Conflict", "In conflict with the current state: read it again"),
    "412": ("ChangedMeanwhile", "The frame has changed since the revision in If-Match"),
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
            describe_fields(document)
            for path, operations in document["paths"].items():
                for method, operation in operations.items():
                    if method == "get":
                        _drop_if_match(operation)
                    _describe(path, method, operation)
            document["components"]["responses"] = {
                name: {"description": meaning, "content": PROBLEM_CONTENT}
                for name, meaning in EXPECTED_PROBLEMS.values()
            }
        return plain()

    app.openapi = openapi  # type: ignore[method-assign]


def _describe(path: str, method: str, operation: dict[str, Any]) -> None:
    left_out = set() if "{" in path else {"404"}
    if method == "get":
        left_out.add("409")
    if all(each["name"] != "If-Match" for each in operation.get("parameters", [])):
        left_out.add("412")
    for status, (name, _) in EXPECTED_PROBLEMS.items():
        if status not in left_out:
            operation["responses"][status] = {"$ref": f"#/components/responses/{name}"}


def _drop_if_match(operation: dict[str, Any]) -> None:
    """What is only read is read as it is: routers tell of the header for all their routes."""
    given = [each for each in operation.get("parameters", []) if each["name"] != "If-Match"]
    if given:
        operation["parameters"] = given
    else:
        operation.pop("parameters", None)
