"""The command line as a shell uses it: what it printed, what it said, how it ended."""

from __future__ import annotations

import io
import os
import subprocess
import sys
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from unittest.mock import patch

from keen_sweep.cli import main
from keen_sweep.core.scout.networks import weights

PROGRAM = Path(sys.executable).with_name("keen-sweep")
Done = subprocess.CompletedProcess[str]


def keen_sweep(*words: object, env: dict[str, str] | None = None) -> Done:
    """Run a command in this process: what it needs is loaded once for all of them."""
    command, printed, said = [str(PROGRAM), *map(str, words)], io.StringIO(), io.StringIO()
    place = weights.folder()
    with patch.object(sys, "argv", command), patch.dict(os.environ, env or {}):
        try:
            with redirect_stdout(printed), redirect_stderr(said):
                main()
            code = 0
        except SystemExit as ended:
            code = ended.code if isinstance(ended.code, int) else 0
        finally:
            weights.use_folder(place)
    return subprocess.CompletedProcess(command, code, printed.getvalue(), said.getvalue())


def keen_sweep_apart(*words: object, env: dict[str, str] | None = None) -> Done:
    """Run the program itself, in a process of its own."""
    command, here = [str(PROGRAM), *map(str, words)], {**os.environ, **(env or {})}
    return subprocess.run(command, check=False, capture_output=True, text=True, timeout=240, env=here)
