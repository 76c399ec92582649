"""What a take remembers: read as every version wrote it, kept as short as it may be."""

import pytest
from pydantic import ValidationError

from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.provenance import EMPTY_PROVENANCE, Provenance


def test_what_earlier_versions_wrote_is_read() -> None:
    service = {"name": "Painters", "kind": "service", "service": "http://127.0.0.1:8421", "version": "1"}
    knobs = {"steps": 20, "guidance": 7.0, "strength": 0.9}
    told = Provenance.model_validate(
        {
            "engine": "model, Keen Sweep 0.1.0",
            "quality": "fast",
            "model": service,
            "hint": "",
            "avoid": "grass",
            "knobs": knobs,
            "credits": 2,
            "receipts": {"p-1": 2},
            "of": [3, 4],
            "laid": "again",
        }
    )
    assert told.model is not None
    assert (told.quality, told.model.service, told.of, told.credits) == (Quality.FAST, service["service"], (3, 4), 2.0)
    assert Provenance.model_validate({}) == EMPTY_PROVENANCE


def test_it_is_kept_without_what_nobody_said_and_comes_back_as_it_was() -> None:
    told = Provenance(sisters=("pond-2",), borrowed=0.8, why="sister frames show it")
    assert told.as_json() == {"sisters": ["pond-2"], "borrowed": 0.8, "why": "sister frames show it"}
    assert Provenance.model_validate(told.as_json()) == told
    assert told.but(lent=True).as_json() == {**told.as_json(), "lent": True}
    assert EMPTY_PROVENANCE.as_json() == {}


def test_what_a_newer_version_says_beside_is_left_alone_and_nonsense_is_not_taken() -> None:
    assert Provenance.model_validate({"hint": "gravel", "mood": "sunny"}) == Provenance(hint="gravel")
    with pytest.raises(ValidationError):
        Provenance.model_validate({"quality": "superb"})
