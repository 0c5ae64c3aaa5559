"""The circuit of many vehicles at once reads what one vehicle by Ohm's law in small steps reads, whatever flows in it."""

from __future__ import annotations

import random
from dataclasses import replace

import numpy as np
import pytest

from olvask.core.circuit.context import Context
from olvask.core.model.instrument import Instrument
from olvask.core.stages.prove.beliefs import Beliefs, Reading, narrowed
from olvask.core.stages.prove.legs import LOOSE_OHM, loosened
from olvask.core.stages.prove.meter import METER, Accuracy, meters_of
from olvask.core.stages.prove.plant import MODES, QUANTITIES, READ, Mode, Plant, Quantity
from olvask.core.stages.prove.report import prove
from olvask.core.stages.prove.unknowns import AT, NAMES, Leg, Name, constants_of, unknowns_of
from olvask.store.demo import demo_designs
from tests.broken import vehicle_of, whole
from tests.designs import cable, design, fuse
from tests.oracles.running import Running

# What the oracle calls each thing that can flow; a corner of the product is round by so much of a current.
STATES: dict[Mode, dict[str, object]] = {
    "charging": {},
    "idle": {"off": True},
    "open_supply_device": {"parted": "supply_device"},
    "open_supply": {"parted": "supply"},
    "open_supply_back": {"parted": "supply_back"},
    "open_delivery_device": {"parted": "delivery_device"},
    "open_delivery": {"parted": "delivery"},
    "pack_off": {"parted": "pack"},
    "reversed": {"reversed": True},
}
CORNER = 0.06


def values_of(vehicle: Running) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    return np.array([getattr(vehicle, name) for name in NAMES])


def vehicles(seed: int, count: int) -> list[tuple[Context, Running]]:
    """Healthy vehicles of random designs without branches, their alternators not at the edge of what they give."""
    pick = random.Random(seed)
    found: list[tuple[Context, Running]] = []
    while len(found) < count:
        ctx = vehicle_of(pick)
        made = whole(pick, ctx)
        amps, volts, _ = made.charge()
        if made.drawn(volts * amps / made.efficiency)[2] < 0.8 * made.spare_a:
            found.append((ctx, made))
    return found


@pytest.mark.parametrize("mode", MODES)
def test_every_state_reads_as_by_ohms_law(mode: Mode) -> None:
    """Thirty-odd readings of twelve vehicles, each state of flow."""
    for ctx, vehicle in vehicles(41, 12):
        for name, value in STATES[mode].items():
            setattr(vehicle, name, value)
        read = Plant(constants_of(ctx)).read(values_of(vehicle)[None, :], np.array([MODES.index(mode)]))[0]
        shown = vehicle.meter()
        for quantity in QUANTITIES:
            expected, found = shown[quantity], float(read[READ[quantity]])
            slack = CORNER * abs(expected) if quantity.endswith(("_a", "_mv")) else 0.006 * abs(expected)
            assert found == pytest.approx(expected, abs=slack + 0.02), (mode, quantity)


def test_many_at_once_are_as_one_by_one() -> None:
    """A hundred vehicles in one array and each alone."""
    ctx, vehicle = vehicles(7, 1)[0]
    pick = np.random.default_rng(7)
    many = values_of(vehicle) * (1 + 0.02 * pick.standard_normal((100, len(NAMES))))
    mode = pick.integers(0, len(MODES), 100)
    plant = Plant(constants_of(ctx))
    together = plant.read(many, mode)
    for at in range(100):
        assert plant.read(many[at : at + 1], mode[at : at + 1])[0] == pytest.approx(together[at])


