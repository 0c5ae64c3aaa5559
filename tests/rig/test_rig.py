"""The rig: the road test's own simulator as a vehicle on the bench agrees with what Prove expects, and speaks SCPI."""

from __future__ import annotations

import random
import socket
import threading
from collections import Counter
from collections.abc import Iterator
from functools import cache

import pytest

from olvask.core.analyses.bench_test import bench_test_of
from olvask.core.analyses.diagnosis import diagnose
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design, StartWay
from olvask.core.model.instrument import Instrument
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.core.stages.prove.report import prove
from olvask.core.stages.prove.tests import tests_of as listed
from olvask.instruments.bench_run import bench_run
from olvask.instruments.reading import Unread, read_for
from olvask.instruments.wire import Silent
from olvask.rig.bench import Clock, supply_of
from olvask.rig.choosing import NotThere, chosen_fault
from olvask.rig.faults import spoilt
from olvask.rig.scpi import Commands, pattern_of
from olvask.rig.serving import Rig
from olvask.rig.vehicle import RigVehicle
from olvask.store.demo import demo_designs
from tests.core.analyses.test_recommended import survey
from tests.core.test_two_way import job_of
from tests.designs import charger, design

EVERYTHING = ("volts", "amps", "ohms", "celsius", "seconds")


@cache
def jobs() -> dict[str, Design]:
    return {heading.code: design for heading, design in demo_designs()}


def design_tests(design: Design) -> dict[str, ProveTest]:
    return {test.key: test for test in listed(Context.of(design)) if not test.cannot}


@pytest.mark.parametrize("code", ["FT-041", "RR-031", "ML-207", "KV-118"])
def test_a_healthy_vehicle_of_the_simulator_is_as_prove_expects(code: str) -> None:
    """Two models that share no equation of time or battery: every reading of the one lies in the other's band."""
    vehicle = RigVehicle(jobs()[code])
    readings = {}
    for key, test in design_tests(jobs()[code]).items():
        vehicle.prepare(key)
        readings[key] = vehicle.read(test)
    found = prove(vehicle.ctx, readings)
    assert {row.test.key: row.reading for row in found.rows if row.verdict not in ("right", "cannot")} == {}
    assert not any(leg.bad for leg in found.legs)


WAYS = (["ignition"], ["switch"], ["bridge"], ["voltage"], ["d_plus"], ["ignition", "voltage"], ["switch", "ignition"])


def test_what_is_read_with_the_engine_off_is_as_prove_expects_of_any_way_to_start() -> None:
    """A unit that only its key, its switch or a bridge starts is on then; others rest."""
    drawn: Counter[bool] = Counter()
    for seed in range(60):
        pick = random.Random(f"left on {seed}")
        document = job_of(pick)[0].model_dump(mode="json")
        document["activation"] = {"ways": pick.choice(WAYS)}
        design = Design.model_validate(document)
        if assess(design, remedies=False).stops:
            continue
        vehicle, readings = RigVehicle(design), {}
        for key, test in design_tests(design).items():
            if test.group == "engine_off" or key in ("start_s", "stop_s"):
                vehicle.prepare(key)
                readings[key] = vehicle.read(test)
        rows = {row.test.key: row for row in prove(vehicle.ctx, readings).rows if row.test.key in readings}
        wrong = {key: (row.reading, row.expected) for key, row in rows.items() if row.verdict != "right"}
        assert not wrong, (seed, document["activation"]["ways"], wrong)
        drawn.update([readings["key_on_a"] > 1.0])
    assert min(drawn[True], drawn[False]) > 2, drawn


