"""The second look: everything that can be found wrong with a fill without knowing the truth."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from keen_sweep.core.box import Box
from keen_sweep.core.review.grading import graded_review, shown_by_grading
from keen_sweep.core.review.leftover import leftover
from keen_sweep.core.review.line import broken_line
from keen_sweep.core.review.odd import odd_place
from keen_sweep.core.review.orphan import orphan
from keen_sweep.core.review.repeat import repeat
from keen_sweep.core.review.snag import Grading, Laid, Snag
from keen_sweep.core.review.softness import softness
from keen_sweep.core.review.tone import step_in_tone

REVIEW_CHECKS = (leftover, repeat, step_in_tone, broken_line, odd_place)
MAX_REVIEW_PIXELS = 2_500_000
# Margin around a fill that most checks read, pixels.
SURROUNDINGS_PX = 150
# Margin in which shadows are searched for, in longer sides of the hole.
SHADOW_MARGIN_RATIO = 1.5
# Bounds of that margin, pixels.
MIN_SHADOW_MARGIN_PX = 150
MAX_SHADOW_MARGIN_PX = 600
# Number of halved sizes at which a snag is searched for again, at most.
MAX_HALVINGS = 3
# Smallest side at which a snag is searched for, pixels.
MIN_REVIEW_SIDE_PX = 48


# Called between checks; it may raise to stop the look.
GoOn = Callable[[], None]


def no_check() -> None:
    """No-op cancellation check."""


def review(laid: Laid, go_on: GoOn = no_check) -> list[Snag]:
    """Find the snags of a fill.

    Parameters
    ----------
    laid : Laid
        The fill.
    go_on : GoOn, optional
        Raises when the review should stop.

    Returns
    -------
    list of Snag
        The snags, the worst first.
    """
    near, at = laid.around(SURROUNDINGS_PX)
    found = _scaled(softness(near), 0)
    # What is this large is looked at from farther away: only grain needs every pixel.
    halvings = 1 if near.hole.size > MAX_REVIEW_PIXELS else 0
    for _ in range(halvings):
        near = near.halved()
    for check in REVIEW_CHECKS:
        go_on()
        found += _scaled(check(near), halvings)
    go_on()
    moved = [replace(snag, box=snag.box.relative_to(Box(x=-at.x, y=-at.y, width=0, height=0))) for snag in found]
    return sorted([*moved, *orphan(laid)], key=lambda snag: -snag.strength)


def _scaled(snags: list[Snag], halvings: int) -> list[Snag]:
    """Snags of a laid that was halved, in pixels of the one it came from."""
    times = np.ones((1 << halvings,) * 2, np.bool_)
    return [replace(snag, box=snag.box.enlarged(halvings), place=np.kron(snag.place, times)) for snag in snags]


def review_box(hole: Box, picture: Box) -> Box:
    """Part of a picture that a review reads.

    Parameters
    ----------
    hole : Box
        Box of the fill.
    picture : Box
        Box of the picture.

    Returns
    -------
    Box
        The box.
    """
    room = SHADOW_MARGIN_RATIO * max(hole.width, hole.height)
    return hole.grow(round(min(max(room, MIN_SHADOW_MARGIN_PX), MAX_SHADOW_MARGIN_PX)), picture)


def with_visibility(
    laid: Laid, snags: list[Snag], go_on: GoOn = no_check, find: Callable[[Laid, GoOn], list[Snag]] = review
) -> list[Snag]:
    """Find the smallest scale at which each snag is still visible.

    Parameters
    ----------
    laid : Laid
        The fill.
    snags : list of Snag
        The snags at full size.
    go_on : GoOn, optional
        Raises when the review should stop.
    find : callable, optional
        Finds the snags of a smaller picture.

    Returns
    -------
    list of Snag
        The snags with their `visible` set.
    """
    left = {id(snag): 1.0 for snag in snags}
    open_still = list(snags)
    for halving in range(1, MAX_HALVINGS + 1):
        if not open_still or min(laid.hole.shape) < 2 * MIN_REVIEW_SIDE_PX:
            break
        laid = laid.halved()
        if not laid.hole.any():
            break
        kinds = {snag.kind for snag in open_still}
        smaller = [each for each in find(laid, go_on) if each.kind in kinds]
        open_still = [snag for snag in open_still if any(_same(snag, each, halving) for each in smaller)]
        for snag in open_still:
            left[id(snag)] = 0.5**halving
    return [replace(snag, visible=left[id(snag)]) for snag in snags]


def with_gradings(laid: Laid, snags: list[Snag], go_on: GoOn = no_check) -> list[Snag]:
    """Add what shows only once the picture is graded.

    Parameters
    ----------
    laid : Laid
        The fill.
    snags : list of Snag
        What shows without.
    go_on : GoOn, optional
        Raises when the review should stop.

    Returns
    -------
    list of Snag
        These, and then the ones with a `grading`.
    """
    near, at = laid.around(SURROUNDINGS_PX)
    back = Box(x=-at.x, y=-at.y, width=0, height=0)
    halvings = 0
    known = [replace(snag, box=snag.box.relative_to(at)) for snag in snags]
    while near.hole.size > MAX_REVIEW_PIXELS:
        near, halvings = near.halved(), halvings + 1
        known = [replace(snag, box=_halved(snag.box)) for snag in known]
    raised = shown_by_grading(near, known, go_on)
    found: list[Snag] = []
    for grading in Grading:
        own = [snag for snag in raised if snag.grading is grading]
        if own and grading is not Grading.ENLARGED:

            def find(smaller: Laid, go_on: GoOn, grading: Grading = grading) -> list[Snag]:
                return graded_review(smaller, grading, go_on)

            own = with_visibility(near, own, go_on, find)
        found += _scaled(own, halvings)
    return snags + [replace(snag, box=snag.box.relative_to(back)) for snag in found]


def _halved(box: Box) -> Box:
    return Box(x=box.x // 2, y=box.y // 2, width=-(-box.width // 2), height=-(-box.height // 2))


def _same(snag: Snag, smaller: Snag, halvings: int) -> bool:
    grown = smaller.box.enlarged(halvings)
    slack = 8 << halvings
    around = grown.model_copy(
        update={
            "x": grown.x - slack,
            "y": grown.y - slack,
            "width": grown.width + 2 * slack,
            "height": grown.height + 2 * slack,
        }
    )
    return smaller.kind == snag.kind and not around.intersect(snag.box).empty
