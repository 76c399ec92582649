"""How the time of a fill grows with the area of its hole."""

from __future__ import annotations

from collections.abc import Callable

from keen_sweep.bench.cases import Case, blob
from keen_sweep.bench.run import run_ours
from keen_sweep.core.fill.method import Quality
from keen_sweep.demo.shoot import clean_twin

FRAME_NAME = "ov-0459"
AREAS_MP = (0.1, 0.25, 0.5, 1.0, 2.0, 4.0)


def run_curve(tell: Callable[[str], None]) -> str:
    """Three fine takes and one fast one of lumpy holes in the 24 MP demo frame, as a table; areas in megapixels."""
    picture = clean_twin(FRAME_NAME)[1]
    lines = ["| hole, MP | fine, three takes, s | s per MP | fast, one take, s | memory, MB |", "|---|---|---|---|---|"]
    for area in AREAS_MP:
        mask = blob(0.5, 0.55, area * 1e6 / (picture.shape[0] * picture.shape[1]), 3)(picture)
        photo = picture.copy()
        photo[mask] = (196, 40, 150)
        case = Case(f"{area} MP", "curve", photo, picture, mask)
        fine, fast = run_ours(case), run_ours(case, 1, Quality.FAST)
        seconds = fine.seconds[-1]
        lines.append(
            f"| {area:g} | {seconds:.1f} | {seconds / area:.1f} | {fast.seconds[-1]:.1f} | {fine.memory:.0f} |"
        )
        tell(lines[-1])
    return "\n".join(lines)
