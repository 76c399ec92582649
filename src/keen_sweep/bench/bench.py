"""A whole run: every case that was asked for, every method, the report."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

from keen_sweep.bench.cases import ALL_CASES
from keen_sweep.bench.page import page
from keen_sweep.bench.photographs import photographs
from keen_sweep.bench.references import REFERENCE_METHODS
from keen_sweep.bench.report import Line, as_json, lines_of, table, write_json, write_sheet
from keen_sweep.bench.run import run_ours, run_reference
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.method import Quality


def run_bench(
    out: Path,
    names: list[str],
    references: bool,
    takes: int,
    seed: int,
    tell: Callable[[str], None],
    pictures: Path = Path("/"),
) -> None:
    """Run cases whose name holds one of names (all if there are none) and write the report into a folder.

    A whole run takes long: cases whose result is in the folder already are kept as they are. pictures: below which
    Debian's packages of photographs lie; cases whose package is missing are left out, and that is said. Raises
    BadRequest when no case has such a name.
    """
    every = [*ALL_CASES, *photographs(pictures)]
    chosen = [entry for entry in every if not names or any(name in entry.name for name in names)]
    if not chosen:
        raise BadRequest("No case has such a name. There are: " + ", ".join(entry.name for entry in every) + ".")
    file = out / "benchmark.json"
    lines = lines_of(json.loads(file.read_text())) if file.is_file() else []
    for entry in chosen:
        if any(line.name == entry.name for line in lines):
            continue
        try:
            case = entry.load()
        except BadRequest as error:
            tell(f"{entry.name} is left out: {error}")
            continue
        others = [run_reference(case, method) for method in REFERENCE_METHODS] if references else []
        line = Line(
            name=case.name,
            kind=case.kind,
            pixels=int(case.mask.sum()),
            ours=run_ours(case, takes, Quality.FINE, seed=seed),
            fast=run_ours(case, 1, Quality.FAST, seed=seed),
            references=tuple(other for other in others if other),
        )
        lines.append(line)
        write_sheet(case, line, out)
        write_json(lines, file)
        tell(table([line]).splitlines()[-1])
    said = as_json(lines)
    summary = json.dumps({"all": said["summary"], **said["by kind"]}, indent=1)
    (out / "benchmark.md").write_text(table(lines) + "\n\n```\n" + summary + "\n```\n")
    (out / "benchmark.html").write_text(page(lines))
    tell(summary)
