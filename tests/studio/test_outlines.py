"""The outlines of finds: their files never change, so each is traced once, however often the list is asked for."""

import numpy as np
import pytest

from keen_sweep.core.box import Box
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.rings import Ring, rings_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.scout.found import Also, FindKind, Found
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.finding.finds import FindChange, change_find, finds, keep_found


def disc(x: int, y: int) -> Mask:
    return Mask(Box(x=x, y=y, width=20, height=20), np.full((20, 20), 255, np.uint8))


def test_an_outline_is_traced_once_and_again_when_it_changes(
    library: Library, frame: Frame, monkeypatch: pytest.MonkeyPatch
) -> None:
    with library.session() as session:
        found = [
            Found(FindKind.PEOPLE, "Person 1", disc(10, 11), 0.9, "", also=(Also("shadow", disc(31, 12)),)),
            Found(FindKind.PEOPLE, "Person 2", disc(60, 13), 0.9, ""),
        ]
        keep_found(library, session, frame, FindKind.PEOPLE, found)
    traced: list[Box] = []

    def noted(mask: Mask) -> list[Ring]:
        traced.append(mask.box)
        return rings_of(mask)

    monkeypatch.setattr("keen_sweep.studio.finding.finds.rings_of", noted)
    first = finds(library, frame.id)
    assert len(traced) == 3, "two people and a shadow"
    again = finds(library, frame.id)
    assert len(traced) == 3
    assert [each.rings for each in again] == [each.rings for each in first]
    person = first[1].find
    change_find(library, frame.id, person.id, FindChange(goes=False))
    finds(library, frame.id)
    assert len(traced) == 3, "whether it goes changes no outline"
    more = Stroke(points=((70.0, 40.0),), size=16)
    change_find(library, frame.id, person.id, FindChange(shapes=[more]))
    (_, wider) = finds(library, frame.id)
    assert len(traced) == 4
    assert wider.box.bottom > first[1].box.bottom
