"""Kernels that an earlier version compiled do not stop a later one."""

from pathlib import Path

import pytest

from keen_sweep.cli import setup
from keen_sweep.document import warm
from keen_sweep.install import kernels, once


def test_compiled_kernels_are_dropped_and_nothing_else(tmp_path: Path) -> None:
    cache = tmp_path / "methods" / "__pycache__"
    cache.mkdir(parents=True)
    for name in ("search-88.py311.nbi", "search-88.py311.1.nbc", "patchmatch.cpython-311.pyc"):
        (cache / name).touch()
    assert kernels.drop_kernels(tmp_path) == 2
    assert [each.name for each in cache.iterdir()] == ["patchmatch.cpython-311.pyc"]
    assert kernels.drop_kernels(tmp_path) == 0


@pytest.mark.parametrize("error", [AttributeError("Can't get attribute 'Setting'"), ImportError("no such module")])
def test_kernels_that_cannot_be_read_are_compiled_anew(
    error: Exception, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    done: list[str] = []

    def compiled(_say: object) -> None:
        done.append("compiled")
        if "dropped" not in done:
            raise error

    monkeypatch.setattr(warm, "warm", compiled)
    monkeypatch.setattr(kernels, "drop_kernels", lambda: done.append("dropped"))
    monkeypatch.setattr(once, "INSTALL_FOLDER", tmp_path)
    setup.warm()
    assert done == ["compiled", "dropped", "compiled"]
    assert once.done(setup.KERNELS_MARK)
