"""What carries a running test to its gauge and back: the practice gauge in this program, or lines over a network or a serial port.

Nothing here blocks: a line goes out, its answer comes or a clock says that it does not. A contact that is lost is sought again; whatever
the fan was last to do is told again first, so that a fan that was to stop does stop.
"""

from __future__ import annotations

import contextlib
from collections import deque
from collections.abc import Callable

from PyQt6.QtCore import QIODevice, QObject, QTimer, pyqtSignal
from PyQt6.QtNetwork import QAbstractSocket, QTcpSocket
from PyQt6.QtSerialPort import QSerialPort, QSerialPortInfo

from nuthatch.core.airtest.instrument import LONGEST_LINE, Gauge, NoAnswer, Who, aim_line, reading_of, ring_line, taken, who_of
from nuthatch.standins.practice_gauge import PracticeGauge

TICK_MS, STEP = 250, 0.25
"""The gauge is read so often; a practice gauge that runs faster passes this many seconds a reading."""
PATIENCE_MS, AGAIN_MS, GOODBYE_MS = 1500, 2000, 300
"""How long an answer is waited for; how long until a lost contact is sought again; how long the last “fan off” may take."""
PORT, BAUD = 7171, 115_200
"""Where a gauge listens in a network, and how fast a serial one speaks, where nothing else is said."""


class Link(QObject):
    """A gauge at the other end. `sampled(Sample)`, `lost(words)`, `found(Who)` with the first contact and every new one, `refused(words)`
    where a line was answered by NO."""

    sampled = pyqtSignal(object)
    lost = pyqtSignal(str)
    found = pyqtSignal(object)
    refused = pyqtSignal(str)
    read = pyqtSignal()

    who: Who | None = None
    away: str = ""
    """Why there is no contact; '' where there is, or where it shows by itself."""

    def start(self) -> None:
        """Begin to read."""

    def aim(self, pressure: float) -> None:
        """Hold a pressure inside over outside [Pa]; 0 stops the fan."""

    def ring(self, name: str) -> None:
        """Say which ring is on the fan; '' covers it."""

    def close(self) -> str:
        """Stop the fan and let go of the gauge; what could not be done, in words."""
        return ""

    @property
    def reading(self) -> bool:
        """Whether it reads."""
        return False


