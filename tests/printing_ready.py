"""Read by the server of worker processes in tests: what the first page of a dossier would read."""

from nuthatch.core.dossier.in_worker import warm

warm()
