"""A shelf that keeps what it is given, as the library does."""

import hashlib

from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.document.mark import drawing_from_bytes
from keen_sweep.document.shelf import InMemory


class Keeping(InMemory):
    """Files by their hash; drawings are read from them."""

    def keep(self, data: bytes) -> str:
        name = hashlib.sha256(data).hexdigest()
        self.files[name] = data  # type: ignore[index]
        return name

    def drawing(self, name: str) -> Stroke | Outline:
        return drawing_from_bytes(self.files[name])
