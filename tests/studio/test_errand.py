"""What is sent to other machines: of another version nothing is unpacked."""

import pickle
from typing import Any

import pytest

from keen_sweep.core.errors import BadRequest
from keen_sweep.studio.running.errand import VERSION_SEPARATOR, packed, unpacked


class Bomb:
    def __reduce__(self) -> tuple[Any, ...]:
        return pytest.fail, ("it was unpickled",)


def test_what_was_packed_comes_out() -> None:
    assert unpacked(packed("engine", 5, b"\n")) == ("engine", 5, b"\n")


def test_what_another_version_sent_is_refused_before_it_is_unpickled() -> None:
    with pytest.raises(BadRequest, match=r"has Keen Sweep .*, this one 0\.0\.9"):
        unpacked(b"0.0.9" + VERSION_SEPARATOR + pickle.dumps(Bomb()))
