"""How one JSON document differs from another, so that a history grows by what was done rather than by what is there.

A difference is a JSON value itself:
    ["put", value]                          instead of what is there
    ["keys", {key: difference, ...}, [key, ...]]   some values of an object differ or are new, some are gone
    ["splice", at, count, [item, ...]]      so many items of a list give way to others
    ["item", at, difference]                one item of a list differs
"""

from __future__ import annotations

from itertools import takewhile
from typing import Any


def difference(old: Any, new: Any) -> list[Any]:
    """What makes new out of old, two JSON values."""
    if isinstance(old, dict) and isinstance(new, dict):
        changed = {key: difference(old[key], value) for key, value in new.items() if key in old and old[key] != value}
        added = {key: ["put", value] for key, value in new.items() if key not in old}
        return ["keys", {**changed, **added}, [key for key in old if key not in new]]
    if isinstance(old, list) and isinstance(new, list):
        shorter = min(len(old), len(new))
        before = _alike(old, new)
        after = min(_alike(old[::-1], new[::-1]), shorter - before)
        gone, come = old[before : len(old) - after], new[before : len(new) - after]
        if len(gone) == len(come) == 1 and isinstance(gone[0], dict) and isinstance(come[0], dict):
            return ["item", before, difference(gone[0], come[0])]
        return ["splice", before, len(gone), come]
    return ["put", new]


def differed(old: Any, parent: list[Any]) -> Any:
    """The document that a difference makes of another, which stays as it is; what did not change is shared by both."""
    match parent:
        case ["put", value]:
            return value
        case ["keys", changed, gone]:
            inner = {key: differed(old.get(key), each) for key, each in changed.items()}
            return {key: value for key, value in old.items() if key not in gone} | inner
        case ["splice", at, count, items]:
            return [*old[:at], *items, *old[at + count :]]
        case ["item", at, each]:
            return [*old[:at], differed(old[at], each), *old[at + 1 :]]
    raise ValueError("This is no difference between two documents.")


def _alike(one: list[Any], other: list[Any]) -> int:
    """How many items at the beginning are the same."""
    return sum(1 for _ in takewhile(lambda pair: pair[0] == pair[1], zip(one, other, strict=False)))
