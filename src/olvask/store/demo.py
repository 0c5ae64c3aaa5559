"""The invented workshop of the demo: five working vehicles, each with something true to show.

Quillmoor Auxiliary Fitters fit out working vehicles. People, firms, plates and products are made up.
"""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from olvask.core.model import Design
from olvask.core.model.sample_records import sample_monitors
from olvask.core.model.shelf import alternators, batteries, chargers
from olvask.store.cards import Heading
from olvask.store.jobs import JobStore
from olvask.store.stores import Stores


def _unit(id: str) -> dict[str, Any]:
    return next(item for item in chargers() if item.id == id).model_dump(mode="json")


def _battery(id: str) -> dict[str, Any]:
    return next(item.battery for item in batteries() if item.id == id).model_dump(mode="json")


def _monitor(id: str) -> dict[str, Any]:
    found: dict[str, Any] = next(item["monitor"] for item in sample_monitors() if item["id"] == id)
    return found


def _keyed(line: str, value: str) -> dict[str, Any]:
    return {"line": line, "value": value, "keyed": True, "seen": value, "by": "E.K.", "at": "2031-04-29T10:14:00Z"}


def _alternator(id: str, **more: Any) -> dict[str, Any]:
    return next(item.alternator for item in alternators() if item.id == id).model_dump(mode="json") | more


def _cable(size: str, length_m: float, **more: Any) -> dict[str, Any]:
    return {"kind": "cable", "size": size, "length_m": length_m, **more}


def _device(family: str, rating_a: float) -> dict[str, Any]:
    return {"kind": "device", "family": family, "rating_a": rating_a}


def _measured(*paths: str) -> dict[str, str]:
    return dict.fromkeys(paths, "measured")


_READ = tuple(f"vehicle.readings.{key}" for key in ("rest_v", "after_stop_v", "idle_v", "cruise_v"))
_SHEETS = {
    "vehicle.alternator.rated_a": "datasheet",
    "auxiliary.charge_limit_a": "datasheet",
    "auxiliary.absorption_v": "datasheet",
}


def _vaccine_van() -> Design:
    """Composite body, engine-managed alternator: isolated unit, and a low phase that wants a signal."""
    return Design.model_validate(
        {
            "vehicle": {
                "system_v": 12,
                "chassis": {"body": "mixed", "bonding_mohm": 2400.0},
                "alternator": _alternator("alt-12-180", loads_idle_a=28.0, loads_cruise_a=34.0, sag_mohm=2.5),
                "start_battery": {"name": "", "chemistry": "agm", "capacity_ah": 95.0},
                "readings": {
                    "rest_v": 12.72,
                    "after_stop_v": 12.86,
                    "idle_v": 13.86,
                    "cruise_v": 14.38,
                    "low_phase_v": 12.62,
                    "low_phase_s": 90.0,
                },
                "signals": {"ignition": True, "d_plus": False},
            },
            "auxiliary": _battery("cairn-200"),
            "use": {
                "drive_h": 4.5,
                "rest_day_ah": 6.0,
                "loads": [
                    {"name": "vaccine cabinet", "current_a": 5.2, "duty": 0.45, "standing_h": 19.5, "driving": True},
                    {"name": "second cabinet, fan", "current_a": 3.0, "duty": 0.5, "standing_h": 19.5, "driving": True},
                    {"name": "label printer", "current_a": 1.2, "standing_h": 2.0},
                ],
            },
            "existing": [{"kind": "mains_charger", "name": "depot charger", "charge_a": 15.0, "profile": "lfp"}],
            "distances": {"supply_m": 5.2, "delivery_m": 1.6},
            "charger": _unit("redshank"),
            "mount": {"place": "cabin", "ambient_c": 32.0, "near_asked": True, "near": ["plastic"]},
            "site": {"drills": True, "codes": True},
            "routes": [
                {
                    "side": "supply",
                    "name": "short, along the sill",
                    "length_m": 4.9,
                    "hours": 1.5,
                    "notes": "seen under the step",
                },
                {
                    "side": "supply",
                    "name": "hidden, over the roof lining",
                    "length_m": 8.2,
                    "hours": 6.0,
                    "notes": "lining out",
                },
            ],
            "supply": {
                "pieces": [
                    _device("class_t", 80.0),
                    _cable("35 mm²", 4.9, conduit=True, grouped=2),
                    {"kind": "joint", "name": "joint", "resistance_mohm": 0.2},
                    _cable("16 mm²", 0.3, place="cabin"),
                ]
            },
            "delivery": {"pieces": [_cable("25 mm²", 1.6, place="cabin"), _device("class_t", 60.0)]},
            "activation": {"ways": ["voltage"]},
            "choices": {"drop_percent": 4.0},
            "provenance": _SHEETS
            | _measured(*_READ, "vehicle.readings.low_phase_v", "vehicle.chassis.bonding_mohm", "mount.ambient_c")
            | {"choices.drop_percent": "entered"},
        }
    )


