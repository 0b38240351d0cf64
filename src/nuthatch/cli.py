"""The command line: `nuthatch [FILE]`, `nuthatch --demo`, `nuthatch check FILE`, `nuthatch homes DIR`. A contract: scripts depend on it."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import NoReturn

from nuthatch.core.steps import PAGES, STEPS, TO_COME
from nuthatch.core.units import METRIC, SYSTEMS, use
from nuthatch.refused import Refused

USAGE, OURS = 2, 70


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise Refused(message)


def _check_parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="nuthatch check", description="Compute a home without a window.")
    parser.add_argument("file", help="a .nuthatch file, or the name of a demo home")
    parser.add_argument("--json", action="store_true", help="print all results as one JSON object")
    parser.add_argument("--climate", metavar="FILE", help="an EPW weather file to use instead of the home's own")
    parser.add_argument("--dossier", metavar="OUT.pdf", help="write the dossier; .html and .xlsx give a page and a spreadsheet")
    _units_option(parser)
    return parser


def _window_parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="nuthatch", description="Check one home against low-energy targets.")
    parser.add_argument("file", nargs="?", help="a .nuthatch file, or the name of a demo home")
    parser.add_argument("--demo", action="store_true", help="open the demo homes")
    parser.add_argument("--picture", metavar="OUT.png", help="write a picture of the window and end")
    parser.add_argument("--step", choices=(*PAGES, *STEPS, *TO_COME), default="cutaway")
    parser.add_argument("--dark", action="store_true")
    parser.add_argument("--units", choices=SYSTEMS, help="units to show")
    parser.add_argument("--size", default="1280x800", help=argparse.SUPPRESS)
    return parser


def read_home(name: str):  # type: ignore[no-untyped-def]
    """(home, weather bytes or None, evidence) of a file or a demo name. Raises Refused."""
    from nuthatch.core.exchange.homefile import HomeFileError, read
    from nuthatch.core.library import DEMO, demo_home

    if name in DEMO and not Path(name).exists():
        return demo_home(name), None, {}
    try:
        content = read(Path(name))
    except HomeFileError as error:
        raise Refused(str(error)) from None
    return content.home, content.weather, content.evidence


def _climate(home, weather, override):  # type: ignore[no-untyped-def]
    from nuthatch.core.climate.climate import climate_from_bytes
    from nuthatch.core.climate.epw import WeatherFileError
    from nuthatch.core.library import cache_folder, climate_for

    try:
        if override is None:
            return climate_for(home, weather)
        return climate_from_bytes(Path(override).read_bytes(), cache_folder())
    except OSError as error:
        raise Refused(f"{override}: {error.strerror}") from None
    except WeatherFileError as error:
        raise Refused(f"{override or 'weather file in the home file'}: {error}") from None


def check(arguments: list[str]) -> int:
    """Compute a home; print; exit code 0 all met, 1 some missed, 3 some unknown."""
    options = _check_parser().parse_args(arguments)
    from nuthatch.core.assess import assess
    from nuthatch.core.summary import EXIT, as_data, as_text

    home, weather, _ = read_home(options.file)
    climate = _climate(home, weather, options.climate)
    use(options.units)
    assessment = assess(home, climate)
    if climate is not None:
        climate.keep()
    if options.dossier:
        from nuthatch.core.dossier.report import letterhead, write
        from nuthatch.core.exchange.homefile import HomeFileError
        from nuthatch.core.office import load_office

        try:
            write(assessment, Path(options.dossier), letterhead(load_office()[0]))
        except HomeFileError as problem:
            raise Refused(str(problem)) from None
    if options.json:
        print(json.dumps(as_data(assessment), ensure_ascii=False, allow_nan=False))
    else:
        print(as_text(assessment))
    return EXIT[assessment.standing]


def _homes_parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="nuthatch homes", description="List the homes of a folder with their standing.")
    parser.add_argument("folder", nargs="+", help="folders with home files, or home files")
    form = parser.add_mutually_exclusive_group()
    form.add_argument("--json", action="store_true", help="print a JSON list")
    form.add_argument("--csv", action="store_true", help="print CSV")
    parser.add_argument("--xlsx", metavar="OUT.xlsx", help="write a spreadsheet")
    _units_option(parser)
    return parser


def _units_option(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--units", choices=SYSTEMS, default=METRIC, help="units of texts and the dossier; JSON is always metric")


def homes(arguments: list[str]) -> int:
    """List the homes of folders; exit code 0, also where a file cannot be read: its row says so."""
    options = _homes_parser().parse_args(arguments)
    from nuthatch.core import register
    from nuthatch.core.exchange.homefile import HomeFileError, put

    folders = [Path(f) for f in options.folder]
    for folder in folders:
        if not folder.exists():
            raise Refused(f"{folder}: there is no such folder")
    use(options.units)
    rows, unknown = register.listed(register.files(folders))
    fresh = {row.path: row for row in register.checked(unknown)}
    rows = [fresh.get(r.path, r) for r in rows]
    if options.xlsx:
        try:
            put(Path(options.xlsx), register.as_spreadsheet(rows))
        except HomeFileError as problem:
            raise Refused(str(problem)) from None
    if options.json:
        print(json.dumps(register.as_data(rows), ensure_ascii=False, allow_nan=False))
    elif options.csv:
        print(register.as_csv(rows), end="")
    else:
        for r in rows:
            print(
                f"{register.STANDINGS[r.standing]:14} {r.name or Path(r.path).stem:28} {r.margin or r.fault}  · {r.questions} open questions"
            )
    return 0


def _window(arguments: list[str]) -> int:
    options = _window_parser().parse_args(arguments)
    from nuthatch.desktop.app import run

    return run(options)


def main(arguments: list[str] | None = None) -> int:
    """Entry point. Returns the exit code."""
    given = sys.argv[1:] if arguments is None else arguments
    try:
        commands = {"check": check, "homes": homes}
        return commands[given[0]](given[1:]) if given and given[0] in commands else _window(given)
    except Refused as reason:
        print(f"nuthatch: {str(reason).splitlines()[0]}", file=sys.stderr)
        return USAGE
    except BrokenPipeError:
        return 0
    except Exception as error:
        print(f"nuthatch: an error of ours, please report it: {type(error).__name__}: {error}", file=sys.stderr)
        return OURS


if __name__ == "__main__":
    sys.exit(main())
