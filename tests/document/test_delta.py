"""How documents differ: whatever they are, the difference leads from one to the other."""

import json
from copy import deepcopy
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keen_sweep.document.delta import differed, difference

leaves = st.none() | st.booleans() | st.integers(2, 9) | st.text("ab", max_size=2)
keys = st.sampled_from(["id", "mark", "shapes", "pick"])
documents = st.recursive(
    leaves, lambda inner: st.lists(inner, max_size=4) | st.dictionaries(keys, inner, max_size=3), max_leaves=12
)


@settings(max_examples=300)
@given(documents, documents)
def test_a_difference_leads_from_any_document_to_any_other(old: Any, new: Any) -> None:
    before = deepcopy(old)
    told = json.loads(json.dumps(difference(old, new)))
    assert differed(old, told) == new
    assert old == before, "the old one stays as it is"


@settings(max_examples=60)
@given(documents)
def test_nothing_differs_from_itself(document: Any) -> None:
    assert differed(document, difference(document, document)) == document


def test_a_stroke_among_many_costs_no_more_than_itself() -> None:
    shapes = [{"kind": "stroke", "file": f"{k:064}"} for k in range(500)]
    old = {"layers": [{"id": "a", "mark": {"shapes": shapes[:-1]}}, {"id": "b", "mark": {"shapes": []}}]}
    new = {"layers": [{"id": "a", "mark": {"shapes": shapes}}, {"id": "b", "mark": {"shapes": []}}]}
    told = json.dumps(difference(old, new))
    assert len(told) < len(json.dumps(shapes[-1])) + 150
    assert differed(old, json.loads(told))["layers"][1] is old["layers"][1], "what did not change is shared"


def test_what_is_no_difference_is_refused() -> None:
    with pytest.raises(ValueError, match="no difference"):
        differed({}, ["turn", 1])
