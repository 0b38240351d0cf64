"""Nuthatch: one home, its envelope, air, water and energy, against its targets."""

__version__ = "0.2.0"
