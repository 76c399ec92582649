"""A request that is sent again under the same key is done once: a script whose answer got lost can ask again.

The header is that of the IETF draft "The Idempotency-Key HTTP Header Field".
"""

from __future__ import annotations

import hashlib
import inspect
from collections.abc import Callable
from functools import wraps
from typing import Annotated, Any, ParamSpec, TypeVar, cast

from fastapi import Header, Response
from fastapi.encoders import jsonable_encoder

from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.store.library import Library
from keen_sweep.store.log import trouble
from keen_sweep.studio.answered import answer_to, keep_answer, noted_when_written, one_at_a_time

Key = Annotated[
    str | None,
    Header(
        alias="Idempotency-Key",
        min_length=1,
        max_length=200,
        description="asked again under the same key within a day, the same answer is given and nothing is done",
    ),
]


P = ParamSpec("P")
R = TypeVar("R")


def once(endpoint: Callable[P, R]) -> Callable[P, R]:
    """An endpoint, which runs in a thread and is handed a library, that heeds the header Idempotency-Key."""

    @wraps(endpoint)
    def keyed(*args: P.args, **given: P.kwargs) -> R:
        key: Any = given.pop("idempotency_key", None)
        if key is None:
            return endpoint(*args, **given)
        library: Any = given["library"]
        assert isinstance(library, Library)
        asked = {name: value for name, value in given.items() if not isinstance(value, Library | Response)}
        what = f"{endpoint.__module__}.{endpoint.__name__} {jsonable_encoder(asked)}"
        digest = hashlib.sha256(what.encode()).hexdigest()
        headers = next((value.headers for value in given.values() if isinstance(value, Response)), None)
        with one_at_a_time(library, key):
            known = answer_to(library, key, digest)
            if known is None:
                with noted_when_written(library, key):
                    done = endpoint(*args, **given)
                place = None if headers is None else headers.get("location")
                try:
                    keep_answer(library, key, jsonable_encoder(done), place)
                except (OSError, LibraryTrouble) as error:
                    # It is done, so that it is answered; asked for again it is not done again.
                    trouble("answer", error)
                return done
        if headers is not None and known.place is not None:
            headers["location"] = known.place
        # The framework makes of it what it would of the object that it was.
        return cast(R, known.body)

    own = inspect.signature(endpoint)
    header = inspect.Parameter("idempotency_key", inspect.Parameter.KEYWORD_ONLY, default=None, annotation=Key)
    keyed.__signature__ = own.replace(parameters=[*own.parameters.values(), header])  # type: ignore[attr-defined]
    return keyed
