"""What is described: vehicle, batteries, charger, runs and the design of a job. Immutable.

- `base`: how a field says its title, unit, range, choices and help; things with an identity.
- `vehicle`: system, chassis, alternator, start battery, readings, signals, use.
- `battery`: the auxiliary battery.
- `charger`: the unit and what its manual says of it.
- `site`: where the unit sits, what the work disturbs, the shop's own steps.
- `run`: the path of pieces from battery to unit and the return.
- `terms`: routes, rates and terms of a quote.
- `design`: all of it together, with activation, choices and where each value came from.
- `earlier`: documents of earlier versions brought up to this one.
- `entry_errors`: what is wrong with a document that does not fit, in workshop words.
- `form`: the fields of a model as screens need them.
- `shelf`: what stands on a shelf.
"""

from olvask.core.model.battery import AuxiliaryBattery, Block, Management
from olvask.core.model.charger import Behaviour, Charger, GuardRecord, StartRecord, StartWay, StopRecord
from olvask.core.model.charging import ChargeSettings
from olvask.core.model.design import (
    Activation,
    Choices,
    Design,
    Distances,
    Guard,
    OldLink,
    Provenance,
    StartRule,
    StopRule,
    fresh_id,
)
from olvask.core.model.run import (
    RUNS,
    Branch,
    Cable,
    ChassisReturn,
    Joint,
    OwnReturn,
    Piece,
    ProtectiveDevice,
    Run,
    RunName,
)
from olvask.core.model.site import Mount, OwnStep, Site
from olvask.core.model.terms import Route, Terms
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
    "RUNS",
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
    "Guard",
    "GuardRecord",
    "InheritedCable",
    "Joint",
    "Lifter",
    "Load",
    "Management",
    "Mount",
    "OldLink",
    "OwnReturn",
    "OwnStep",
    "Piece",
    "ProtectiveDevice",
    "Provenance",
    "Readings",
    "Route",
    "Run",
    "RunName",
    "Signals",
    "Site",
    "Solar",
    "SourcePoint",
    "StartBattery",
    "StartRecord",
    "StartRule",
    "StartWay",
    "StopRecord",
    "StopRule",
    "Terms",
    "Use",
    "Vehicle",
    "fresh_id",
]
