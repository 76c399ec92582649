"""The made set of the bench for lines and arrows: what it says is covered, drawn and copied is so."""

from dataclasses import replace

import numpy as np

from keen_sweep.bench.lead import EDGE_KINDS, HAND_PX, Drawn, filled, made_set, measure, wrong_share
from keen_sweep.core.fill.patch import Patch


def test_each_picture_hides_where_grounds_meet_and_is_drawn_on_there() -> None:
    cases = made_set()
    assert {case.name.split()[0] for case in cases} == {*EDGE_KINDS, "arrow"}
    assert sum(case.kept_back for case in cases) == len(cases) / 2
    for case in cases:
        assert len(np.unique(case.labels[case.hole])) == (3 if case.name.startswith(("bar", "kerb")) else 2), case.name
        for line in case.lead:
            assert 2 <= len(line.points) <= 8
            rows, columns = np.rint(line.xy[[0, -1]]).astype(int)[:, ::-1].T
            covered = case.hole[rows, columns].tolist()
            assert covered == [False, line.brings == "ground"], case.name
            if line.brings == "edge":
                assert max(_to_edge(case, point) for point in line.points) <= HAND_PX + 1.5


def _to_edge(case: Drawn, point: tuple[float, float]) -> float:
    """Distance of a point from the nearest edge above, below or beside it, pixels."""
    row, column = round(point[1]), round(point[0])
    near = case.labels[max(row - 6, 0) : row + 7, max(column - 6, 0) : column + 7]
    if (near == near[0, 0]).all():
        return float("inf")
    rows, columns = np.nonzero(near != case.labels[row, column])
    return float(np.hypot(rows - min(row, 6), columns - min(column, 6)).min())


def test_wrong_ground_is_what_was_copied_from_elsewhere() -> None:
    case = next(each for each in made_set() if each.name == "horizon 1, textured")
    rows, columns = np.nonzero(case.hole)
    top, left = rows.min(), columns.min()
    shape = (rows.max() + 1 - top, columns.max() + 1 - left)
    outcome = measure(case)
    assert outcome.wrong_share <= 0.02
    assert outcome.lswd[1] > 0
    patch = _patch_of(case, (int(top), int(left)), shape, (0, 0))
    assert wrong_share(case, patch) == 0
    # All of it from the upper ground: wrong is what lies below.
    up = _patch_of(case, (int(top), int(left)), shape, (0, -120))
    below = case.labels[rows, columns] > 0
    assert 0.5 * below.mean() < wrong_share(case, up) <= 1.0


def _patch_of(case: Drawn, corner: tuple[int, int], shape: tuple[int, int], move: tuple[int, int]) -> Patch:
    _, _, patch = filled(case, (), 0)
    offsets = np.zeros((patch.box.height, patch.box.width, 2), np.int32) + np.array(move, np.int32)
    assert (patch.box.y, patch.box.x) == corner
    assert (patch.box.height, patch.box.width) == shape
    return replace(patch, offsets=offsets)
