"""The second look against exact truth: how many planted faults it lists, and how many it sees where there are none."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable

import numpy as np

from keen_sweep.bench.cases import ALL_CASES, Case
from keen_sweep.bench.graded import planted_for_grading, small
from keen_sweep.bench.planted import clean, planted
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.review.review import review, review_box, with_gradings
from keen_sweep.core.review.snag import Snag

# Pixels of a case in which faults are planted that only grading raises, at most.
MAX_GRADED_PIXELS = 800_000


def run_review(tell: Callable[[str], None]) -> str:
    """Every case with every fault that it has room for; a table by kind, and a line for every case."""
    planned: Counter[str] = Counter()
    listed: Counter[str] = Counter()
    false: list[int] = []
    lines = []
    for entry in ALL_CASES:
        case = _near(entry.load())
        wrong = review(clean(case))
        false.append(len(wrong))
        said = []
        for fault in planted(case):
            found = any(snag.kind == fault.kind and _meets(snag, fault.place) for snag in review(fault.scene))
            planned[fault.kind] += 1
            listed[fault.kind] += found
            said.append(f"{fault.kind}{'' if found else ' **missed**'}")
        lines.append(f"| {case.name} | {', '.join(said)} | {', '.join(snag.kind for snag in wrong) or '-'} |")
        tell(lines[-1])
    kinds = [f"| {kind} | {planned[kind]} | {listed[kind]} | {listed[kind] / planned[kind]:.2f} |" for kind in planned]
    total = f"| all | {planned.total()} | {listed.total()} | {listed.total() / planned.total():.2f} |"
    text = [
        "| planted fault | planted | listed | share |",
        "|---|---|---|---|",
        *kinds,
        total,
        "",
        f"Clean truth: {sum(false)} false snags in {len(false)} pictures, at most {max(false)} in one.",
        "",
        "| case | planted | seen in the clean truth |",
        "|---|---|---|",
        *lines,
        "",
        *_graded(tell),
    ]
    return "\n".join(text)


def _graded(tell: Callable[[str], None]) -> list[str]:
    """What only grading raises, on the same cases at a size at which five gradings are quick."""
    planned: Counter[str] = Counter()
    listed: Counter[str] = Counter()
    false: list[int] = []
    for entry in ALL_CASES:
        case = small(_near(entry.load()), MAX_GRADED_PIXELS)
        laid = clean(case)
        false.append(sum(snag.grading is not None for snag in with_gradings(laid, review(laid))))
        for grading, fault in planted_for_grading(case):
            found = with_gradings(fault.scene, review(fault.scene))
            planned[grading] += 1
            listed[grading] += any(
                snag.grading is not None and snag.kind == fault.kind and _meets(snag, fault.place) for snag in found
            )
        tell(f"{case.name}: {listed.total()} of {planned.total()} after grading, {sum(false)} false")
    return [
        "| shows only | planted | listed | share |",
        "|---|---|---|---|",
        *(f"| {each} | {planned[each]} | {listed[each]} | {listed[each] / planned[each]:.2f} |" for each in planned),
        f"| all | {planned.total()} | {listed.total()} | {listed.total() / planned.total():.2f} |",
        "",
        f"Clean truth: {sum(false)} false snags after grading in {len(false)} pictures, at most {max(false)} in one.",
    ]


def _near(case: Case) -> Case:
    """The case as a review sees it: not the whole picture."""
    box: Box = review_box(box_of(case.mask), whole(case.mask))
    photo, truth = (np.array(each[box.slices], np.uint8) for each in (case.photo, case.truth))
    return Case(case.name, case.kind, photo, truth, np.array(case.mask[box.slices], np.bool_))


def _meets(snag: Snag, place: np.ndarray) -> bool:
    return bool((place[snag.box.slices] & snag.place).any())