def test_an_alternator_at_its_limit_lets_the_battery_give_the_rest() -> None:
    """Twenty amperes left, forty-odd drawn: the posts lie at the battery's volts less what it gives through its own resistance."""
    ctx, vehicle = vehicles(3, 1)[0]
    amps, volts, _ = vehicle.charge()
    vehicle.spare_a = 0.4 * vehicle.drawn(volts * amps / vehicle.efficiency)[2]
    read = Plant(constants_of(ctx)).read(values_of(vehicle)[None, :], np.array([0]))[0]
    expected = vehicle.meter()
    for quantity in ("posts_v", "input_v", "input_a"):
        assert float(read[READ[quantity]]) == pytest.approx(expected[quantity], rel=0.01)
    assert read[READ["posts_v"]] < vehicle.battery_v


@pytest.mark.parametrize("spare_a", [8.0, 400.0])
@pytest.mark.parametrize("held", [False, True])
def test_branches_on_both_runs_by_kirchhoff(spare_a: float, held: bool) -> None:
    """What a fan, a lamp and a fridge take: drops add up, power is kept, charge volts are held, the battery gives the rest.

    At the current limit and at the charge volts, with alternators that have enough and that have not.
    """
    ctx, vehicle = vehicles(3, 1)[0]
    extra: dict[Leg, float] = {"supply_out": 6.0, "supply_back": 4.0, "delivery_out": -3.0, "delivery_back": -2.0}
    known = replace(constants_of(ctx), extra_source_a=7.0, extra_a=extra, taken_a=5.0)
    values = values_of(vehicle)
    values[AT["spare_a"]] = spare_a
    values[AT["limit_a"]] = 400.0 if held else 12.0
    values[AT["set_v"]] = values[AT["emf_v"]] + (0.4 if held else 3.0) * known.auxiliary_scale
    values[AT["battery_v"]] = values[AT["regulated_v"]] - 0.9 * known.scale
    read = Plant(known).read(values[None, :], np.array([MODES.index("charging")]))[0]
    at = {name: float(read[READ[name]]) for name in QUANTITIES}
    of = {name: float(values[AT[name]]) for name in NAMES}
    supply_v = (of["supply_out"] + of["supply_device"]) * (at["input_a"] + 6.0) + of["supply_back"] * (
        at["input_a"] + 4.0
    )
    delivery_v = (of["delivery_out"] + of["delivery_device"]) * (at["output_a"] - 3.0)
    delivery_v += of["delivery_back"] * (at["output_a"] - 2.0)
    across: tuple[tuple[Name, Quantity, float], ...] = (
        ("supply_device", "supply_device_mv", at["input_a"] + 6.0),
        ("supply_back", "supply_back_mv", at["input_a"] + 4.0),
        ("delivery_device", "delivery_device_mv", at["output_a"] - 3.0),
        ("delivery_back", "delivery_back_mv", at["output_a"] - 2.0),
    )
    for leg, quantity, amps in across:
        assert at[quantity] == pytest.approx(1000 * of[leg] * amps), leg
    for run, amps in (("supply", at["input_a"] + 6.0), ("delivery", at["output_a"] - 3.0)):
        both = {
            "supply": of["supply_out"] + of["supply_device"],
            "delivery": of["delivery_out"] + of["delivery_device"],
        }
        assert float(read[READ[f"{run}_out_mv"]]) == pytest.approx(1000 * both[run] * amps)  # type: ignore[index]
    assert at["output_a"] > 5.0
    assert at["posts_v"] - at["input_v"] == pytest.approx(supply_v, rel=1e-3)
    assert at["output_v"] - at["auxiliary_v"] == pytest.approx(delivery_v, rel=1e-9)
    assert at["input_v"] * at["input_a"] * of["efficiency"] == pytest.approx(at["output_v"] * at["output_a"], rel=2e-3)
    assert at["auxiliary_v"] == pytest.approx(of["emf_v"] + of["auxiliary_ohm"] * (at["output_a"] - 5.0))
    if held:
        assert at["output_v"] == pytest.approx(of["set_v"], abs=0.01 * known.auxiliary_scale)
    else:
        assert at["output_a"] == pytest.approx(12.0, rel=0.02)
    if spare_a > 100:
        assert at["posts_v"] == pytest.approx(of["regulated_v"] - of["sag_ohm"] * (at["input_a"] + 7.0))
    else:
        given_a = at["input_a"] + 7.0 - 8.0
        assert at["posts_v"] == pytest.approx(of["battery_v"] - given_a * known.battery_ohm, rel=1e-3)
    assert at["idle_posts_v"] == pytest.approx(of["regulated_v"] - of["sag_ohm"] * 7.0)
    of["spare_a"] = 4.0  # less than the branches alone take: the battery holds the posts, the unit off
    short = Plant(known).read(np.array([[of[name] for name in NAMES]]), np.array([MODES.index("idle")]))[0]
    assert short[READ["idle_posts_v"]] == pytest.approx(of["battery_v"] - (7.0 - 4.0) * known.battery_ohm)
    assert short[READ["posts_v"]] == short[READ["idle_posts_v"]]
    assert at["monitor_a"] == pytest.approx(of["monitor_share"] * (at["output_a"] - 5.0) + of["zero_a"])


