"""What `nuthatch verify DOSSIER.pdf|HOME` works out: whether a dossier is what its home gives, or a home what was issued of it."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from pathlib import Path

from nuthatch.named_home import Refused, read_home


def asks(parser: ArgumentParser) -> None:
    """What the command is told."""
    parser.add_argument("file", help="a dossier (.pdf), or a home: then against the last revision issued of it")
    parser.add_argument("--against", metavar="HOME", help="a home to hold beside the one inside the dossier")
    parser.add_argument("--json", action="store_true", help="print the lines as one JSON object")


def worked(given: Namespace) -> tuple[dict[str, object] | str, int]:
    """The lines as data or text, and the exit code: 0 all agrees, 1 something differs, 3 something cannot be told."""
    from nuthatch.core.dossier.verify import read_pdf, verify, verify_home
    from nuthatch.core.files.homefile import HomeFileError

    try:
        if Path(given.file).suffix.lower() == ".pdf":
            other = read_home(given.against)[0] if given.against else None
            found = verify(read_pdf(Path(given.file)), Path(given.file).name, other)
        else:
            if given.against:
                raise Refused(f"{given.file}: only a dossier (.pdf) is held beside a home")
            found = verify_home(read_home(given.file)[0], given.file)
    except HomeFileError as problem:
        raise Refused(f"{given.file}: {problem}") from None
    return (found.as_data() if given.json else "\n".join(found.as_text())), found.code
