"""Start the application on an address."""

from __future__ import annotations

import uvicorn

from keen_sweep.api.app import make_app
from keen_sweep.api.passphrase import Passphrase
from keen_sweep.store.library import Library


def serve(library: Library, host: str, port: int, cluster: str | None = None, passphrase: str | None = None) -> None:
    """Serve a library until interrupted; open event streams do not hold up the end. cluster: see make_app; passphrase:
    the words that everybody has to say first."""
    asked = Passphrase(passphrase) if passphrase else None
    app = make_app(library, hosts={host}, cluster=cluster, passphrase=asked)
    uvicorn.run(app, host=host, port=port, log_level="warning", timeout_graceful_shutdown=2)
