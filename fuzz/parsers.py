"""Look for files that a parser cannot say no to, led by what code they reach (atheris, the extra "fuzz").

    python fuzz/parsers.py "pictures" -max_total_time=600

The first word is one of tests/floods/parsers.py; all others are libFuzzer's. What was found lies beside as crash-*, and
belongs into the tests once it is mended.
"""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

import atheris

sys.path.insert(0, str(Path(__file__).parents[1]))
# Compiled kernels cannot be watched, and nothing of them is tried here.
os.environ.setdefault("NUMBA_DISABLE_JIT", "1")
with atheris.instrument_imports(include=["keen_sweep", "tifffile", "numpy.lib", "zipfile"]):
    from tests.support.parsers import parsers


def main() -> None:
    name, *words = sys.argv[1:]
    parser = parsers()[name]

    def once(data: bytes) -> None:
        try:
            parser.parse(data)
        except parser.refusals:
            return

    with tempfile.TemporaryDirectory() as folder:
        for number, given in enumerate(parser.given):
            (Path(folder) / str(number)).write_bytes(given)
        atheris.Setup([sys.argv[0], "-rss_limit_mb=4096", "-max_len=8192", *words, folder], once)
        atheris.Fuzz()


if __name__ == "__main__":
    main()
