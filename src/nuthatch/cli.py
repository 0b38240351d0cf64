"""The command line: `nuthatch [FILE]`, `nuthatch --demo`, `nuthatch check FILE`, `nuthatch homes DIR`, `nuthatch convert IN OUT`,
`nuthatch air-test READINGS`, `nuthatch detail DETAIL`, `nuthatch options HOME`, `nuthatch hours HOME`, `nuthatch verify DOSSIER`, `nuthatch install-desktop`. A contract: scripts depend on it."""

from __future__ import annotations

import argparse
import contextlib
import json
import os
import sys
from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

from nuthatch.core.files.disk import printable, read_file, why
from nuthatch.core.steps import PAGES, STEPS, TO_COME
from nuthatch.core.units import METRIC, SYSTEMS, use
from nuthatch.named_home import Refused, read_home

if TYPE_CHECKING:
    from nuthatch.core.climate.climate import Climate
    from nuthatch.core.model.home import Home

USAGE, OURS, NOT_WRITTEN, INTERRUPTED = 2, 70, 74, 130
CODES = """exit code, the first that applies:
  2    bad usage, or a file that cannot be read or written; one line on stderr says why
  1    some target is missed; for “air-test”: a line of its validity fails; for “detail”: not safe from mould; for “verify”: something differs
  3    some target, or line, cannot be known yet; for “detail”: its grid is not fine enough, or no surface is inside;
       for “verify”: something cannot be told
  0    all targets are met; for “homes”: the table was made, also where a row says that its file cannot be read; “air-test”: the test holds; “verify”: all of it agrees
  70   an error of ours
  74   the output could not be written (a closed pipe, a full disk): what was found is not told
  130  interrupted
with --json an error is one JSON object on stdout, {"error": "…"}, with the same code"""


class _NotWritten(Exception):
    """The output cannot be written."""


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise Refused(message)


def _parser(name: str, about: str) -> _Parser:
    return _Parser(prog=name, description=about, epilog=CODES, formatter_class=argparse.RawDescriptionHelpFormatter)


def _check_parser() -> argparse.ArgumentParser:
    parser = _parser("nuthatch check", "Compute a home without a window.")
    parser.add_argument("file", help="a .nuthatch file, or the name of a demo home")
    parser.add_argument("--json", action="store_true", help="print all results as one JSON object")
    parser.add_argument("--climate", metavar="FILE", help="a weather file (EPW, TMY3, PVGIS) to use instead of the home's own")
    parser.add_argument(
        "--dossier", metavar="OUT.pdf", help="write the dossier; .html, .xlsx and .json give a page, a spreadsheet, the lists"
    )
    parser.add_argument("--option", metavar="NAME", help="the home with one of its options on it")
    _units_option(parser)
    return parser


def _window_parser() -> argparse.ArgumentParser:
    parser = _parser(
        "nuthatch",
        "Check one home against low-energy targets. Also: nuthatch check FILE, nuthatch homes FOLDER, nuthatch convert IN OUT, nuthatch air-test READINGS, nuthatch detail DETAIL, nuthatch options HOME, nuthatch hours HOME, nuthatch verify DOSSIER.",
    )
    parser.add_argument("file", nargs="?", help="a .nuthatch file, or the name of a demo home")
    parser.add_argument("--demo", action="store_true", help="open the demo homes")
    parser.add_argument("--picture", metavar="OUT.png", help="write a picture of the window and end")
    parser.add_argument("--step", choices=(*PAGES, *STEPS, *TO_COME), default="cutaway")
    parser.add_argument("--dark", action="store_true")
    parser.add_argument("--units", choices=SYSTEMS, help="units to show")
    parser.add_argument("--size", default="1280x800", help=argparse.SUPPRESS)
    return parser


def _climate(home: Home, weather: bytes | None, override: str | None) -> Climate | None:
    from nuthatch.core.climate.climate import climate_from_bytes
    from nuthatch.core.climate.epw import WeatherFileError
    from nuthatch.core.climate.library import climate_for
    from nuthatch.core.files.homefile import LARGEST_WEATHER

    try:
        if override is None:
            return climate_for(home, weather)
        return climate_from_bytes(read_file(Path(override), LARGEST_WEATHER, "weather file"))
    except OSError as error:
        raise Refused(f"{override}: {why(error)}") from None
    except WeatherFileError as error:
        raise Refused(f"{override or 'weather file in the home file'}: {error}") from None


