"""The practice gauge as a program of its own, at the other end of a network: `python -m nuthatch.standins.gauge`.

It speaks the lines of docs/gauge-lines.md, always says that it is simulated, and lets time pass as on site, or faster. What befalls a gauge on
site can be played: a tube off, no answers, a clock that begins again.
"""

from __future__ import annotations

import argparse
import json
import socketserver
import sys
import threading
import time
from dataclasses import replace
from pathlib import Path

from nuthatch.core.airtest.instrument import LONGEST_LINE
from nuthatch.core.airtest.of_home import rings_of
from nuthatch.core.library import fans
from nuthatch.standins.practice_gauge import PracticeGauge, PracticeHouse

PLAYS = ("TUBE OFF", "TUBE ON", "CLOCK 0")


class Serving:
    """One practice gauge, asked by whoever is connected; time passes between the questions."""

    def __init__(self, gauge: PracticeGauge, speed: float = 1.0, held: bool = True) -> None:
        self.gauge, self.speed, self.held = gauge, speed, held
        self._lock = threading.Lock()
        self._then = time.monotonic()

    def answer(self, line: str) -> str:
        """The answer to a line, after the time that has passed."""
        with self._lock:
            now = time.monotonic()
            passed, self._then = (now - self._then) * self.speed, now
            while passed > 0:
                self.gauge.advance(min(passed, 0.25))
                passed -= 0.25
            return self._played(line.strip()) or self._driven(line.strip())

    def _driven(self, line: str) -> str:
        if line == "WHO":
            return f"WHO 1 simulated=yes fan={'held' if self.held else 'hand'} name=Practice gauge"
        return self.gauge.ask(line)

    def _played(self, line: str) -> str:
        """What befalls it, for tests and lessons; '' for other lines. HAND -50: a person turns the fan until it holds about that."""
        if line in ("TUBE OFF", "TUBE ON"):
            self.gauge.tube = line == "TUBE ON"
        elif line == "CLOCK 0":
            self.gauge.seconds = 0.0
        elif line.startswith("HAND ") and not self.held:
            return self.gauge.ask(f"AIM {line[5:]}")
        else:
            return ""
        return "OK"


class _Handler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        serving: Serving = self.server.serving  # type: ignore[attr-defined]
        while True:
            try:
                line = self.rfile.readline(LONGEST_LINE)
                if not line:
                    return
                self.wfile.write(f"{serving.answer(line.decode('utf-8', 'replace'))}\n".encode())
            except OSError:
                return


class Server(socketserver.ThreadingTCPServer):
    """Answers lines over TCP."""

    allow_reuse_address, daemon_threads = True, True

    def __init__(self, address: tuple[str, int], serving: Serving) -> None:
        super().__init__(address, _Handler)
        self.serving = serving


def house_of(args: argparse.Namespace) -> PracticeHouse:
    """The simulated house, as asked for."""
    said = json.loads(Path(args.house).read_text(encoding="utf-8")) if args.house else {}
    wanted = {
        n: v
        for n, v in (("coefficient", args.coefficient), ("exponent", args.exponent), ("wind", args.wind), ("seed", args.seed))
        if v is not None
    }
    return replace(PracticeHouse(), **said, **wanted)


def main(argv: list[str] | None = None) -> int:
    """Serve until it is stopped."""
    parser = argparse.ArgumentParser(prog="python -m nuthatch.standins.gauge", description="A practice gauge that answers over TCP.")
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--port", type=int, default=7171, help="0: any that is free; it is printed")
    parser.add_argument("--speed", type=float, default=1.0, help="how fast time passes")
    parser.add_argument("--by-hand", action="store_true", help="the fan is turned by hand")
    parser.add_argument("--coefficient", type=float, help="C_L of the house [m³/(h·Paⁿ)]")
    parser.add_argument("--exponent", type=float)
    parser.add_argument("--wind", type=float, help="size of the gusts at the gauge [Pa]")
    parser.add_argument("--seed", type=int)
    parser.add_argument("--house", help="a JSON file with the fields of the simulated house")
    args = parser.parse_args(argv)
    rings = rings_of(fans()[0])
    serving = Serving(PracticeGauge(house_of(args), rings), args.speed, not args.by_hand)
    with Server((args.host, args.port), serving) as server:
        print(f"practice gauge at {args.host}:{server.server_address[1]}", flush=True)
        try:
            server.serve_forever(poll_interval=0.1)
        except KeyboardInterrupt:
            return 0
    return 0


if __name__ == "__main__":
    sys.exit(main())
