"""The rig on loopback: each of its devices on a port of its own, one line a command.

- `Rig`: its devices, served until it is closed.
"""

from __future__ import annotations

import socketserver
import threading
from contextlib import suppress
from dataclasses import dataclass, field

from olvask.core.model import Design
from olvask.rig.bench import Clock, meter_of, supply_of
from olvask.rig.faults import Spoilt
from olvask.rig.scpi import Commands
from olvask.rig.vehicle import RigVehicle

LONGEST = 4096  # of a line; no command is so long


class _Device(socketserver.ThreadingTCPServer):
    """One device: whoever is connected speaks to the same one."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, address: tuple[str, int], commands: Commands, turn: threading.Lock) -> None:
        super().__init__(address, _Talk)
        self.commands, self.turn = commands, turn
        self.talking: set[socketserver.StreamRequestHandler] = set()

    def handle_error(self, request: object, client_address: object) -> None:
        """Somebody hung up: no more to be said."""


class _Talk(socketserver.StreamRequestHandler):
    """One connection: lines in, answers out."""

    server: _Device
    disable_nagle_algorithm = True

    def handle(self) -> None:
        """Answer until the other side hangs up."""
        self.server.talking.add(self)
        try:
            while line := self.rfile.readline(LONGEST):
                with self.server.turn:
                    answer = self.server.commands.answer(line.decode("utf-8", "replace").strip())
                if answer is not None:
                    self.wfile.write(f"{answer}\n".encode())
        finally:
            self.server.talking.discard(self)


@dataclass
class Rig:
    """A vehicle of a design with its meter and a bench supply.

    Attributes:
        design: the design.
        fault: what is wrong with the vehicle.
        host: address to listen on.
        port: of the meter, the supply one above; 0 takes free ones.
        speed: how much faster its time goes.
        seed: of the meter's error.
        hidden: whether the fault is told only once it was cured.
    """

    design: Design
    fault: Spoilt = field(default_factory=Spoilt)
    host: str = "127.0.0.1"
    port: int = 0
    speed: float = 10.0
    seed: int = 1
    hidden: bool = False

    def __post_init__(self) -> None:
        """Open its ports and begin to listen.

        Raises:
            OSError: a port is taken.
        """
        self.vehicle = RigVehicle(self.design, self.fault)
        turn = threading.Lock()
        meter = meter_of(self.vehicle, Clock(self.speed), self.seed, self.hidden)
        supply = supply_of(self.vehicle.ctx, Clock(self.speed))
        self._listening = False
        self._devices = [_Device((self.host, self.port), meter, turn)]
        try:
            self._devices.append(_Device((self.host, self.port + 1 if self.port else 0), supply, turn))
        except OSError:
            self.close()
            raise
        self._listening = True
        for device in self._devices:
            threading.Thread(target=device.serve_forever, kwargs={"poll_interval": 0.1}, daemon=True).start()

    @property
    def ports(self) -> tuple[int, int]:
        """Of the meter and of the supply."""
        meter, supply = (int(device.server_address[1]) for device in self._devices)
        return meter, supply

    def hang_up(self) -> None:
        """Cut every connection, as a cable pulled out would; it can be connected to again at once."""
        for device in self._devices:
            for talk in list(device.talking):
                with suppress(OSError):
                    talk.connection.shutdown(2)

    def close(self) -> None:
        """End."""
        for device in self._devices:
            if self._listening:
                device.shutdown()
            device.server_close()