def check(arguments: list[str]) -> int:
    """Compute a home; print; exit code 0 all met, 1 some missed, 3 some unknown."""
    options = _check_parser().parse_args(arguments)
    from nuthatch.core.assess import assess
    from nuthatch.core.exchange.summary import EXIT, as_data, as_text
    from nuthatch.core.files.homefile import LARGEST_WEATHER
    from nuthatch.core.graph.runner import Stores
    from nuthatch.core.library import results_on_disk

    content, _ = read_home(options.file)
    climate = _climate(content.home, content.weather, options.climate)
    use(options.units)
    home = content.home
    if options.option:
        from nuthatch.core.options.applied import home_with
        from nuthatch.options_command import named

        home = home_with(home, named(home, options.file, options.option)[0])
    weather = content.weather
    if options.climate and climate is not None:  # what is worked out, and goes into a dossier, is the home with this weather
        from nuthatch.core.model.part import replace
        from nuthatch.core.model.site import ClimateRef

        weather = read_file(Path(options.climate), LARGEST_WEATHER, "weather file")
        home = replace(home, site=replace(home.site, climate=ClimateRef(name=climate.name, sha256=climate.sha256)))
    assessment = assess(home, climate, stores=Stores(slow=results_on_disk()))
    if options.dossier:
        from nuthatch.core.dossier.report import Made, letterhead, shown_files, write
        from nuthatch.core.files.homefile import HomeFileError
        from nuthatch.core.office import load_office

        try:
            files = shown_files(home, content.evidence.get)
            write(assessment, Path(options.dossier), Made(letterhead(load_office()[0]), files=files, weather=weather))
        except HomeFileError as problem:
            raise Refused(str(problem)) from None
    if options.json:
        _say(_json(as_data(assessment, by_hour=True)))
    else:
        _say("\n".join(printable(line) for line in as_text(assessment).split("\n")) + "\n")
    return EXIT[assessment.standing]


def _json(data: object) -> str:
    """One line of JSON; what is not printable, or not in the encoding of the output, is written as an escape."""
    text = json.dumps(data, ensure_ascii=not _is_utf8(), allow_nan=False)
    return "".join(c if c.isprintable() else json.dumps(c)[1:-1] for c in text) + "\n"


def _is_utf8() -> bool:
    return (getattr(sys.stdout, "encoding", "") or "").lower().replace("-", "") == "utf8"


def _say(text: str) -> None:
    """Write to stdout now, whole. Raises _NotWritten."""
    if sys.stdout is None:
        raise _NotWritten("it is closed")
    encoding = getattr(sys.stdout, "encoding", None) or "utf-8"
    data = text.encode(encoding, "backslashreplace")
    try:
        handle = sys.stdout.fileno()
    except (OSError, ValueError, AttributeError):  # no stream of the system, as in tests
        sys.stdout.write(data.decode(encoding))
        return
    try:
        sys.stdout.flush()
        while data:  # by hand: a stream that takes only a part of a large text does not always say so
            data = data[os.write(handle, data) :]
    except (OSError, ValueError) as error:
        raise _NotWritten(why(error) if isinstance(error, OSError) else str(error)) from None


def _homes_parser() -> argparse.ArgumentParser:
    parser = _parser("nuthatch homes", "List the homes of a folder with their standing.")
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
    from nuthatch.core.files.homefile import HomeFileError, put

    folders = [Path(f) for f in options.folder]
    for folder in folders:
        _must_be_there(folder)
    use(options.units)
    rows, unknown = register.of_folders(folders)
    fresh = {row.path: row for row in register.checked(unknown)}
    rows = [fresh.get(r.path, r) for r in rows]
    if options.xlsx:
        try:
            put(Path(options.xlsx), register.as_spreadsheet(rows))
        except HomeFileError as problem:
            raise Refused(str(problem)) from None
    if options.json:
        _say(_json(register.as_data(rows)))
    elif options.csv:
        _say(register.as_csv(rows))
    else:
        _say("".join(printable(line) + "\n" for line in _lines(rows)))
    return 0


def made_room(target: Path, replace: bool) -> None:
    """Raises Refused for a target that is there and is not to be written over, or that somebody has open."""
    from nuthatch.core.files.lock import locked_by

    try:
        there = target.exists()
    except OSError as error:
        raise Refused(f"{target}: {why(error)}") from None
    if not there:
        return
    if not target.is_file():
        raise Refused(f"{target}: this is no file that could be written")
    if not replace:
        raise Refused(f"{target}: this file is there already; --replace writes over it and keeps its last version beside it")
    held = locked_by(target)
    if held:
        raise Refused(f"{target}: it is open ({printable(held)}); close it first")


