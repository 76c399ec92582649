"""Whether a library is whole after it was disturbed."""

import hashlib

from keen_sweep.store.check import check
from keen_sweep.store.library import Library
from tests.support.application import Application
from tests.support.journey import Journey


def look_whole(served: Application, journey: Journey) -> None:
    """Ends the server and looks whether the library is whole, with nothing half written and originals as they were."""
    served.stop()
    library = Library(served.library)
    library.claim()
    report = check(library)
    assert not report.lost, report
    assert not [each for each in report.leftovers if each.parent != library.incoming]
    assert library.files.read(hashlib.sha256(journey.original).hexdigest()) == journey.original
    library.close()
    # Whatever comes next finds it served: tests run in any order.
    served.start()
