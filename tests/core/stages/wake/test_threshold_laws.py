"""Laws of the proposed thresholds, over random surveys: inside their windows, in order, on the unit's own steps."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from olvask.core.analyses.cures import candidates
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import solve
from olvask.core.circuit.thresholds import Rule, Thresholds, set_thresholds
from olvask.core.findings.remedy import apply
from olvask.core.model import Cable, Design, StartRule, StopRule
from olvask.core.simulate.machine import settings_of
from tests.core.analyses.test_recommended import survey
from tests.core.test_laws import COUNT
from tests.designs import cable, charger, design, fuse, mark

SEED = st.integers(0, 100_000)
FIXED = {"start_rules": ("fixed_v",), "stop_rules": ("fixed_v",), "guard": ("fixed_off_v", "fixed_back_v")}


def job_of(seed: int) -> Design:
    """A random survey, settings left to the proposals."""
    job = survey(random.Random(seed))[0]
    assert job.charger is not None
    free = {place: getattr(job.charger, place).model_copy(update=dict.fromkeys(keys)) for place, keys in FIXED.items()}
    return job.model_copy(update={"charger": job.charger.model_copy(update=free)})


def thresholds_of(job: Design) -> Thresholds:
    """Its windows and proposals."""
    return set_thresholds(job, solve(job))


def changed(job: Design, part: str, **values: object) -> Design:
    """The job with some values of one part changed."""
    return job.model_copy(update={part: getattr(job, part).model_copy(update=values)})


@COUNT
@given(SEED)
def test_proposals_lie_in_their_windows_where_those_are_open(seed: int) -> None:
    """Start and stop keep the margin to rest, and to running where a step of the unit finds room there."""
    at = thresholds_of(job_of(seed))
    unit_holds = at.start_v >= at.floor_v - 1e-6 and at.stop_v >= at.floor_v - 1e-6
    assert unit_holds
    if at.start_high_v - at.floor_v >= at.step_v and at.start_v != at.stop_v and not at.stops_in_phase:
        assert at.start_v <= at.start_high_v + 1e-6
    if at.stop_high_v is not None and at.stop_high_v - at.floor_v >= at.step_v:
        assert at.stop_v <= at.stop_high_v + 1e-6


@COUNT
@given(SEED)
def test_guard_stop_and_start_stand_in_order(seed: int) -> None:
    """Guard under stop, stop not over start, its return over it by what the load's sag gives back."""
    at = thresholds_of(job_of(seed))
    assert at.guard_v < at.stop_v <= at.start_v
    assert at.back_least_v > at.guard_v


@COUNT
@given(SEED)
def test_proposals_fit_the_units_ranges_and_steps(seed: int) -> None:
    """What is proposed can be keyed in: within the range, a whole number of steps."""
    job = job_of(seed)
    unit, at = job.charger, thresholds_of(job)
    assert unit is not None
    record = unit.start_rules
    if record.from_v is None or record.to_v is None or record.step_v is None:
        return
    for volts in (at.start_v, at.stop_v, at.guard_v, at.back_v):
        assert record.from_v - 1e-9 <= volts <= record.to_v + 1e-9
        steps = volts / record.step_v
        assert steps == pytest.approx(round(steps), abs=1e-4)


@COUNT
@given(SEED, st.floats(0.0, 0.4), st.floats(0.01, 0.3))
def test_a_wider_margin_never_opens_a_window(seed: int, margin_v: float, more_v: float) -> None:
    """Asking for more on either side leaves windows narrower by twice that.

    The stop's upper edge is the low phase's while a stop under it is possible, else that of the loaded volts. A wider
    margin may leave no room under the phase: then it is given up, and only then the edge is another one.
    """
    job = job_of(seed)
    near, far = (thresholds_of(changed(job, "choices", margin_v=value)) for value in (margin_v, margin_v + more_v))
    assert far.start_high_v - far.floor_v <= near.start_high_v - near.floor_v - 2 * more_v + 1e-6
    if near.stop_high_v is None or far.stop_high_v is None:
        return
    if under_the_phase(near) and not under_the_phase(far):
        assert far.loaded_phase_v is not None
        assert far.loaded_phase_v - far.margin_v < far.floor_v + 1e-9
    else:
        assert far.stop_high_v - far.floor_v <= near.stop_high_v - near.floor_v - 2 * more_v + 1e-6


def under_the_phase(at: Thresholds) -> bool:
    """Whether the low phase, and not the loaded volts, holds the stop's upper edge."""
    assert at.stop_high_v is not None
    assert at.loaded_low_v is not None
    return at.stop_high_v < at.loaded_low_v - at.margin_v - 1e-9