def convert(arguments: list[str]) -> int:
    """One file into another by their endings; exit code 0, 2 where one cannot be read or written."""
    parser = _parser("nuthatch convert", "Turn one file into another by their endings.")
    parser.add_argument("source", help=".nuthatch, .xml (gbXML), .ifc, .csv or .xlsx (faces)")
    parser.add_argument("target", help=".nuthatch, .xml (gbXML), .dxf, .svg, .csv or .xlsx (faces)")
    parser.add_argument("--replace", action="store_true", help="write over a target that is there; its last version is kept beside it")
    parser.add_argument("--building", default="", metavar="NAME", help="which building is read, where the source has several")
    options = parser.parse_args(arguments)
    from nuthatch.core.exchange import convert as making
    from nuthatch.core.files.homefile import HomeFileError, put
    from nuthatch.core.files.versions import keep_version

    try:
        source, target = Path(options.source), Path(options.target)
        made_room(target, options.replace)
        brought = making.brought_in(source, options.building) if source.suffix else making.Brought(read_home(options.source)[0])
        data = making.taken_out(brought.file, target)
        if target.exists():
            keep_version(target)
        put(target, data)
    except HomeFileError as problem:
        text = str(problem)
        named = any(text.startswith(str(p)) for p in (options.source, options.target))
        raise Refused(text if named else f"{options.target}: {text}") from None
    for words in brought.left_out:
        print(printable(f"left out: {words}"), file=sys.stderr)
    return 0


def air_test(arguments: list[str]) -> int:
    """Work a file of readings; exit code 0 the test holds, 1 a line of its validity fails, 3 one cannot be known."""
    parser = _parser("nuthatch air-test", "Work one air test from a file of readings, without a home (ISO 9972).")
    parser.add_argument("readings", help="a .csv or .json file, see docs/file-format.md")
    parser.add_argument("--json", action="store_true", help="print the result as one JSON object")
    parser.add_argument("--report", metavar="OUT.pdf", help="write the report; .html gives a page")
    _units_option(parser)
    options = parser.parse_args(arguments)
    from nuthatch.core.airtest import validity, worked
    from nuthatch.core.exchange import readings
    from nuthatch.core.files.homefile import HomeFileError
    from nuthatch.core.results.figure import CannotKnow
    from nuthatch.core.views.air import test_summary as summary

    try:
        test = readings.read(read_file(Path(options.readings), readings.MOST_BYTES, "file of readings"), options.readings)
        result = worked.worked(test)
    except OSError as error:
        raise Refused(f"{options.readings}: {why(error)}") from None
    except HomeFileError as problem:
        raise Refused(str(problem)) from None
    except CannotKnow as missing:
        raise Refused(f"{options.readings}: {missing} is wanted") from None
    use(options.units)
    if options.report:
        from nuthatch.core.dossier import air_test_report
        from nuthatch.core.dossier.report import letterhead
        from nuthatch.core.office import load_office

        try:
            air_test_report.write(test, result, Path(options.report), Path(options.readings).stem, letterhead(load_office()[0]))
        except HomeFileError as problem:
            raise Refused(str(problem)) from None
    if options.json:
        use(METRIC)
    rows = validity.lines(test, result)
    if options.json:
        _say(_json(summary.as_data(test, result, rows)))
    else:
        _say("".join(printable(line) + "\n" for line in summary.as_text(test, result, rows).splitlines()))
    return summary.code(rows)


def detail(arguments: list[str]) -> int:
    """Work one detail; exit code 0 mould-safe, 1 not, 3 its grid is not fine enough or no surface is inside."""
    parser = _parser("nuthatch detail", "Work one detail without a home: heat flow in two dimensions, ISO 10211.")
    parser.add_argument("detail", help="a .json file, see docs/file-format.md")
    parser.add_argument("--json", action="store_true", help="print the result as one JSON object")
    parser.add_argument("--picture", metavar="OUT.svg", help="write the section with its isotherms")
    _units_option(parser)
    options = parser.parse_args(arguments)
    from nuthatch.core.exchange import detail_files
    from nuthatch.core.files.homefile import HomeFileError, put
    from nuthatch.core.heatflow.section import SectionFault
    from nuthatch.core.heatflow.solved import solved
    from nuthatch.core.views.junctions import detail as seen

    try:
        section = detail_files.read(read_file(Path(options.detail), detail_files.LARGEST, "detail"), options.detail)
        result = solved(section)
        use(METRIC if options.json else options.units)
        if options.picture:
            put(_svg(options.picture), seen.as_svg(section, result))
    except OSError as error:
        raise Refused(f"{options.detail}: {why(error)}") from None
    except (HomeFileError, SectionFault) as problem:
        raise Refused(str(problem)) from None
    if options.json:
        _say(_json(seen.as_data(section.name, result)))
    else:
        _say("".join(printable(line) + "\n" for line in seen.as_text(section.name, result).splitlines()))
    return seen.code(result)


def _svg(name: str) -> Path:
    if not name.lower().endswith(".svg"):
        raise Refused(f"{name}: a picture of a detail is written as .svg")
    return Path(name)


def _must_be_there(folder: Path) -> None:
    try:
        if not folder.exists():
            raise Refused(f"{folder}: there is no such folder")
        if folder.is_dir():
            os.scandir(folder).close()
    except (OSError, ValueError) as error:
        raise Refused(f"{folder}: cannot be listed ({why(error) if isinstance(error, OSError) else error})") from None