def test_any_healthy_vehicle_of_the_simulator_is_as_prove_expects() -> None:
    """From the first reading to the last lie hours: batteries fill meanwhile, and nothing is called wrong for that."""
    driven = 0
    for seed in range(80):
        design = survey(random.Random(f"dr{seed}"))[0]
        if assess(design, remedies=False).stops:
            continue
        vehicle, readings = RigVehicle(design), {}
        for key, test in design_tests(design).items():
            vehicle.prepare(key)
            readings[key] = vehicle.read(test)
        wrong = {
            row.test.key: row.text
            for row in prove(vehicle.ctx, readings).rows
            if row.verdict not in ("right", "cannot")
        }
        assert not wrong, (seed, wrong)
        driven += 1
    assert driven > 15


FOUND = [
    "joint.supply_out",
    "joint.supply_back",
    "joint.delivery_device",
    "limited",
    "too_hot",
    "wrong_profile",
    "no_enable",
    "open.supply_device",
    "open.supply_back",
    "open.delivery",
]


@pytest.mark.parametrize(
    ("name", "ways"), [*((name, []) for name in FOUND), ("no_enable", ["switch"]), ("no_enable", ["bridge"])]
)
def test_a_fault_of_the_rig_is_found_by_following_what_is_asked(name: str, ways: list[StartWay]) -> None:
    """Within eight readings, and gone once it is cured; what lets it charge may have no volts of its own."""
    code = "RR-031" if name != "no_enable" else "ML-207"
    design = jobs()[code]
    if ways:
        activation = design.activation.model_copy(update={"ways": tuple(ways)})
        design = design.model_copy(update={"activation": activation})
    vehicle, tests = RigVehicle(design, spoilt(name)), design_tests(design)
    readings: dict[str, float] = {}
    found = diagnose(vehicle.ctx, readings, ["weak"])
    while found.next and len(readings) < 8 and found.causes[0].share < 0.95:
        vehicle.prepare(found.next)
        readings[found.next] = vehicle.read(tests[found.next])
        found = diagnose(vehicle.ctx, readings, ["weak"])
    assert found.causes[0].key == name, [cause.key for cause in found.causes]
    vehicle.spoil(spoilt("healthy"))
    vehicle.prepare("input_a")
    assert prove(vehicle.ctx, {"input_a": vehicle.read(tests["input_a"])}).rows[0].verdict != "wrong"


HEADERS: list[tuple[str, str, bool]] = [
    ("MEASure:VOLTage[:DC]?", "MEAS:VOLT?", True),
    ("MEASure:VOLTage[:DC]?", "measure:voltage:dc?", True),
    ("MEASure:VOLTage[:DC]?", "MEASU:VOLT?", False),
    ("MEASure:VOLTage[:DC]?", "MEAS:VOLT", False),
    ("ROUTe:CLOSe", "ROUT:CLOS", True),
    ("[SOURce:]VOLTage", "VOLT", True),
    ("[SOURce:]VOLTage", "SOUR:VOLTAGE", True),
    ("*IDN?", "*idn?", True),
]


@pytest.mark.parametrize(("header", "said", "matches"), HEADERS)
def test_headers_are_long_or_short_and_nothing_between(header: str, said: str, matches: bool) -> None:
    """SCPI-1999, volume 1: the short form or the whole word, in any case; what stands in brackets may be left out."""
    assert (pattern_of(header).match(said) is not None) is matches


def test_what_is_no_command_goes_to_the_error_queue() -> None:
    """−113, once; several commands on a line are done in order."""
    device = Commands("Olvask,Test,1,1")
    assert device.answer("FOO 3; *IDN?") == "Olvask,Test,1,1"
    assert (device.answer("SYST:ERR?") or "").startswith("-113")
    assert device.answer("SYSTEM:ERROR:NEXT?") == '0,"No error"'


@pytest.fixture
def rig() -> Iterator[Rig]:
    made = Rig(jobs()["KV-118"], speed=60.0, seed=5)
    yield made
    made.close()


def meter(rig: Rig, **more: object) -> Instrument:
    return Instrument.model_validate({"name": "Rig meter", "port": rig.ports[0], "reads": EVERYTHING, **more})


