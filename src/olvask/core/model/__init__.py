"""What is described: vehicle, batteries, charger, runs and the design of a job. Immutable.

- `vehicle`: system, chassis, alternator, start battery, readings, signals, use.
- `battery`: the auxiliary battery.
- `charger`: the unit and what its manual says of it.
- `run`: the path of pieces from battery to unit and the way back.
- `design`: all of it together, with activation, choices and where each value came from.
- `faults`: what is wrong with a document that does not fit, in workshop words.
"""

from olvask.core.model.battery import AuxiliaryBattery, Block, Management
from olvask.core.model.charger import Behaviour, Charger
from olvask.core.model.design import Activation, ChargeSettings, Choices, Design, Distances, Mount, OldLink, Provenance
from olvask.core.model.run import Branch, Cable, ChassisReturn, Joint, OwnReturn, Piece, ProtectiveDevice, Run
from olvask.core.model.vehicle import (
    Alternator,
    Chassis,
    Existing,
    InheritedCable,
    Lifter,
    Load,
    Readings,
    Signals,
    Solar,
    SourcePoint,
    StartBattery,
    Use,
    Vehicle,
)

__all__ = [
    "Activation",
    "Alternator",
    "AuxiliaryBattery",
    "Behaviour",
    "Block",
    "Branch",
    "Cable",
    "ChargeSettings",
    "Charger",
    "Chassis",
    "ChassisReturn",
    "Choices",
    "Design",
    "Distances",
    "Existing",
    "InheritedCable",
    "Joint",
    "Lifter",
    "Load",
    "Management",
    "Mount",
    "OldLink",
    "OwnReturn",
    "Piece",
    "ProtectiveDevice",
    "Provenance",
    "Readings",
    "Run",
    "Signals",
    "Solar",
    "SourcePoint",
    "StartBattery",
    "Use",
    "Vehicle",
]