class PracticeLink(Link):
    """The practice gauge in this program: time passes as fast as is wanted, and rings are put on by themselves."""

    who = Who(simulated=True, held=True, name="practice gauge")

    def __init__(self, practice: PracticeGauge, speed: int = 1, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.practice, self.speed = practice, speed
        self.gauge = Gauge(practice)
        self.over = False
        self.timer = QTimer(self)
        self.timer.setInterval(TICK_MS)
        self.timer.timeout.connect(self.tick)

    def start(self) -> None:
        self.over = False
        self.timer.start()
        self.tick()

    @property
    def reading(self) -> bool:
        return self.timer.isActive()

    def tick(self) -> None:
        """Read the gauge once for every quarter of a second that has passed."""
        try:
            for _ in range(self.speed):
                self.practice.advance(STEP)
                self.sampled.emit(self.gauge.read())
                if self.over:
                    break
        except NoAnswer as why:
            self.lost.emit(str(why))
        self.read.emit()

    def aim(self, pressure: float) -> None:
        self._told(lambda: self.gauge.aim(pressure))

    def ring(self, name: str) -> None:
        self._told(lambda: self.gauge.ring(name))

    def _told(self, do: Callable[[], None]) -> None:
        try:
            do()
        except NoAnswer as why:
            self.lost.emit(str(why))

    def close(self) -> str:
        self.over = True
        self.timer.stop()
        return ""


class LinesLink(Link):
    """A gauge that speaks lines over a device which `opened` makes and begins to open, once for every try."""

    def __init__(self, opened: Callable[[], QIODevice], where: str, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.where = where
        self._opened = opened
        self._device: QIODevice | None = None
        self._talks = self._told_lost = False
        self._asked = ""
        self._waiting: deque[str] = deque()
        self._ring: str | None = None
        self._aim = 0.0
        self._stopped = True
        self._clock, self._late, self._again = QTimer(self), QTimer(self), QTimer(self)
        self._clock.setInterval(TICK_MS)
        self._clock.timeout.connect(self._poll)
        for timer, ms, do in ((self._late, PATIENCE_MS, self._too_late), (self._again, AGAIN_MS, self._open)):
            timer.setSingleShot(True)
            timer.setInterval(ms)
            timer.timeout.connect(do)
        self._wanted = False

    # what is asked of it

    def start(self) -> None:
        if not self._wanted:
            self._wanted = True
            self._open()

    @property
    def reading(self) -> bool:
        return self._wanted

    def aim(self, pressure: float) -> None:
        self._aim = pressure
        self._stopped = False
        self._say(aim_line(pressure))

    def ring(self, name: str) -> None:
        self._ring = name
        self._say(ring_line(name))

    def close(self) -> str:
        self._wanted = False
        for timer in (self._clock, self._late, self._again):
            timer.stop()
        device, self._device = self._device, None
        self._aim = 0.0
        told = self._stopped
        if device is not None and self._talks and not told:
            with contextlib.suppress(RuntimeError):
                device.write(f"{aim_line(0.0)}\n".encode())
                told = device.waitForBytesWritten(GOODBYE_MS)
        self._talks = False
        self._let_go(device)
        return "" if told else f"the gauge at {self.where} does not answer and could not be told to stop the fan: switch it off by hand"

    # how it goes

    def _open(self) -> None:
        self._let_go(self._device)
        self._talks, self._asked = False, ""
        self._waiting.clear()
        device = self._device = self._opened()
        device.setParent(self)
        device.readyRead.connect(self._arrived)
        self._late.start()
        if isinstance(device, QAbstractSocket):
            device.connected.connect(self._connected)
            device.errorOccurred.connect(lambda _: self._gone(device, device.errorString()))
            device.disconnected.connect(lambda: self._gone(device, "the gauge has hung up"))
            return
        if isinstance(device, QSerialPort):
            device.errorOccurred.connect(
                lambda e: self._gone(device, device.errorString()) if e != QSerialPort.SerialPortError.NoError else None
            )
        if device.isOpen():
            self._connected()
        else:
            self._gone(device, device.errorString())

    def _let_go(self, device: QIODevice | None) -> None:
        if device is None:
            return
        with contextlib.suppress(TypeError, RuntimeError):
            device.blockSignals(True)
        device.close()
        device.deleteLater()

    def _connected(self) -> None:
        self._ask("WHO")

    def _gone(self, device: QIODevice, why: str) -> None:
        if device is self._device and self._wanted:
            self._lose(why or "the gauge is not there")

    def _too_late(self) -> None:
        self._lose("the gauge does not answer")

    def _lose(self, why: str) -> None:
        """Contact is lost: said once, sought again until it is found."""
        self._late.stop()
        self._clock.stop()
        self._let_go(self._device)
        self._device, self._talks, self._asked, self.away = None, False, "", why
        if not self._told_lost:
            self._told_lost = True
            self.lost.emit(why)
        if self._wanted:
            self._again.start()

    def _say(self, line: str) -> None:
        if not self._talks:
            return  # it is told when there is contact again
        word = line.partition(" ")[0]
        self._waiting = deque(w for w in self._waiting if w.partition(" ")[0] != word)  # only the last word of each kind counts
        self._waiting.append(line)
        self._next()

    def _poll(self) -> None:
        if self._talks and not self._asked and not self._waiting:
            self._ask("READ")

    def _next(self) -> None:
        if self._talks and not self._asked and self._waiting:
            self._ask(self._waiting.popleft())

    def _ask(self, line: str) -> None:
        if self._device is None:
            return
        self._asked = line
        self._late.start()
        self._device.write(f"{line}\n".encode())

    def _arrived(self) -> None:
        device = self._device
        while device is not None and device is self._device and device.canReadLine():
            self._answered(bytes(device.readLine(LONGEST_LINE + 2)).decode("utf-8", "replace"))
        if device is not None and device is self._device and device.bytesAvailable() > LONGEST_LINE:
            self._lose("the gauge sends lines without an end")

    def _answered(self, answer: str) -> None:
        line, self._asked = self._asked, ""
        self._late.stop()
        if not line:
            return  # nobody has asked
        try:
            if line == "WHO":
                self._begin(who_of(answer))
            elif line == "READ":
                self.sampled.emit(reading_of(answer))
                self.read.emit()
            else:
                self._obeyed(line, answer)
        except NoAnswer as why:
            self._lose(str(why))
        self._next()

    def _obeyed(self, line: str, answer: str) -> None:
        try:
            taken(answer, line)
        except NoAnswer as why:
            if not answer.strip().upper().startswith("NO"):
                raise
            self.refused.emit(str(why))
            return
        if line == aim_line(0.0):
            self._stopped = True

    def _begin(self, who: Who) -> None:
        """First contact, or a new one: what the fan was last to do is told before anything else."""
        self.who, self._talks, self._told_lost, self.away = who, True, False, ""
        self._waiting.append(aim_line(self._aim))
        if self._ring is not None:
            self._waiting.append(ring_line(self._ring))
        self._clock.start()
        self.found.emit(who)


def over_network(host: str, port: int = PORT) -> LinesLink:
    """A gauge in the network."""

    def opened() -> QIODevice:
        socket = QTcpSocket()
        socket.connectToHost(host, port)
        return socket

    return LinesLink(opened, f"{host}:{port}")


def over_serial(name: str, baud: int = BAUD) -> LinesLink:
    """A gauge at a serial port."""

    def opened() -> QIODevice:
        port = QSerialPort()
        port.setPortName(name)
        port.setBaudRate(baud)
        port.open(QIODevice.OpenModeFlag.ReadWrite)
        return port

    return LinesLink(opened, name)


def serial_ports() -> list[str]:
    """The serial ports of this machine."""
    return [p.portName() for p in QSerialPortInfo.availablePorts()]


def address(text: str) -> tuple[str, int]:
    """Host and port of a typed address such as 192.168.4.1:7171. Raises ValueError with what would be right."""
    host, colon, port = text.strip().rpartition(":")
    host, port = (host, port) if colon else (port, str(PORT))
    if not host or not port.isdigit() or not 0 < int(port) < 65536 or any(c.isspace() for c in host):
        raise ValueError(f"“{text[:60]}” is no address; write host and port, as in 192.168.4.1:{PORT}")
    return host.strip("[]"), int(port)
