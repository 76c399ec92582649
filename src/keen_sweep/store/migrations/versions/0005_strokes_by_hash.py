"""Strokes and outlines as files by their hash, and stacks told by what a revision changed.

What is written here is the format of this version of the database, and stays so whatever becomes of the code that reads
it later.
"""

import json
import math
from collections.abc import Callable
from typing import Any

import sqlalchemy as sa
from alembic import context, op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("revision", sa.Column("base_id", sa.Integer(), nullable=True))
    op.add_column("revision", sa.Column("told", sa.Integer(), nullable=False, server_default="0"))
    op.add_column("event", sa.Column("window", sa.String(), nullable=True))
    filing = Filing(context.config.attributes["keep"])
    connection = op.get_bind()
    for (frame,) in connection.execute(sa.text("SELECT id FROM frame ORDER BY id")).all():
        _retell(connection, frame, filing)
    for number, shapes in connection.execute(sa.text("SELECT id, shapes FROM find")).all():
        told = filing.read(shapes)
        connection.execute(
            sa.text("UPDATE find SET shapes = :shapes WHERE id = :id"), {"shapes": json.dumps(told), "id": number}
        )


class Filing:
    """Reads JSON in which strokes and outlines stand as they were drawn, and gives it with their files instead."""

    def __init__(self, keep: Callable[[bytes], str]) -> None:
        self._keep = keep
        self._filed: dict[Any, dict[str, Any]] = {}

    def read(self, text: str) -> Any:
        return json.loads(text, object_hook=self._file)

    def _file(self, found: dict[str, Any]) -> dict[str, Any]:
        if "points" not in found:
            return found
        # The first libraries knew nothing but strokes, and did not say so.
        kind = found.setdefault("kind", "stroke")
        key = (
            kind,
            found.get("size"),
            found.get("softness"),
            found.get("erase"),
            tuple(map(tuple, found["points"])),
            tuple(found.get("pressure") or ()),
        )
        if key not in self._filed:
            name = self._keep(json.dumps(found, separators=(",", ":")).encode())
            self._filed[key] = {
                "kind": kind,
                "file": name,
                "box": _box(found["points"], found["size"] / 2 + 1 if kind == "stroke" else 0.0),
                "erase": bool(found.get("erase", False)),
            }
        return self._filed[key]


def _box(points: list[list[float]], reach: float) -> dict[str, int]:
    xs, ys = [x for x, _ in points], [y for _, y in points]
    left, top = math.floor(min(xs) - reach), math.floor(min(ys) - reach)
    right, bottom = math.ceil(max(xs) + reach), math.ceil(max(ys) + reach)
    return {"x": left, "y": top, "width": max(right - left, 1), "height": max(bottom - top, 1)}


def _retell(connection: sa.Connection, frame: int, filing: Filing) -> None:
    """Write the stacks of a frame anew, each by what it changed unless that would be more to read than all of it."""
    stacks: dict[int, tuple[Any, int]] = {}
    ids = connection.execute(
        sa.text("SELECT id, parent_id FROM revision WHERE frame_id = :frame ORDER BY id"), {"frame": frame}
    ).all()
    for number, parent in ids:
        text = connection.execute(sa.text("SELECT stack FROM revision WHERE id = :id"), {"id": number}).scalar_one()
        stack = _of_now(filing.read(text))
        whole = json.dumps(stack, separators=(",", ":"))
        new = {"id": number, "base": None, "stack": whole, "told": 0}
        if parent in stacks:
            before, told = stacks[parent]
            change = _difference(before, stack)
            # What did not change is shared by both, so that a long history takes no more room than it has to.
            stack = _differed(before, change)
            written = json.dumps(change, separators=(",", ":"))
            if told + len(written) < len(whole):
                new |= {"base": parent, "stack": written, "told": told + len(written)}
        stacks[number] = stack, new["told"]
        connection.execute(
            sa.text("UPDATE revision SET stack = :stack, base_id = :base, told = :told WHERE id = :id"), new
        )


def _of_now(stack: dict[str, Any]) -> dict[str, Any]:
    stack["version"] = 2
    for layer in stack.get("layers", []):
        layer.setdefault("kind", "sweep")
        if "strokes" in layer:
            layer["mark"] = {"shapes": layer.pop("strokes")}
    return stack


def _difference(old: Any, new: Any) -> list[Any]:
    if isinstance(old, dict) and isinstance(new, dict):
        changed = {
            k: _difference(old[k], v) if k in old else ["put", v] for k, v in new.items() if k not in old or old[k] != v
        }
        return ["keys", changed, [key for key in old if key not in new]]
    if isinstance(old, list) and isinstance(new, list):
        shorter, before, after = min(len(old), len(new)), 0, 0
        while before < shorter and old[before] == new[before]:
            before += 1
        while after < shorter - before and old[-1 - after] == new[-1 - after]:
            after += 1
        gone, come = old[before : len(old) - after], new[before : len(new) - after]
        if len(gone) == len(come) == 1 and isinstance(gone[0], dict) and isinstance(come[0], dict):
            return ["item", before, _difference(gone[0], come[0])]
        return ["splice", before, len(gone), come]
    return ["put", new]


def _differed(old: Any, told: list[Any]) -> Any:
    match told:
        case ["keys", changed, gone]:
            inner = {key: _differed(old.get(key), each) for key, each in changed.items()}
            return {key: value for key, value in old.items() if key not in gone} | inner
        case ["splice", at, count, items]:
            return [*old[:at], *items, *old[at + count :]]
        case ["item", at, each]:
            return [*old[:at], _differed(old[at], each), *old[at + 1 :]]
    return told[1]
