"""Which view is taken where, from costs that are given."""

import numpy as np

from keen_sweep.core.fill.borrow.choosing import EXCLUDED_LABEL, MAX_COST, MAX_VIEWS, UNFIT_LABEL, ComparedViews
from keen_sweep.core.fill.borrow.views import Warped

SIZE = (24, 32)


def _compared(costs: np.ndarray, overall: list[float]) -> ComparedViews:
    nothing = np.zeros((*SIZE, 3), np.uint8)
    views = tuple(Warped(k, nothing, np.ones(SIZE, np.bool_)) for k in range(len(costs)))
    shown = np.zeros((*costs.shape, 3), np.float32)
    gap = np.zeros(SIZE, np.bool_)
    gap[4:-4, 4:-4] = True
    return ComparedViews(views, costs.astype(np.float32), np.array(overall, np.float32), shown, gap, SIZE)


def test_what_shows_somebody_is_never_taken_where_another_view_serves() -> None:
    """Though that other one serves nowhere else, so that it is not among the few that are held against each other."""
    costs = np.full((MAX_VIEWS + 2, *SIZE), 10.0)
    for k in range(MAX_VIEWS + 1):
        costs[k, :, 3 * k : 3 * k + 3] = 2
    costs[:-1, 10:12, 14:16] = 2 * MAX_COST
    found = _compared(costs, [0.0] * len(costs)).chosen(range(len(costs)))
    assert (found[10:12, 14:16] == MAX_VIEWS + 1).all()


def test_where_no_view_goes_on_or_all_show_somebody_it_is_said() -> None:
    costs = np.full((2, *SIZE), 3.0)
    costs[:, 6:8] = 20
    costs[:, 12:14] = 2 * MAX_COST
    found = _compared(costs, [0.0, 1.0]).chosen([0, 1])
    assert (found[6:8, 4:-4] == UNFIT_LABEL).all()
    assert (found[12:14, 4:-4] == EXCLUDED_LABEL).all()
    assert (found[9:11, 4:-4] == 0).all()


def test_only_what_was_asked_for_is_taken_and_what_fits_all_round_comes_first() -> None:
    costs = np.full((3, *SIZE), 5.0)
    costs[0] = 1
    costs[1, :, :16] = 4
    compared = _compared(costs, [0.0, 4.0, 2.0])
    assert set(np.unique(compared.chosen([1, 2])[4:-4, 4:-4])) == {2}
    assert set(np.unique(compared.chosen([0, 1, 2])[4:-4, 4:-4])) == {0}
