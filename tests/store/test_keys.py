"""Keys of services: in the keyring, or a file for their user alone, whole or not there, never told by an error."""

import json
import os
import stat
from pathlib import Path

import keyring
import pytest
from hypothesis import given
from hypothesis import strategies as some
from keyring.backend import KeyringBackend
from keyring.backends import fail
from keyring.errors import KeyringLocked
from pydantic import SecretStr

from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.store.keys import FileKeys, keys_of


def test_what_is_put_is_got_and_what_is_forgotten_is_gone(tmp_path: Path) -> None:
    keys = FileKeys(tmp_path / "deep" / "keys.json")
    assert not keys.has("a")
    assert keys.get("a").get_secret_value() == ""
    keys.put("a", SecretStr("one"))
    keys.put("b", SecretStr("two"))
    assert FileKeys(tmp_path / "deep" / "keys.json").get("a").get_secret_value() == "one"
    keys.put("a", None)
    keys.put("b", SecretStr(""))
    keys.put("never there", None)
    assert json.loads((tmp_path / "deep" / "keys.json").read_text()) == {}


def test_only_its_user_may_read_the_file_even_if_it_was_open_before(tmp_path: Path) -> None:
    file = tmp_path / "keys.json"
    file.write_text("{}")
    file.chmod(0o644)
    FileKeys(file).put("a", SecretStr("one"))
    assert stat.S_IMODE(file.stat().st_mode) == 0o600
    # What a killed process left half-written does not stand in the way.
    file.with_suffix(".part").write_text("half")
    FileKeys(file).put("b", SecretStr("two"))
    assert set(json.loads(file.read_text())) == {"a", "b"}
    assert not file.with_suffix(".part").exists()


@pytest.mark.parametrize("content", [b"not JSON: secret", b"\xff\xfe secret", b'{"a": "secret"'])
def test_a_damaged_file_is_said_without_telling_what_is_in_it(tmp_path: Path, content: bytes) -> None:
    file = tmp_path / "keys.json"
    file.write_bytes(content)
    with pytest.raises(LibraryTrouble, match="cannot be read") as caught:
        FileKeys(file).get("a")
    assert "secret" not in str(caught.value)
    assert caught.value.__cause__ is None
    assert file.read_bytes() == content, "nothing is written over what could be mended"
    with pytest.raises(LibraryTrouble):
        FileKeys(file).put("a", SecretStr("new"))


def test_a_folder_that_cannot_be_written_is_said(tmp_path: Path) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("")
    with pytest.raises(LibraryTrouble, match="cannot be"):
        FileKeys(blocked / "keys.json").put("a", SecretStr("one"))


def test_a_key_does_not_show_in_what_is_printed(tmp_path: Path) -> None:
    keys = FileKeys(tmp_path / "keys.json")
    keys.put("a", SecretStr("not-to-be-seen"))
    got = keys.get("a")
    assert "not-to-be-seen" not in f"{got!r} {got} {vars(keys)} {os.environ}"


@given(some.dictionaries(some.text(min_size=1), some.text(min_size=1), max_size=6))
def test_any_key_comes_back_as_it_went_in(tmp_path_factory: pytest.TempPathFactory, known: dict[str, str]) -> None:
    keys = FileKeys(tmp_path_factory.mktemp("keys") / "keys.json")
    try:
        encoded = {name: key.encode() for name, key in known.items()}
    except UnicodeEncodeError:
        return
    for name, key in known.items():
        keys.put(name, SecretStr(key))
    assert {name: keys.get(name).get_secret_value().encode() for name in known} == encoded


class Ring(KeyringBackend):
    """A keyring in memory."""

    priority = 5

    def __init__(self) -> None:
        super().__init__()  # type: ignore[no-untyped-call]
        self.kept: dict[tuple[str, str], str] = {}
        self.locked = False

    def _kept(self) -> dict[tuple[str, str], str]:
        if self.locked:
            raise KeyringLocked("its secret words")
        return self.kept

    def get_password(self, service: str, username: str) -> str | None:
        return self._kept().get((service, username))

    def set_password(self, service: str, username: str, password: str) -> None:
        self._kept()[service, username] = password

    def delete_password(self, service: str, username: str) -> None:
        del self._kept()[service, username]


@pytest.fixture
def ring(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Ring:
    """The keyring of a system, whose user has a home of its own."""
    ring = Ring()
    monkeypatch.setenv("HOME", str(tmp_path))
    monkeypatch.setattr(keyring, "get_keyring", lambda: ring)
    return ring


def test_where_there_is_a_keyring_keys_are_in_it_and_in_no_file(ring: Ring, tmp_path: Path) -> None:
    keys = keys_of(None)
    keys.put("a", SecretStr("one"))
    keys.put("b", SecretStr("two"))
    assert keys_of(None).get("a").get_secret_value() == "one"
    keys.put("a", None)
    keys.put("never there", SecretStr(""))
    assert not keys.has("a")
    assert set(ring.kept.values()) == {"two"}
    assert not [each for each in tmp_path.rglob("*") if each.is_file()]


def test_a_key_that_was_in_the_file_before_is_found_and_leaves_it(ring: Ring, tmp_path: Path) -> None:
    file = FileKeys(tmp_path / ".config" / "keen-sweep" / "keys.json")
    file.put("a", SecretStr("old"))
    file.put("b", SecretStr("stays"))
    keys = keys_of(None)
    assert keys.get("a").get_secret_value() == "old"
    keys.put("a", SecretStr("new"))
    assert keys.get("a").get_secret_value() == "new"
    assert not file.has("a")
    keys.put("b", None)
    assert not keys.has("b")


def test_a_file_that_was_asked_for_and_a_system_without_keyring_keep_to_the_file(
    ring: Ring, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    keys_of(tmp_path / "mine.json").put("a", SecretStr("one"))
    assert json.loads((tmp_path / "mine.json").read_text()) == {"a": "one"}
    monkeypatch.setattr(keyring, "get_keyring", fail.Keyring)
    keys_of(None).put("b", SecretStr("two"))
    assert FileKeys(tmp_path / ".config" / "keen-sweep" / "keys.json").has("b")
    assert ring.kept == {}


def test_a_keyring_that_stays_locked_is_said_and_loses_nothing(ring: Ring) -> None:
    keys = keys_of(None)
    keys.put("a", SecretStr("one"))
    ring.locked = True
    for attempt in (lambda: keys.get("a"), lambda: keys.has("a"), lambda: keys.put("a", None)):
        with pytest.raises(LibraryTrouble, match="of this system cannot be opened") as caught:
            attempt()
        assert "secret words" not in str(caught.value)
    ring.locked = False
    assert keys.get("a").get_secret_value() == "one"
