"""The benchmark: its cases are what they say, its sums are right, and a run leaves a report."""

import json
import re
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
from numpy.typing import NDArray
from skimage.restoration import inpaint_biharmonic

from keen_sweep.bench import cases, photographs, references, report
from keen_sweep.bench.bench import run_bench
from keen_sweep.bench.run import Result
from keen_sweep.core.errors import BadRequest

pytestmark = pytest.mark.slow


@pytest.mark.parametrize("entry", [e for e in cases.ALL_CASES if not e.public], ids=lambda e: e.name)
def test_a_case_hides_its_truth_and_nothing_else(entry: cases.Entry) -> None:
    case = entry.load()
    assert case.photo.shape == case.truth.shape
    assert np.array_equal(case.photo[~case.mask], case.truth[~case.mask])
    assert (case.photo[case.mask] == (196, 40, 150)).all()
    assert 0.002 < case.mask.mean() < 0.15


def test_cases_from_the_shoot_hide_what_was_rendered_over_the_truth() -> None:
    entry = next(e for e in cases.ALL_CASES if e.name == "cables over the glasshouse")
    case = entry.load()
    assert np.abs(case.photo[case.mask].astype(int) - case.truth[case.mask]).mean() > 2
    # Other distractions are out of the picture already.
    assert np.array_equal(case.photo[~case.mask], case.truth[~case.mask])


def test_photographs_hide_their_truth_alone_and_half_of_them_are_kept_back(tmp_path: Path) -> None:
    found = list(photographs.photographs(tmp_path))
    assert len(found) >= 15
    assert sum(entry.kind == photographs.KEPT_BACK_KIND for entry in found) == len(found) // 2
    with pytest.raises(BadRequest, match="is not below"):
        found[0].load()
    rendered = [entry for entry in found if entry.public]
    assert rendered
    case = rendered[0].load()
    assert np.array_equal(case.photo[~case.mask], case.truth[~case.mask])
    assert (case.photo[case.mask] == cases.COVER_COLOUR).all()
    assert case.mask.size >= 2_000_000


def test_photographs_come_from_where_packages_were_unpacked(tmp_path: Path, photograph: NDArray[Any]) -> None:
    which = photographs.ALL_PHOTOGRAPHS[0]
    file = tmp_path / which.file
    file.parent.mkdir(parents=True)
    file.write_bytes(imagecodecs.jpeg_encode(photograph, level=95))
    case = next(iter(photographs.photographs(tmp_path))).load()
    assert case.photo.shape[:2] == (342, 512)
    assert 0.01 < case.mask.mean() < 0.2


def test_references_fill_the_mask_alone() -> None:
    case = next(e for e in cases.ALL_CASES if e.name == "specks on a cat").load()
    for name in ("telea", "navier-stokes", "fsr", "shift-map"):
        filled = references.REFERENCE_METHODS[name](case.photo, case.mask)
        assert filled.shape == case.photo.shape
        assert np.abs(filled[case.mask].astype(int) - case.truth[case.mask]).mean() < 40, name
    small = (slice(0, 80), slice(0, 120))
    photo, mask = case.photo[small], case.mask[small]
    expected = inpaint_biharmonic(photo, mask, channel_axis=-1, split_into_regions=True)
    assert np.abs(references.biharmonic(photo, mask) / 255 - expected).max() < 0.01


def result(method: str, *swds: float, seconds: float = 1.0) -> Result:
    takes = tuple(
        {"lswd": s, "swd": s, "gmsd": s / 10, "sharp": 1.0, "seam": 1.0, "psnr": 30.0, "ssim": 0.9} for s in swds
    )
    return Result(method, (), tuple(seconds for _ in swds), 100.0, takes)


def test_the_summary_compares_with_the_best_single_reference() -> None:
    def others(first: float, second: float) -> tuple[Result, ...]:
        return result("x", first), result("shift-map", second)

    lines = [
        report.Line("a", "wire", 10, result("keen sweep", 1.0, 0.5), None, others(2.0, 4.0)),
        report.Line("b", "wire", 10, result("keen sweep", 2.0, 3.0), None, others(1.0, 6.0)),
    ]
    found = report.summary(lines)
    assert found["swd, take 1 over x"] == pytest.approx(1.5 / 1.5)
    assert found["lswd, best of takes over x"] == pytest.approx(1.25 / 1.5)
    assert found["better than every reference on lswd"] == 0.5
    assert found["take 1 is the best"] == 0.5
    assert found["seconds, all takes over shift-map"] == 1.0


def test_a_run_leaves_a_table_json_and_a_sheet(tmp_path: Path) -> None:
    said: list[str] = []
    run_bench(tmp_path, ["strand"], False, 2, 0, said.append)
    measured = json.loads((tmp_path / "benchmark.json").read_text())
    (case,) = measured["cases"]
    takes = case["methods"]["keen sweep"]["takes"]
    assert len(takes) == 2
    assert takes[0]["swd"] < 1.5
    assert case["methods"]["keen sweep"]["megabytes"] > 1
    assert "strand on fur" in (tmp_path / "benchmark.md").read_text()
    shown = re.findall(r'src="([^"]+)"', (tmp_path / "benchmark.html").read_text())
    assert shown
    assert all((tmp_path / each).is_file() for each in shown)
    sheet = imagecodecs.png_decode((tmp_path / "strand-on-fur.png").read_bytes())
    assert sheet.shape[2] == 3
    assert sheet.std() > 20
    with pytest.raises(BadRequest, match="No case has such a name"):
        run_bench(tmp_path, ["nothing like it"], False, 1, 0, said.append)
