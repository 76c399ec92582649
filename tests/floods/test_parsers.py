"""Files that are damaged at random are refused in words, whatever reads them: never another error, never a hang.

A short run; KEEN_SWEEP_FLOOD says how many damaged files of each kind a long one has (make flood).
"""

import os

import numpy as np
import pytest

from tests.support.parsers import Parser, parsers

pytestmark = pytest.mark.slow

FLOOD = int(os.environ.get("KEEN_SWEEP_FLOOD", "60"))
PARSERS = tuple(parsers())
# Numbers that headers are afraid of.
EXTREMES = (0, 1, 0x7F, 0x80, 0xFF, 0xFFFF, 0x7FFFFFFF, 0xFFFFFFFF)


def damaged(data: bytes, random: np.random.Generator) -> bytes:
    """What a bad disk, line or will makes of a file: bits flipped, bytes set, a part lost, doubled or moved."""
    out = bytearray(data)
    for _ in range(int(random.integers(1, 5))):
        if not out:
            break
        # Most of what matters is near the beginning.
        at = int(len(out) * random.random() ** 2)
        length = int(random.integers(1, max(2, min(64, len(out)))))
        match int(random.integers(6)):
            case 0:
                out[at] ^= 1 << int(random.integers(8))
            case 1:
                size = int(random.choice([1, 2, 4]))
                value = int(random.choice(EXTREMES)) & ((1 << 8 * size) - 1)
                out[at : at + size] = value.to_bytes(size, "little" if random.random() < 0.5 else "big")
            case 2:
                out[at : at + length] = random.bytes(length)
            case 3:
                del out[at : at + length]
            case 4:
                out[at:at] = out[at : at + length]
            case _:
                del out[at:]
    return bytes(out)


def tried(parser: Parser, data: bytes) -> None:
    try:
        parser.parse(data)
    except parser.refusals:
        return


@pytest.mark.parametrize("name", PARSERS)
def test_good_files_are_read(name: str) -> None:
    parser = parsers()[name]
    for data in parser.given:
        parser.parse(data)


@pytest.mark.parametrize("name", PARSERS)
def test_damaged_files_are_refused_in_words(name: str) -> None:
    parser, random = parsers()[name], np.random.default_rng(11)
    for number in range(FLOOD):
        data = damaged(parser.given[number % len(parser.given)], random)
        try:
            tried(parser, data)
        except Exception as error:
            raise AssertionError(f"file {number}: {type(error).__name__}: {error}\n{data[:400]!r}") from error


@pytest.mark.parametrize("name", PARSERS)
def test_what_is_no_such_file_at_all(name: str) -> None:
    parser, random = parsers()[name], np.random.default_rng(12)
    for data in (b"", b"\0", b"\0" * 5_000, b"[" * 100_000, b'{"a":' * 20_000, random.bytes(3_000), b"PK\x03\x04" * 50):
        tried(parser, data)
