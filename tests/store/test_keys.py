"""Keys of services: readable by their user alone, whole or not there, and never told by an error."""

import json
import os
import stat
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as some
from pydantic import SecretStr

from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.store.keys import Keys


def test_what_is_put_is_got_and_what_is_forgotten_is_gone(tmp_path: Path) -> None:
    keys = Keys(tmp_path / "deep" / "keys.json")
    assert not keys.has("a")
    assert keys.get("a").get_secret_value() == ""
    keys.put("a", SecretStr("one"))
    keys.put("b", SecretStr("two"))
    assert Keys(tmp_path / "deep" / "keys.json").get("a").get_secret_value() == "one"
    keys.put("a", None)
    keys.put("b", SecretStr(""))
    keys.put("never there", None)
    assert json.loads((tmp_path / "deep" / "keys.json").read_text()) == {}


def test_only_its_user_may_read_the_file_even_if_it_was_open_before(tmp_path: Path) -> None:
    file = tmp_path / "keys.json"
    file.write_text("{}")
    file.chmod(0o644)
    Keys(file).put("a", SecretStr("one"))
    assert stat.S_IMODE(file.stat().st_mode) == 0o600
    # What a killed process left half-written does not stand in the way.
    file.with_suffix(".part").write_text("half")
    Keys(file).put("b", SecretStr("two"))
    assert set(json.loads(file.read_text())) == {"a", "b"}
    assert not file.with_suffix(".part").exists()


@pytest.mark.parametrize("content", [b"not JSON: secret", b"\xff\xfe secret", b'{"a": "secret"'])
def test_a_damaged_file_is_said_without_telling_what_is_in_it(tmp_path: Path, content: bytes) -> None:
    file = tmp_path / "keys.json"
    file.write_bytes(content)
    with pytest.raises(LibraryTrouble, match="cannot be read") as caught:
        Keys(file).get("a")
    assert "secret" not in str(caught.value)
    assert caught.value.__cause__ is None
    assert file.read_bytes() == content, "nothing is written over what could be mended"
    with pytest.raises(LibraryTrouble):
        Keys(file).put("a", SecretStr("new"))


def test_a_folder_that_cannot_be_written_is_said(tmp_path: Path) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("")
    with pytest.raises(LibraryTrouble, match="cannot be"):
        Keys(blocked / "keys.json").put("a", SecretStr("one"))


def test_a_key_does_not_show_in_what_is_printed(tmp_path: Path) -> None:
    keys = Keys(tmp_path / "keys.json")
    keys.put("a", SecretStr("not-to-be-seen"))
    got = keys.get("a")
    assert "not-to-be-seen" not in f"{got!r} {got} {vars(keys)} {os.environ}"


@given(some.dictionaries(some.text(min_size=1), some.text(min_size=1), max_size=6))
def test_any_key_comes_back_as_it_went_in(tmp_path_factory: pytest.TempPathFactory, known: dict[str, str]) -> None:
    keys = Keys(tmp_path_factory.mktemp("keys") / "keys.json")
    try:
        encoded = {name: key.encode() for name, key in known.items()}
    except UnicodeEncodeError:
        return
    for name, key in known.items():
        keys.put(name, SecretStr(key))
    assert {name: keys.get(name).get_secret_value().encode() for name in known} == encoded