def beliefs_of(ctx: Context) -> Beliefs:
    return Beliefs.of(Plant(constants_of(ctx)), [(unknowns_of(ctx), "charging")])


def test_a_reading_by_itself_is_weighed_as_by_hand() -> None:
    """A rested battery supposed 12.7 ± 0.12 V and read 12.5 ± 0.03 V: the weighted mean, the joint spread, the likelihood."""
    ctx = Context.of(demo_designs()[0][1])
    unknown = next(item for item in unknowns_of(ctx) if item.name == "rest_start_v")
    value, sigma = unknown.mean - 0.2, 0.03
    found = beliefs_of(ctx).after([Reading("rest_start_v", value, sigma)])
    weight = unknown.sigma**2 / (unknown.sigma**2 + sigma**2)
    at = AT["rest_start_v"]
    assert found.means[0, at] == pytest.approx(unknown.mean - 0.2 * weight)
    assert found.covariance[0, at, at] == pytest.approx(unknown.sigma**2 * (1 - weight))
    spread = unknown.sigma**2 + sigma**2
    assert found.logged[0] == pytest.approx(-0.5 * (0.04 / spread + np.log(2 * np.pi * spread)))


def test_order_does_not_matter_and_a_reading_nobody_knows_of_changes_nothing() -> None:
    """The same readings the other way round; one that is masked."""
    ctx = Context.of(demo_designs()[0][1])
    read = [Reading("posts_v", 13.7, 0.04), Reading("input_a", 46.0, 0.6), Reading("input_v", 13.2, 0.04)]
    one, other = beliefs_of(ctx).after(read), beliefs_of(ctx).after(read[::-1])
    assert one.means == pytest.approx(other.means, rel=1e-4, abs=1e-4)
    masked = beliefs_of(ctx).after(read, np.array([[True, True, False]]))
    assert masked.means == pytest.approx(beliefs_of(ctx).after(read[:2]).means, rel=1e-6, abs=1e-9)


def test_what_a_reading_would_narrow_is_what_it_then_narrows() -> None:
    """The promise before, and the spread once it was taken, wherever it lies."""
    ctx = Context.of(demo_designs()[0][1])
    before = beliefs_of(ctx)
    told = before.told()
    sigmas = np.full(len(QUANTITIES), 0.05)
    promised = narrowed(before, 0, told, "input_v", sigmas)[READ["posts_v"]]
    value = float(told.value[0, READ["posts_v"]])
    after = before.after([Reading("posts_v", value, 0.05)]).told()
    assert after.spread[0, READ["input_v"]] == pytest.approx(promised, rel=0.02)


