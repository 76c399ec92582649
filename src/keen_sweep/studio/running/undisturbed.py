"""Imported first by the process that workers are forked from: Ctrl+C at a shell reaches it and them as well, and is for
the server alone, which ends them."""

import signal

signal.signal(signal.SIGINT, signal.SIG_IGN)
