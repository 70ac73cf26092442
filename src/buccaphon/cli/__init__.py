"""The command line: one subcommand a file."""

from __future__ import annotations

import os

# Our own threads share the work; a second layer of threads inside the matrix library only gets in their way.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from buccaphon.cli.main import main

__all__ = ["main"]
