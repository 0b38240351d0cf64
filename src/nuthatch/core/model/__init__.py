"""The home as an immutable value."""