@pytest.mark.parametrize("mode", MODES)
def test_unknowns_moved_together_move_what_each_moves_alone(mode: Mode) -> None:
    """Ten vehicles: every reading by every unknown, against moving that one by a hundredth of its spread either way."""
    for ctx, vehicle in vehicles(19, 10):
        plant, unknowns, at = Plant(constants_of(ctx)), unknowns_of(ctx), values_of(vehicle)
        flows = np.array([MODES.index(mode)])
        supposed = [replace(item, mean=float(value)) for item, value in zip(unknowns, at, strict=True)]
        slope = Beliefs.of(plant, [(supposed, mode)]).told().slope[0]
        for place, item in enumerate(unknowns):
            step = np.eye(len(NAMES))[place] * 0.01 * max(item.sigma, 1e-9)
            moved = (plant.read((at + step)[None], flows) - plant.read((at - step)[None], flows))[0]
            assert slope[:, place] == pytest.approx(moved / (2 * step[place]), rel=1e-6, abs=1e-6), item.name


def test_a_supposition_stands_by_itself() -> None:
    """Sixty suppositions together, near and far off, come to what each comes to alone."""
    ctx = Context.of(demo_designs()[0][1])
    plant, unknowns, pick = Plant(constants_of(ctx)), unknowns_of(ctx), random.Random(5)
    read = [Reading("posts_v", 13.6, 0.04), Reading("input_a", 38.0, 0.6), Reading("output_v", 14.1, 0.04)]
    supposed = [
        ([replace(item, mean=item.mean * pick.uniform(0.7, 1.5)) for item in unknowns], pick.choice(MODES))
        for _ in range(60)
    ]
    together = Beliefs.of(plant, supposed).after(read)
    for row, one in enumerate(supposed):
        alone = Beliefs.of(plant, [one]).after(read)
        assert together.means[row] == pytest.approx(alone.means[0], rel=1e-9, abs=1e-12)
        assert together.logged[row] == pytest.approx(alone.logged[0], rel=1e-9)
        assert together.covariance[row] == pytest.approx(alone.covariance[0], rel=1e-6, abs=1e-12)


def test_a_loose_leg_may_hold_anything_and_no_other_does() -> None:
    """Only its own parts are let loose."""
    ctx = Context.of(demo_designs()[0][1])
    loose = {item.name: item.sigma for item in loosened(unknowns_of(ctx), ["supply_back"])}
    own = {item.name: item.sigma for item in unknowns_of(ctx)}
    assert loose["supply_back"] >= LOOSE_OHM
    assert {name for name in own if loose[name] != own[name]} == {"supply_back"}


def test_the_workshops_own_meter_takes_the_usual_ones_place() -> None:
    """The first that reads volts counts; a clamp's accuracy is the clamp's; what no instrument reads stays as usual."""
    fine = Instrument(name="Fine", reads=("volts",), percent=0.02, digits=0.001)
    coarse = Instrument(name="Coarse", reads=("volts", "amps"), percent=1.5, digits=0.1)
    found = meters_of([fine, coarse])
    assert (found["V"].percent, found["V"].besides) == (0.02, 0.001)
    assert found["A"].percent == 1.5
    assert found["mV"].besides == pytest.approx(0.02)
    assert found["°C"] == METER["°C"]
    assert meters_of([fine, coarse], coarse.name)["V"] == meters_of([coarse])["V"]  # the house's own first
    assert meters_of([]) == METER
    assert Accuracy(1.0, 0.2).sigma(10.0) == pytest.approx(0.15)


def test_volts_past_the_first_device() -> None:
    """Those of the posts less what the device drops at the current drawn."""
    ctx = Context.of(design(supply={"pieces": [fuse(40.0, "blade"), cable()]}))
    expected = {row.test.key: row.expected for row in prove(ctx, {}).rows}
    posts_v, past_v, amps = (expected[key] for key in ("posts_v", "supply_far_v", "input_a"))
    assert posts_v is not None
    assert past_v is not None
    assert amps is not None
    device_ohm = next(piece.out_ohm for piece in ctx.state("supply").pieces if piece.out_ohm > 0)
    assert posts_v - past_v == pytest.approx(amps * device_ohm, rel=0.2)
