"""Long lists by pages: so many at a time, after the one that was the last; where the next page is says Link (RFC 8288).

The cursor is the number of a thing that was listed, not a count: what is added or taken away meanwhile moves nothing.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Annotated, TypeVar

from fastapi import Depends, Query, Request, Response

from keen_sweep.core.errors import NotFound
from keen_sweep.core.sentences import sentence

T = TypeVar("T")
MAX_PAGE_SIZE = 500


class Page:
    """Which part of a list is wanted; all of it if nothing is said."""

    def __init__(
        self,
        request: Request,
        response: Response,
        limit: Annotated[
            int | None, Query(ge=1, le=MAX_PAGE_SIZE, description="so many at most; Link says where more are")
        ] = None,
        after: Annotated[int | None, Query(description="only those that stand after the one of this number")] = None,
    ) -> None:
        self._url, self._headers = request.url, response.headers
        self._limit, self._after = limit, after

    def of(self, found: Sequence[T], number: Callable[[T], int]) -> list[T]:
        """The page of a list. Raises NotFound where the one that it should come after is not in it."""
        first = 0
        if self._after is not None:
            at = next((k for k, each in enumerate(found) if number(each) == self._after), None)
            if at is None:
                raise NotFound(
                    sentence(
                        "There is no {after} in this list any more: start again at the first page.", after=self._after
                    )
                )
            first = at + 1
        last = len(found) if self._limit is None else first + self._limit
        page = list(found[first:last])
        if page and last < len(found):
            next_url = self._url.include_query_params(after=number(page[-1]))
            self._headers["Link"] = f'<{next_url.path}?{next_url.query}>; rel="next"'
        return page


Paged = Annotated[Page, Depends(Page)]