def _library_lorry() -> Design:
    """24 V throughout with AGM: plain, bonded, nothing to stop it."""
    return Design.model_validate(
        {
            "vehicle": {
                "system_v": 24,
                "chassis": {"body": "metal_bonded", "bonding_mohm": 3.1},
                "alternator": _alternator("alt-24-80", loads_idle_a=14.0, loads_cruise_a=20.0, sag_mohm=6.0),
                "start_battery": {"name": "", "chemistry": "flooded", "capacity_ah": 170.0},
                "readings": {"rest_v": 25.30, "after_stop_v": 25.60, "idle_v": 27.90, "cruise_v": 28.20},
                "signals": {"ignition": True, "d_plus": True},
            },
            "auxiliary": _battery("mere-24-160"),
            "use": {"daily_ah": 40.0, "drive_h": 2.5, "loads_driving_a": 3.0, "rest_day_ah": 4.0, "mains_h": 6.0},
            "existing": [{"kind": "mains_charger", "name": "depot charger", "charge_a": 12.0, "profile": "agm"}],
            "charger": _unit("godwit"),
            "mount": {
                "place": "cabin",
                "ambient_c": 28.0,
                "orientation": "upright",
                "backing": "metal",
                "near_asked": True,
            },
            "site": {"codes": True},
            "supply": {"pieces": [_device("class_t", 40.0), _cable("16 mm²", 6.2)]},
            "delivery": {"pieces": [_cable("16 mm²", 1.8, place="cabin"), _device("class_t", 30.0)]},
            "activation": {"ways": ["d_plus", "voltage"]},
            "keyed": [
                _keyed("kind", "AGM"),
                _keyed("absorb", "14.50 V"),
                _keyed("hold", "13.60 V"),
                {"line": "start", "value": "13.35 V", "keyed": True, "by": "E.K.", "at": "2031-04-29T10:21:00Z"},
            ],
            "provenance": _SHEETS | _measured(*_READ, "vehicle.chassis.bonding_mohm"),
        }
    )


def _peat_survey() -> Design:
    """Pickup with instrument trailer: the factory socket wire cannot carry it, and it hunts."""
    return Design.model_validate(
        {
            "vehicle": {
                "system_v": 12,
                "chassis": {"body": "metal_bonded", "bonding_mohm": None, "trailer": True},
                "alternator": _alternator("alt-12-120", loads_idle_a=22.0),
                "start_battery": {"name": "", "chemistry": "flooded", "capacity_ah": 85.0},
                "readings": {"rest_v": 12.66, "after_stop_v": 12.80, "idle_v": 13.90, "cruise_v": 14.20},
                "signals": {"ignition": True, "d_plus": False},
            },
            "auxiliary": _battery("mere-110"),
            "use": {"daily_ah": 35.0, "drive_h": 3.0, "loads_driving_a": 1.5, "rest_day_ah": 2.0},
            "solar": {"panel_w": 60.0, "into": "controller", "sun_h": 2.0, "share_driving": 0.3, "profile": "agm"},
            "inherited": {"size": "2.5 mm²", "length_m": 5.5, "shared_a": 4.0},
            "charger": _unit("sandling"),
            "mount": {"place": "under_floor", "ambient_c": None},
            "supply": {
                "pieces": [
                    _device("sf30", 40.0),
                    _cable("6 mm²", 4.2),
                    {"kind": "joint", "form": "plug", "name": "trailer plug", "resistance_mohm": 2.5, "rating_a": 50.0},
                    _cable("6 mm²", 5.5),
                ]
            },
            "delivery": {"pieces": [_cable("10 mm²", 1.2), _device("cube", 30.0)]},
            "activation": {"ways": ["voltage"]},
            "provenance": _SHEETS | _measured(*_READ),
        }
    )