def test_a_reading_settles_within_the_meters_accuracy(rig: Rig) -> None:
    """Milliamperes, millivolts and volts in the test's own unit, as a perfect meter within twice its accuracy."""
    tests = design_tests(rig.design)
    for key in ("input_v", "supply_back_mv", "standby_ma", "input_a"):
        if key == "standby_ma":
            found = read_for(meter(rig), tests[key])
            assert 10 < found.value < 60
            continue
        found = read_for(meter(rig), tests[key])
        exact = rig.vehicle.read(tests[key])
        assert found.value == pytest.approx(exact, rel=0.03, abs=0.05)
        assert found.still


def test_a_cut_connection_is_made_anew(rig: Rig) -> None:
    """The cable is pulled out in the middle of a reading: it is read again, and the answer comes."""
    cut = threading.Timer(0.15, rig.hang_up)
    cut.start()
    found = read_for(meter(rig), design_tests(rig.design)["posts_v"])
    cut.join()
    assert 13.4 < found.value < 14.1


def test_a_meter_that_is_gone_says_so_in_words(rig: Rig) -> None:
    """Nobody listens: the sentence names the instrument, and what to do."""
    port = rig.ports[0]
    rig.close()
    with pytest.raises(Silent, match=r"Bench meter does not answer at 127\.0\.0\.1:\d+.*type the reading"):
        read_for(meter(rig, name="Bench meter", port=port), design_tests(rig.design)["posts_v"])
    rig.__post_init__()


def test_beyond_its_range_and_no_number_are_told() -> None:
    """9.9E37 is a range too small; words are no reading."""
    for answer, words in (("9.9E37", "beyond its range"), ("OVLD", "is no reading")):
        with socket.create_server(("127.0.0.1", 0)) as server:
            threading.Thread(target=_parrot, args=(server, answer), daemon=True).start()
            one = Instrument(name="Old meter", port=server.getsockname()[1], reads=("volts",))
            with pytest.raises(Unread, match=words):
                read_for(one, design_tests(jobs()["KV-118"])["posts_v"], pause=lambda _: None)


def _parrot(server: socket.socket, answer: str) -> None:
    talk, _ = server.accept()
    with talk, talk.makefile("rwb") as lines:
        for line in lines:
            if line.strip().endswith(b"?"):
                lines.write(f"{answer}\n".encode())
                lines.flush()


# What a meter of volts shows one after the other; what is made of it; a pattern of what is said instead. A usual meter's spread
# at 13 V is 0.045 V: eight of them are 0.36 V.
SHOWN: list[tuple[list[float], float, str]] = [
    ([13.0, 13.2] * 8, 13.1, "not still"),
    ([13.0, 14.0] * 8, 0.0, "swings between 13.00 V and 14.00 V.*starts and stops"),
    ([0.0, 4.0, 13.8, 13.8, 13.8, 13.8], 13.8, "still"),
    ([14.0, 14.0, 13.0, 13.0, 13.0, 13.0], 0.0, "swings between 13.00 V and 14.00 V"),
    ([13.3, 13.3, 13.0, 13.0, 13.0, 13.0], 13.0, "still"),
]


@pytest.mark.parametrize(("shown", "value", "told"), SHOWN)
def test_a_reading_of_two_states_is_none(shown: list[float], value: float, told: str) -> None:
    """Probes being put on rise to what is read; a little restless is told; what swings or falls is of a unit that starts and stops."""
    with socket.create_server(("127.0.0.1", 0)) as server:
        threading.Thread(target=_saying, args=(server, shown), daemon=True).start()
        one = Instrument(name="Meter", port=server.getsockname()[1], reads=("volts",))
        test = design_tests(jobs()["KV-118"])["posts_v"]
        if not value:
            with pytest.raises(Unread, match=told):
                read_for(one, test, pause=lambda _: None)
            return
        found = read_for(one, test, pause=lambda _: None)
        assert found.value == pytest.approx(value)
        assert found.still is (told == "still")


