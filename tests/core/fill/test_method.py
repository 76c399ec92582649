"""The words for how takes are made: what is asked for can be made, and each answers for itself."""

import pytest

from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.method import MadeBy, Method, Quality
from keen_sweep.core.mask.check import check_mask
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.review.snag import Mend, SnagKind
from keen_sweep.core.scout.found import FindKind
from keen_sweep.core.scout.scouts import ALL_KINDS
from tests.support.masks import mask_of_strokes


def test_whatever_is_asked_for_can_have_made_a_take() -> None:
    assert {method.value for method in Method} < {made.value for made in MadeBy}
    assert {made for made in MadeBy if made.by_hand} == {MadeBy.MIX, MadeBy.MEND}
    assert not any(MadeBy(method).by_hand for method in Method)


def test_only_what_removes_light_may_cover_the_whole_picture() -> None:
    everything = mask_of_strokes([Stroke(points=((20.0, 15.0),), size=200)], 40, 30)
    for method in Method:
        if method.may_cover_all:
            check_mask(everything, 40, 30, method.may_cover_all)
        else:
            with pytest.raises(BadMask):
                check_mask(everything, 40, 30, method.may_cover_all)
    assert [method for method in Method if method.may_cover_all] == [Method.REFLECTION]


def test_what_weaves_heeds_words_and_what_invents_nothing_is_not_reviewed() -> None:
    assert all(method.heeds_words for method in Method if method.weaves)
    assert not Method.CLOSE.heeds_words
    assert {made for made in MadeBy if not made.invents} == {MadeBy.BACKDROP, MadeBy.REFLECTION}


def test_engines_are_called_by_their_methods() -> None:
    local = [method for method in Method if method is not Method.MODEL]
    assert [engine_for(method).name for method in local] == local
    assert [quality.value for quality in Quality] == ["fast", "fine"]


def test_every_kind_of_find_has_its_scout_and_its_words() -> None:
    assert set(ALL_KINDS) == set(FindKind)
    assert [kind for kind in FindKind if kind.is_dust] == [FindKind.SPECKS]
    assert all(kind.stays_one for kind in FindKind if kind.is_dust)
    assert not any(kind.stays_one for kind in FindKind if kind.stands_by_itself)


def test_every_snag_can_be_mended() -> None:
    assert {kind.mend for kind in SnagKind} == set(Mend)
    assert SnagKind("leftover").mend is Mend.GROW
