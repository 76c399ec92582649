"""Names of shoots and pictures: how they are kept, and in which order they stand."""

from __future__ import annotations

import unicodedata

from natsort import natsort_keygen, ns

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence

# A sort key under which frame 9 comes before frame 10, and a folder's pictures before those of the next.
natural = natsort_keygen(alg=ns.IGNORECASE | ns.PATH)


def named(name: str, what: str) -> str:
    """A name without control characters. Raises BadRequest when nothing is left; what: whose name it is."""
    kept = "".join(c for c in name if unicodedata.category(c)[0] != "C").strip()
    if not kept:
        raise BadRequest(sentence("A {what} needs a name.", what=what))
    return kept[:200]