@COUNT
@given(SEED)
def test_more_copper_never_narrows_the_stop_window(seed: int) -> None:
    """The same run in 50 mm² lifts the loaded volts, so the stop window's upper edge only rises."""
    job = job_of(seed)
    thick = tuple(
        piece.model_copy(update={"size": "50 mm²"}) if isinstance(piece, Cable) else piece
        for piece in job.supply.pieces
    )
    before, after = thresholds_of(job), thresholds_of(changed(job, "supply", pieces=thick))
    assert after.loaded_low_v is not None
    assert before.loaded_low_v is None or after.loaded_low_v >= before.loaded_low_v - 1e-9
    assert after.floor_v == before.floor_v


@COUNT
@given(SEED, st.floats(0.05, 1.0))
def test_less_current_never_lowers_the_loaded_volts(seed: int, share: float) -> None:
    """Turned down, a unit sags its input less, and the return it needs comes nearer."""
    job = job_of(seed)
    unit = job.charger
    assert unit is not None
    before, after = thresholds_of(job), thresholds_of(job.model_copy(update={"current_limit_a": unit.output_a * share}))
    assert after.back_least_v <= before.back_least_v + 1e-9
    if before.loaded_low_v is not None:
        assert after.loaded_low_v is not None
        assert after.loaded_low_v >= before.loaded_low_v - 1e-9


@COUNT
@given(SEED, st.floats(12.0, 14.4), st.floats(12.0, 14.4))
def test_what_is_typed_is_what_acts(seed: int, start_v: float, stop_v: float) -> None:
    """A typed threshold is taken to the letter, by the findings and by the simulator alike."""
    starts = (StartRule(at_least_v=start_v), StartRule(at_least_v=start_v + 0.3, held_s=1.0))
    stops = (StopRule(below_v=stop_v), StopRule(below_v=stop_v - 0.2, held_s=3.0))
    job = changed(job_of(seed), "activation", start_rules=starts, stop_rules=stops)
    solved = solve(job)
    at, acts = set_thresholds(job, solved), settings_of(job, solved)
    assert at.start_rules == acts.start_rules == (Rule(start_v, 10.0), Rule(start_v + 0.3, 1.0))
    assert at.stop_rules == acts.stop_rules == (Rule(stop_v, 30.0), Rule(stop_v - 0.2, 3.0))
    assert (acts.guard_v, acts.back_v) == (at.guard_v, at.back_v)


@COUNT
@given(SEED, st.sampled_from(["start", "stop"]), st.floats(0.0, 1.0))
def test_what_is_proposed_beside_what_is_typed_keeps_order_and_steps(seed: int, which: str, share: float) -> None:
    """A start or a stop typed anywhere in its window, on the step or off it: the other is on the step, and they stand in order."""
    job = job_of(seed)
    bare = changed(job, "activation", ways=("voltage",), start_rules=(StartRule(),), stop_rules=(StopRule(),))
    at = thresholds_of(bare)
    least_v, most_v = at.floor_v + 2 * at.step_v, at.start_high_v - at.step_v
    if not at.stop_window_open or at.stop_high_v is None or least_v > min(most_v, at.stop_high_v):
        return
    if which == "start":
        volts = least_v + share * (most_v - least_v)
        typed = changed(bare, "activation", start_rules=(StartRule(at_least_v=round(volts, 3)),))
    else:
        volts = least_v + share * (min(most_v, at.stop_high_v) - least_v)
        typed = changed(bare, "activation", stop_rules=(StopRule(below_v=round(volts, 3)),))
    unit, found = job.charger, thresholds_of(typed)
    assert unit is not None
    record = unit.stop_rules if which == "start" else unit.start_rules
    proposed = found.stop_v if which == "start" else found.start_v
    if proposed in (record.from_v, record.to_v):  # the unit goes no further
        return
    assert found.stop_v <= found.start_v + 1e-6
    assert proposed / at.step_v == pytest.approx(round(proposed / at.step_v), abs=1e-4)


@COUNT
@given(SEED, st.permutations([0.05, 0.1, 0.25, 0.3]))
def test_whatever_a_remedy_sets_the_unit_can_be_set_to(seed: int, steps: list[float]) -> None:
    """Start, stop and guard of different steps: no way out, and no change that the tolerances try, lies between two of them."""
    job = job_of(seed)
    assert job.charger is not None
    stepped = {
        place: getattr(job.charger, place).model_copy(update={"step_v": step_v * job.vehicle.system_v / 12})
        for place, step_v in zip(FIXED, steps, strict=False)
        if getattr(job.charger, place).settable
    }
    job = changed(job, "charger", **stepped)
    found = assess(job).findings
    offered = [remedy for item in found for remedy in item.remedies] + [*candidates(job, solve(job))]
    known = {item.id for item in found}
    for remedy in filter(None, offered):
        new = [item for item in assess(apply(job, remedy)).findings if item.id not in known]
        assert not [item for item in new if item.id.startswith(("wake.step", "wake.range"))], remedy.label


