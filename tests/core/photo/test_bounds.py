"""Files that are small and ask for much are refused before anything is unpacked; memory is measured from outside."""

import struct
import subprocess
import sys
import zlib
from pathlib import Path

import imagecodecs
import numpy as np
import pytest

from keen_sweep.core.errors import BadPicture
from keen_sweep.core.photo.bounds import (
    GIGABYTE_BYTES,
    MAX_METADATA_BYTES,
    PICTURE_COPIES,
    check_bounds,
    decompress,
    machine_memory,
)
from keen_sweep.core.photo.read import read_picture

pytestmark = pytest.mark.slow

# Of zeros, packed: some two megabytes.
HUGE = 2 * 10**9
# Reads a file and says what came of it, and the most memory that this took beyond what an ordinary file did, MB.
READ = """
import resource, sys
from pathlib import Path
from keen_sweep.core.errors import BadPicture
from keen_sweep.core.photo.read import read_picture
read_picture(Path(sys.argv[1]))
before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
try:
    read_picture(Path(sys.argv[2]))
    said = "read"
except BadPicture as error:
    said = str(error)
print((resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) // 1024, said)
"""


def packed(size: int) -> bytes:
    packer, block = zlib.compressobj(9), bytes(10**6)
    return b"".join(packer.compress(block) for _ in range(size // len(block))) + packer.flush()


def chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))


def png(*more: bytes) -> bytes:
    data = bytes(imagecodecs.png_encode(np.full((16, 16, 3), 90, np.uint8)))
    return data[:33] + b"".join(more) + data[33:]


def tiff(strip: bytes, width: int = 16, height: int = 16, samples: int = 1) -> bytes:
    """A deflated TIFF of one strip, little endian."""
    shorts = {256: width, 257: height, 258: 8, 259: 8, 262: 1, 277: samples, 278: height}
    longs = {273: 8, 279: len(strip)}
    rows = [(tag, struct.pack("<HHIHH", tag, 3, 1, value, 0)) for tag, value in shorts.items()]
    rows += [(tag, struct.pack("<HHII", tag, 4, 1, value)) for tag, value in longs.items()]
    at = 8 + len(strip) + len(strip) % 2
    directory = struct.pack("<H", len(rows)) + b"".join(row for _, row in sorted(rows)) + bytes(4)
    return struct.pack("<2sHI", b"II", 42, at) + strip.ljust(at - 8, b"\0") + directory


@pytest.fixture(scope="module")
def bombs() -> dict[str, tuple[bytes, str]]:
    full = packed(HUGE)
    small = zlib.compress(bytes(256))
    return {
        "profile.png": (png(chunk(b"iCCP", b"x\0\0" + full)), "64 MB"),
        "text.png": (png(chunk(b"zTXt", b"Comment\0\0" + full)), "damaged"),
        "pixels.png": (png()[:33] + chunk(b"IDAT", full) + chunk(b"IEND", b""), "damaged|read"),
        "strip.tif": (tiff(full), "damaged|read"),
        "samples.tif": (tiff(small, 60_000, 6_000, 65_535), "memory"),
    }


@pytest.mark.parametrize("name", ["profile.png", "text.png", "pixels.png", "strip.tif", "samples.tif"])
def test_a_small_file_never_takes_much_memory(tmp_path: Path, bombs: dict[str, tuple[bytes, str]], name: str) -> None:
    data, words = bombs[name]
    file, usual = tmp_path / name, tmp_path / f"usual{name[-4:]}"
    file.write_bytes(data)
    usual.write_bytes(png() if name.endswith("png") else tiff(zlib.compress(bytes(256))))
    done = subprocess.run(
        [sys.executable, "-c", READ, str(usual), str(file)], capture_output=True, text=True, check=True
    )
    took, said = done.stdout.split(" ", 1)
    assert int(took) < 150, done.stdout
    assert any(word in said for word in words.split("|")), said


def test_a_picture_larger_than_the_memory_says_how_large_it_is() -> None:
    check_bounds(6_000, 4_000, 6, memory=PICTURE_COPIES * 6_000 * 4_000 * 6)
    with pytest.raises(BadPicture, match=r"needs 0\.4 GB, there are 0\.4 GB"):
        check_bounds(6_000, 4_001, 6, memory=PICTURE_COPIES * 6_000 * 4_000 * 6)
    assert machine_memory() > GIGABYTE_BYTES / 2


def test_what_is_packed_is_unpacked_whole_or_not_at_all() -> None:
    assert decompress(zlib.compress(b"profile")) == b"profile"
    assert len(decompress(packed(MAX_METADATA_BYTES))) == MAX_METADATA_BYTES
    for data in (packed(MAX_METADATA_BYTES + 10**6), zlib.compress(b"profile" * 99)[:-6], b"no such thing"):
        with pytest.raises(BadPicture):
            decompress(data)


def test_a_large_profile_is_kept(tmp_path: Path) -> None:
    profile = np.random.default_rng(1).bytes(3_000_000)
    (tmp_path / "printer.png").write_bytes(png(chunk(b"iCCP", b"x\0\0" + zlib.compress(profile))))
    assert read_picture(tmp_path / "printer.png").metadata.icc == profile