def _saying(server: socket.socket, shown: list[float]) -> None:
    talk, _ = server.accept()
    answers = iter(["Maker,Meter,1,1", *map(str, shown)])
    with talk, talk.makefile("rwb") as lines:
        for _line in lines:
            lines.write(f"{next(answers)}\n".encode())
            lines.flush()


def test_where_it_hunts_the_rig_waits_for_it_to_charge() -> None:
    """A bad return that makes it start and stop: whenever the probes are put, it has just begun to give all it can."""
    vehicle = RigVehicle(jobs()["KV-118"], spoilt("joint.supply_back"))
    for _ in range(12):
        vehicle.wait(7.0)
        test = vehicle.prepare("supply_back_mv")
        assert vehicle.read(test) > 600.0  # 47 A through 12 mΩ too many and the return itself
        vehicle.wait(3.0)
        assert vehicle.read(test) > 600.0


TRIES = 3  # each by the wall's clock
PACE = 15.0  # times as fast as a day: a slow look then comes a few seconds late, not half a minute


@pytest.mark.parametrize("code", ["RR-031", "KV-118"])
def test_the_bench_programme_runs_on_the_rigs_supply(code: str) -> None:
    """Every step does what the programme says, by the supply's own current; once more where the machine stood still."""
    for _ in range(TRIES):
        wrong = bench_wrongs(code)
        if not wrong:
            break
    assert wrong == []


def bench_wrongs(code: str) -> list[str]:
    """What a bench test finds wrong with a sound unit, run on the rig."""
    made = Rig(jobs()[code], speed=PACE)
    try:
        programme = bench_test_of(made.vehicle.ctx)
        unit = made.design.charger
        assert programme is not None
        assert unit is not None
        run = list(bench_run(programme, "127.0.0.1", made.ports[1], unit.input_max_v, PACE))
    finally:
        made.close()
    assert [step.name for step in run] == [step.name for step in programme.steps]
    return [step.text for step in run if not step.right]


def test_the_rigs_supply_holds_its_volts_under_the_bench_load() -> None:
    """Of a 12 to 24 V unit, too: at every step the volts are those it is turned to. Turned down to 1 A it cannot hold them."""
    unit = charger(output_nominal_v=24, output_min_v=20.0, output_max_v=32.0)
    bank = {"chemistry": "agm", "nominal_v": 24, "capacity_ah": 110.0, "charge_limit_a": 30.0, "absorption_v": 28.8}
    by_volts = {"ways": ["voltage"], "start_v": 13.3, "start_held_s": 0.0, "stop_v": 12.9, "stop_held_s": 5.0}
    ctx = Context.of(design(charger=unit, auxiliary=bank, activation=by_volts))
    programme = bench_test_of(ctx)
    assert programme is not None
    now = 0.0
    supply = supply_of(ctx, Clock(now=lambda: now))

    def reads(volts: float) -> tuple[float, float]:
        nonlocal now
        supply.answer(f"VOLT {volts}")
        now += 2.0
        return float(supply.answer("MEAS:VOLT?") or "nan"), float(supply.answer("MEAS:CURR?") or "nan")

    for line in programme.scpi.splitlines()[:5]:
        supply.answer(line)
    drawn = 0.0
    for step in programme.steps:
        volts, amps = reads(step.volts)
        assert volts == pytest.approx(step.volts)
        drawn = max(drawn, amps)
    assert 5.0 < drawn < 10.0
    supply.answer("CURR 1")
    assert min(reads(13.8)[0] for _ in range(30)) < 5.0


def test_any_fault_is_one_the_design_can_have() -> None:
    """By its number the same, hidden; one that is not there is refused with the names there are."""
    one, hidden = chosen_fault(jobs()["KV-118"], "any", 7)
    assert hidden
    assert one.words == chosen_fault(jobs()["KV-118"], "any", 7)[0].words
    with pytest.raises(NotThere, match="healthy"):
        chosen_fault(jobs()["KV-118"], "gremlin", 1)