@COUNT
@given(SEED)
def test_a_start_at_once_is_proposed_only_where_it_tells_volts_apart(seed: int) -> None:
    """Over the lowest running volts and the delayed start, under the highest by the margin; taken, nothing speaks against it."""
    job = job_of(seed)
    at = thresholds_of(job)
    if at.quick_start_proposal_v is None:
        assert at.unloaded_high_v - at.margin_v - at.step_v < max(at.unloaded_low_v, at.start_v) + 1e-6
        return
    assert max(at.unloaded_low_v, at.start_v) < at.quick_start_proposal_v <= at.unloaded_high_v - at.margin_v + 1e-6
    quick = StartRule(at_least_v=at.quick_start_proposal_v, held_s=0.0)
    taken = changed(job, "activation", start_rules=(*job.activation.start_rules, quick))
    said = ("wake.start_parked.", "wake.start_tight.", "wake.start_hides.", "wake.start_unreached.")
    assert not [item.id for item in assess(taken).findings if item.id.startswith(said)]


def test_an_allowance_for_the_draw_lowers_what_it_holds_to() -> None:
    """Judged on V + I·R the guard lets the terminals lower by I·R: volts at the posts; the battery alone rebounds.

    6 m of 25 mm², ends and device make 6 to 7 mΩ.
    """
    job = design(activation={"ways": ["d_plus"], "guard_v": 12.4}, charger=charger(compensated=True))
    ctx = Context.of(job)
    ohm = ctx.thresholds.guard_ohm
    assert 0.006 < ohm < 0.007
    watts = ctx.thresholds.input_w
    assert ctx.hold_v + watts / ctx.hold_v * ohm == pytest.approx(12.4)
    assert assess(job).figures["wake.guard_mohm"].value == pytest.approx(1000 * ohm)


class TestFixed:
    """A unit whose thresholds nobody can set: they count as they are, and have to be known."""

    STIFF = charger(settable=None)
    KNOWN = charger(settable=None, fixed_start_v=13.3, fixed_stop_v=12.9, fixed_off_v=12.1)

    def test_what_the_manual_says_is_in_force(self) -> None:
        """Start, stop and guard are the unit's own; the return, of which it says nothing, is reckoned."""
        job = design(charger=self.KNOWN, activation={"ways": ["voltage"]})
        at = settings_of(job, solve(job))
        assert (at.start_rules[0].volts, at.stop_rules[0].volts, at.guard_v) == (13.3, 12.9, 12.1)
        assert at.back_v > 12.1
        found = assess(job)
        assert found.figures["wake.start_v"].formula == "fixed in the unit"
        # 12.1 V stands between 12.06 V at 40 % and 12.28 V at 60 %: not the 60 % the job asks to keep.
        assert mark(found, "guard").margin_text == "keeps 44 % to crank"
        assert not [item.id for item in found.findings if item.stage == "wake" and item.level == "stop"]

    def test_typed_in_they_are_refused_and_left_to_the_unit(self) -> None:
        """A start of one's own cannot be keyed in: a stop, and the way out leaves it to the unit."""
        job = design(charger=self.KNOWN, activation={"ways": ["voltage"], "start_v": 13.5})
        wrong = next(item for item in assess(job).findings if item.id == "wake.range.start.0")
        assert wrong.level == "stop"
        assert "13.30 V" in wrong.text
        assert "wake.range.start.0" not in {item.id for item in assess(apply(job, wrong.remedies[0])).findings}

    def test_a_stop_above_the_loaded_volts_hunts_and_no_proposal_cures_it(self) -> None:
        """Fixed at 13.6 V over what 6 m of 10 mm² leave: only cable, current or a signal are offered, and each cures it."""
        stiff = charger(settable=None, fixed_start_v=13.7, fixed_stop_v=13.6)
        thin = {"pieces": [fuse(60.0), cable("10 mm²", 6.0)]}
        job = design(charger=stiff, supply=thin, activation={"ways": ["voltage"]})
        hunting = next(item for item in assess(job).findings if item.id == "wake.hunts")
        assert hunting.remedies
        for way in hunting.remedies:
            assert "wake.hunts" not in {item.id for item in assess(apply(job, way)).findings}, way.label

    def test_too_near_the_rest_volts_only_a_signal_helps(self) -> None:
        """Fixed at 12.8 V, 0.1 V over a 12.7 V rest, with running volts far above: no copper is sold for that."""
        near = charger(settable=None, fixed_start_v=13.3, fixed_stop_v=12.8)
        tight = next(
            item
            for item in assess(design(charger=near, activation={"ways": ["voltage"]})).findings
            if item.id == "wake.stop_tight"
        )
        assert [change.path for way in tight.remedies for change in way.changes] == ["activation.ways"]

    def test_unknown_ones_are_asked_for(self) -> None:
        """Engine-run detection without a word on its volts: said so while it is used, and not otherwise."""
        said = [
            "wake.thresholds_unknown"
            in {item.id for item in assess(design(charger=self.STIFF, activation={"ways": ways})).findings}
            for ways in (["voltage"], ["d_plus"])
        ]
        assert said == [True, False]
