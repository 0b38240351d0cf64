"""Declared stages: what each reads, what it gives, whether it is slow; and the runner."""
