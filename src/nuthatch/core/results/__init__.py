"""Results: known with their working, unknown with what is missing, or still computing."""
