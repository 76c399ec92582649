"""The second look against exact truth: how many planted faults it lists, and how many it sees where there are none."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable

import numpy as np

from keen_sweep.bench.cases import ALL_CASES, Case
from keen_sweep.bench.planted import clean, planted
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.review.review import review, review_box
from keen_sweep.core.review.snag import Snag


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
    ]
    return "\n".join(text)


def _near(case: Case) -> Case:
    """The case as a review sees it: not the whole picture."""
    box: Box = review_box(box_of(case.mask), whole(case.mask))
    photo, truth = (np.array(each[box.slices], np.uint8) for each in (case.photo, case.truth))
    return Case(case.name, case.kind, photo, truth, np.array(case.mask[box.slices], np.bool_))


def _meets(snag: Snag, place: np.ndarray) -> bool:
    return bool((place[snag.box.slices] & snag.place).any())
