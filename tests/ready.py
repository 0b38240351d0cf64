"""What the server of worker processes reads before the first is asked for, in tests: many windows print a dossier each."""

from __future__ import annotations

from nuthatch.core.workers import CONTEXT, WARM

PRINTING = ("matplotlib.backends.backend_svg", "nuthatch.core.views.charts", "nuthatch.core.dossier.in_worker", "tests.printing_ready")


def for_tests() -> None:
    """The libraries that set pages are read once, not by each window's worker; to be called before a worker is started."""
    CONTEXT.set_forkserver_preload([*WARM, *PRINTING])
