"""Which scout looks for what."""

from typing import Any, cast

import numpy as np
import pytest

from keen_sweep.core.scout.found import FindKind
from keen_sweep.core.scout.scouts import SCOUTS_BY_KIND, needs_networks, search_description, search_for


def test_there_is_no_scout_for_what_nobody_knows() -> None:
    kind: Any = "umbrellas"
    with pytest.raises(ValueError, match="no scout for umbrellas"):
        search_for(cast(FindKind, kind), np.zeros((40, 60, 3), np.uint8))


def test_each_says_what_it_looks_for_and_which_need_networks() -> None:
    assert {search_description(kind, False) for kind in FindKind} == {
        scout.searches_for for scout in SCOUTS_BY_KIND.values()
    }
    assert [kind for kind in FindKind if needs_networks([kind])] == [FindKind.PEOPLE, FindKind.THINGS]
