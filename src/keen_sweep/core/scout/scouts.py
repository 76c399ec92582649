"""The scouts by the kind of find they look for."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.photo.picture import Pixels
from keen_sweep.core.scout.find import Find, Kind
from keen_sweep.core.scout.specks import find_specks

Scout = Callable[[Pixels, NDArray[np.bool_] | None], list[Find]]
SCOUTS: dict[Kind, Scout] = {"specks": find_specks}
