"""What the user gave cannot be used; one line says why. Shared by the command line and the window's start."""


class Refused(Exception):
    """The message is one line; the exit code is 2."""