def _river_rescue() -> Design:
    """Hybrid estate: a DC converter holds the 12 V side and "ready" stands for running."""
    return Design.model_validate(
        {
            "vehicle": {
                "system_v": 12,
                "drive": "converter",
                "chassis": {"body": "metal_bonded", "bonding_mohm": 4.4},
                "alternator": _alternator("conv-12-130", loads_idle_a=38.0, loads_cruise_a=45.0, sag_mohm=2.0),
                "start_battery": {"name": "", "chemistry": "agm", "capacity_ah": 45.0},
                "readings": {"rest_v": 12.74, "after_stop_v": 12.82, "idle_v": 14.32, "cruise_v": 14.36},
                "signals": {"ignition": True, "d_plus": False},
            },
            "auxiliary": _battery("cairn-100"),
            "site": {"auxiliary_price": 520.0},
            "use": {"daily_ah": 45.0, "drive_h": 2.0, "drive_days": 7, "loads_driving_a": 4.0},
            "charger": _unit("dunlin"),
            "mount": {
                "place": "cupboard",
                "ambient_c": 38.0,
                "around": "vents",
                "width_mm": 400.0,
                "height_mm": 350.0,
                "depth_mm": 250.0,
                "vent_low_cm2": 30.0,
                "vent_high_cm2": 30.0,
                "near_asked": True,
            },
            "supply": {
                "pieces": [_device("class_t", 60.0), _cable("25 mm²", 3.4), {"kind": "joint"}, _cable("16 mm²", 0.3)]
            },
            "delivery": {"pieces": [_cable("16 mm²", 1.1, place="cabin"), _device("class_t", 40.0)]},
            "activation": {"ways": ["ignition", "voltage"]},
            "provenance": _SHEETS | _measured(*_READ, "vehicle.chassis.bonding_mohm", "mount.ambient_c"),
        }
    )


def _farrier() -> Design:
    """Flooded to LFP on a bonded truck; the chassis return is not measured yet."""
    return Design.model_validate(
        {
            "vehicle": {
                "system_v": 12,
                "chassis": {"body": "metal_bonded"},
                "alternator": _alternator("alt-12-120", loads_idle_a=24.0),
                "start_battery": {"name": "", "chemistry": "flooded", "capacity_ah": 100.0},
                "readings": {"rest_v": 12.64, "after_stop_v": 12.75, "idle_v": 13.95, "cruise_v": 14.25},
                "signals": {"ignition": True, "d_plus": True},
            },
            "auxiliary": _battery("cairn-100"),
            "use": {"daily_ah": 30.0, "drive_h": 2.5, "loads_driving_a": 2.0, "rest_day_ah": 1.0},
            "existing": [
                {"kind": "panel", "name": "switch panel with a relay", "carries": ["meter", "lamp"]},
                {
                    "kind": "mains_charger",
                    "name": "forge charger",
                    "charge_a": 30.0,
                    "profile": "flooded",
                    "wire_mm2": 2.5,
                    "wire_m": 3.0,
                    "stages": {"after": "rest", "rebulk_v": 12.6, "adjustable": "no", "wakes": "no"},
                },
            ],
            "solar": {
                "panel_w": 130.0,
                "profile": "flooded",
                "wire_mm2": 6.0,
                "wire_m": 2.0,
                "stages": {"adjustable": "yes", "wakes": "yes", "absorption_v": 14.8},
            },
            "charger": _unit("dunlin"),
            "mount": {"place": "cabin", "ambient_c": 34.0},
            "supply": {
                "pieces": [_device("class_t", 60.0), _cable("16 mm²", 3.1)],
                "back": {"kind": "chassis", "resistance_mohm": None},
            },
            "delivery": {"pieces": [_cable("16 mm²", 0.9, place="cabin"), _device("class_t", 40.0)]},
            "activation": {"ways": ["d_plus"]},
            "monitor": {
                "unit": _monitor("redpoll-300"),
                "price": 96.0,
                "bypassed_by": ["monitor_feed"],
                "unmetered_ma": 15.0,
            },
            "provenance": _SHEETS | _measured(*_READ),
        }
    )


DEMO_JOBS = (
    (Heading("Cold-chain van", "KV-118", "Marrow Valley Dispensary"), _vaccine_van),
    (Heading("Mobile library lorry", "ML-207", "Osier District Reading Rooms"), _library_lorry),
    (Heading("Peat-survey pickup", "PS-064", "Blanket Bog Survey Office"), _peat_survey),
    (Heading("River-rescue estate", "RR-031", "Lower Teasel Water Watch"), _river_rescue),
    (Heading("Farrier's truck", "FT-041", "Hob Lane Forge"), _farrier),
)


def demo_designs() -> list[tuple[Heading, Design]]:
    """The five demo jobs, heading and design."""
    return [(heading, make()) for heading, make in DEMO_JOBS]


def seed(stores: Stores, saved: datetime | None = None) -> None:
    """Put the demo jobs and shelf into an empty store; what is in it already is left alone.

    Args:
        stores: where to.
        saved: when the first job was saved, the others a day after one another; now where it is not given.
    """
    if stores.shelf.empty():
        stores.shelf.take_sample()
    if stores.jobs.ids():
        return
    for day, (heading, design) in enumerate(reversed(demo_designs())):
        at = datetime.now(UTC) if saved is None else saved + timedelta(days=day)
        JobStore(stores.database, lambda at=at: at).create(heading, design)  # type: ignore[misc]