def _lines(rows: Iterable[Any]) -> Iterable[str]:
    from nuthatch.core.register import STANDINGS

    for r in rows:
        yield f"{STANDINGS[r.standing]:14} {r.name or Path(r.path).stem:28} {r.margin or r.fault}  · {r.questions} open questions"


def _window(arguments: list[str]) -> int:
    options = _window_parser().parse_args(arguments)
    from nuthatch.desktop.app import run

    return run(options)


def _options(arguments: list[str]) -> int:
    """The options of a home; the exit code is that of the first, or of the one asked for."""
    from nuthatch.options_command import asks, worked

    parser = _parser("nuthatch options", "The options of a home: their ladders, and what closes a gap.")
    asks(parser)
    _units_option(parser)
    given = parser.parse_args(arguments)
    content, _ = read_home(given.file)
    use(METRIC if given.json else given.units)
    found, code = worked(content.home, _climate(content.home, content.weather, given.climate), given)
    _say("".join(printable(line) + "\n" for line in found.splitlines()) if isinstance(found, str) else _json(found))
    return code


def _hours(arguments: list[str]) -> int:
    """The hours of a home's year; exit code 3 where they cannot be worked out yet."""
    from nuthatch.hours_command import asks, worked

    parser = _parser("nuthatch hours", "The hourly year of a home: its needs, its summer, every hour as a table.")
    asks(parser)
    given = parser.parse_args(arguments)
    content, _ = read_home(given.file)
    found, code = worked(content.home, _climate(content.home, content.weather, given.climate), given)
    _say("".join(printable(line) + "\n" for line in found.splitlines()) if isinstance(found, str) else _json(found))
    return code


def _verify(arguments: list[str]) -> int:
    """A dossier worked out anew from the home inside it; exit code 0 all agrees, 1 something differs, 3 something cannot be told."""
    from nuthatch.verify_command import asks, worked

    parser = _parser("nuthatch verify", "Check a dossier: take out its home, work everything out anew, say line by line what agrees.")
    asks(parser)
    given = parser.parse_args(arguments)
    use(METRIC)
    found, code = worked(given)
    _say("".join(printable(line) + "\n" for line in found.splitlines()) if isinstance(found, str) else _json(found))
    return code


def _install_desktop(arguments: list[str]) -> int:
    """Starter, icon and file type for the desktop of this user."""
    from nuthatch.desktop_entry import install

    parser = _parser("nuthatch install-desktop", "Put Nuthatch among the programs of your desktop, and open .nuthatch files with it.")
    parser.add_argument("--remove", action="store_true", help="take it away again")
    try:
        paths = install(parser.parse_args(arguments).remove)
    except OSError as error:
        raise Refused(f"{error.filename}: {why(error)}") from None
    _say("".join(f"{printable(str(path))}\n" for path in paths))
    return 0


def main(arguments: list[str] | None = None) -> int:
    """Entry point. Returns the exit code."""
    given = sys.argv[1:] if arguments is None else arguments
    commands = {
        "check": check,
        "homes": homes,
        "convert": convert,
        "air-test": air_test,
        "detail": detail,
        "options": _options,
        "hours": _hours,
        "verify": _verify,
        "install-desktop": _install_desktop,
    }
    try:
        return commands[given[0]](given[1:]) if given and given[0] in commands else _window(given)
    except Refused as reason:
        return _failed(USAGE, str(reason), given)
    except _NotWritten as reason:
        return _failed(NOT_WRITTEN, f"the output could not be written ({reason})", [])
    except KeyboardInterrupt:
        return _failed(INTERRUPTED, "interrupted", given)
    except Exception as error:
        return _failed(OURS, f"an error of ours, please report it: {type(error).__name__}: {error}", given)


def _failed(code: int, reason: str, given: list[str]) -> int:
    """One line on stderr, and one JSON object on stdout where JSON was asked for."""
    line = printable((reason.splitlines() or [""])[0])
    try:
        if "--json" in given:
            _say(_json({"error": line}))
    except _NotWritten:
        code = NOT_WRITTEN
    with contextlib.suppress(OSError, ValueError):
        print(f"nuthatch: {line}".encode("utf-8", "backslashreplace").decode(), file=sys.stderr)
    if code == NOT_WRITTEN:  # else the interpreter tries again at the end, and says so at length
        _let_go_of_output()
    return code


def _let_go_of_output() -> None:
    try:
        nowhere = os.open(os.devnull, os.O_WRONLY)
        if sys.stdout is not None:
            os.dup2(nowhere, sys.stdout.fileno())
        os.close(nowhere)
    except (OSError, ValueError):
        pass


if __name__ == "__main__":
    sys.exit(main())
