"""Every unit of a shelf fitted to a job, fully judged and ranked.

- `rank_units`: the whole shelf, by cost of the installed choice, charge returned per driving hour, and margin.
- `ranking`: the same of a large shelf as it goes, the likeliest units first.
- `next_unit`: the next stronger or weaker unit of the same voltages.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from pydantic import Field

from olvask.core.analyses import fit
from olvask.core.analyses.fit import Allowed, Fitted, setting_of
from olvask.core.analyses.lay import Paths
from olvask.core.catalogue import NoStandardSize
from olvask.core.circuit.facts import Facts, gather
from olvask.core.findings.said import Said
from olvask.core.model import Cable, Charger, Design, ProtectiveDevice, Run
from olvask.core.stages.build.bill import CATALOGUE_PRICES, Prices
from olvask.core.stages.match.energy import rate_ah_per_h
from olvask.core.stages.match.limits import Limit


class UnitVerdict(Said):
    """One unit of the shelf judged for a job, with its own cheapest passing cables and devices."""

    id: str
    name: str
    isolated: bool
    output_a: float
    unit_price: float = Field(description="€ for one unit")
    fit: Literal["fits", "turned_down", "no"]
    set_to_a: float | None
    cautious: bool = Field(description="something short of a stop speaks against it")
    reason: str
    binding: str = Field(description="key of the limit that binds; empty where it was refused before")
    price: float | None = Field(description="€ for everything on the bill; none where it does not fit")
    rate_ah_per_h: float | None = Field(description="charge returned per driving hour, after loads and losses")
    margin: float | None = Field(description="room under the binding limit, as a share of the current, up to 1")
    score: float | None = Field(description="0 to 100 by the job's weights")
    supply: str = Field(description="cables and device of the supply run, in one line")
    delivery: str = Field(description="cables and device of the delivery run, in one line")


# Cautions that speak against a unit even where every other has them too.
THE_UNITS_OWN = {
    "match.isolated_wanted",
    "match.alternator_budget",
    "match.heat",
    "match.split_loses",
    "match.priority_loses",
    "match.daily_need",
}


def rank_units(design: Design, units: Iterable[Charger], prices: Prices = CATALOGUE_PRICES) -> list[UnitVerdict]:
    """Judge and rank every unit.

    Args:
        design: the job; its own unit, setting and sizes are left aside, its paths and choices hold.
        units: the shelf.
        prices: the workshop's own prices.

    What cannot be used comes last, units with a caution of their own after clean ones, the rest by the job's
    weights. A caution that every usable unit carries is the job's, and speaks against none of them; how it is
    started is decided in Wake.
    """
    *_, last = ranking(design, tuple(units), prices)
    return [] if last is None else list(last.units)


@dataclass(frozen=True, slots=True)
class Ranking:
    """Units ranked so far.

    Attributes:
        units: those weighed, the best first.
        of: how many units there are.
    """

    units: tuple[UnitVerdict, ...]
    of: int


FIRST = 24  # units weighed before the first answer: what one screen shows
BREATH = 8  # units weighed between two chances to stop


def ranking(design: Design, units: Sequence[Charger], prices: Prices = CATALOGUE_PRICES) -> Iterator[Ranking | None]:
    """Judge and rank every unit, telling after the first few, at each doubling, and at the end; nothing in between.

    Args:
        design: the job; its own unit, setting and sizes are left aside, its paths and choices hold.
        units: the shelf.
        prices: the workshop's own prices.

    Of a large shelf those come first that need no turning down and whose current comes nearest to what the battery and
    the alternator allow. The last answer hangs on no order.
    """
    facts = gather(design)
    paths = Paths.of(design, facts, prices)
    allowed = Allowed.of(design, facts)
    looked = [(unit, *setting_of(design, facts, unit, allowed)) for unit in units]
    weighed: list[_Usable | UnitVerdict] = [_refused(unit, None, refusal) for unit, refusal, _ in looked if refusal]
    hopeful = [(unit, setting_a) for unit, refusal, setting_a in looked if not refusal]
    hopeful.sort(key=lambda item: (item[1] is not None, -item[0].output_a))
    before = _weighed_before(_without_choice(design), repr(prices))
    tell = FIRST
    for at, (unit, setting_a) in enumerate(hopeful):
        if at == tell:
            yield Ranking(tuple(_ranked(design, weighed)), len(units))
            tell *= 2
        elif at % BREATH == 0:
            yield None
        known = before.get(unit.id)
        if known is None or known[0] is not unit:
            known = before[unit.id] = (unit, _weigh(design, facts, paths, unit, setting_a))
        weighed.append(known[1])
    yield Ranking(tuple(_ranked(design, weighed)), len(units))


@lru_cache(maxsize=4)
def _weighed_before(_job: str, _prices: str) -> dict[str, tuple[Charger, _Usable | UnitVerdict]]:
    """What has been weighed for one job so far, by number; other weights or another choice weigh nothing anew."""
    return {}


def _without_choice(design: Design) -> str:
    """A job but for what a fitted unit leaves aside: the unit chosen, its setting, the weights, where values came from."""
    weights = {"rank_cost", "rank_rate", "rank_margin"}
    return design.model_dump_json(
        exclude={"charger": True, "current_limit_a": True, "provenance": True, "choices": weights}
    )


def _ranked(design: Design, weighed: list[_Usable | UnitVerdict]) -> list[UnitVerdict]:
    """Verdicts, the best first."""
    usable = [item for item in weighed if isinstance(item, _Usable)]
    shared = set.intersection(*({id for id, _, _ in item.findings} for item in usable)) if usable else set()
    shared -= THE_UNITS_OWN
    scale = _Scale.of(design, usable)
    verdicts = [_usable(item, shared, scale) if isinstance(item, _Usable) else item for item in weighed]
    return sorted(
        verdicts, key=lambda item: (item.fit == "no", item.cautious, -(item.score or 0.0), item.unit_price, item.id)
    )


def next_unit(design: Design, units: Iterable[Charger], by: int) -> Charger | None:
    """The next stronger (`by` 1) or weaker (-1) unit of the job's voltages; none beyond the last.

    Args:
        design: the job.
        units: the shelf.
        by: which way.
    """
    voltages = (design.vehicle.system_v, design.auxiliary.nominal_v)
    fitting = sorted(
        (unit for unit in units if (unit.input_nominal_v, unit.output_nominal_v) == voltages),
        key=lambda unit: (unit.output_a, unit.name, unit.id),
    )
    now = None if design.charger is None else design.charger.id
    at = next((here for here, unit in enumerate(fitting) if unit.id == now), -1 if by > 0 else 1)
    return fitting[at + by] if 0 <= at + by < len(fitting) else None


@dataclass(frozen=True, slots=True)
class _Usable:
    """What is kept of a unit that can be used: enough to rank it by any weights."""

    unit: Charger
    setting_a: float | None
    price: float
    rate_ah_per_h: float
    margin: float
    findings: tuple[tuple[str, str, str], ...]
    binding: Limit
    supply: str
    delivery: str


@dataclass(frozen=True, slots=True)
class _Scale:
    """What a score is measured against: the cheapest and the strongest usable unit, and the job's weights."""

    least_price: float
    most_rate: float
    cost: float
    rate: float
    margin: float

    @classmethod
    def of(cls, design: Design, usable: list[_Usable]) -> _Scale:
        choices = design.choices
        total = (choices.rank_cost + choices.rank_rate + choices.rank_margin) or 1.0
        return cls(
            min((item.price for item in usable), default=0.0),
            max((item.rate_ah_per_h for item in usable), default=0.0),
            100 * choices.rank_cost / total,
            100 * choices.rank_rate / total,
            100 * choices.rank_margin / total,
        )

    def score(self, item: _Usable) -> float:
        cost = self.least_price / item.price if item.price > 0 else 1.0
        rate = item.rate_ah_per_h / self.most_rate if self.most_rate > 0 else 0.0
        return round(self.cost * cost + self.rate * rate + self.margin * item.margin, 1)


def _weigh(design: Design, facts: Facts, paths: Paths, unit: Charger, setting_a: float | None) -> _Usable | UnitVerdict:
    try:
        fitted = fit.fitted(design, facts, paths, unit, setting_a)
    except NoStandardSize as error:
        return _refused(unit, setting_a, str(error))
    stop = next((item for item in fitted.findings if item.level == "stop"), None)
    if stop is not None:
        return _refused(unit, setting_a, _lower(stop.title), _binding(fitted).key)
    used_a = fitted.solved.output.yield_a if fitted.solved.output is not None else 0.0
    room = (fitted.ruler.allowed_a or 0.0) / used_a - 1 if used_a > 0 else 0.0
    return _Usable(
        unit=unit,
        setting_a=setting_a,
        price=fitted.price,
        rate_ah_per_h=rate_ah_per_h(fitted.design, fitted.solved),
        margin=min(1.0, max(0.0, room)),
        findings=tuple((item.id, item.stage, item.title) for item in fitted.findings),
        binding=_binding(fitted),
        supply=_in_words(fitted.design.supply),
        delivery=_in_words(fitted.design.delivery),
    )


def _in_words(run: Run) -> str:
    """Cables and device of a run in one line."""
    sizes = dict.fromkeys(piece.size for piece in run.pieces if isinstance(piece, Cable))
    rated = [f"{piece.rating_a:g} A" for piece in run.pieces if isinstance(piece, ProtectiveDevice)]
    return f"{' + '.join(sizes)}, {' + '.join(rated)}"


def _lower(title: str) -> str:
    return title[0].lower() + title[1:]


def _binding(fitted: Fitted) -> Limit:
    return next(item for item in fitted.ruler.limits if item.binding)


def _refused(unit: Charger, setting_a: float | None, reason: str, binding: str = "") -> UnitVerdict:
    return UnitVerdict.model_construct(
        id=unit.id,
        name=unit.name,
        isolated=unit.isolated,
        output_a=unit.output_a,
        unit_price=unit.price,
        fit="no",
        set_to_a=setting_a,
        cautious=False,
        reason=reason,
        binding=binding,
        price=None,
        rate_ah_per_h=None,
        margin=None,
        score=None,
        supply="",
        delivery="",
    )


def _usable(item: _Usable, shared: set[str], scale: _Scale) -> UnitVerdict:
    unit, binding = item.unit, item.binding
    own = [title for id, stage, title in item.findings if id not in shared and stage != "wake"]
    reason = f"{_lower(binding.label)} binds at {binding.amps or 0.0:.0f} A"
    if own:
        reason = f"caution: {_lower(own[0])}; {reason}"
    return UnitVerdict.model_construct(
        id=unit.id,
        name=unit.name,
        isolated=unit.isolated,
        output_a=unit.output_a,
        unit_price=unit.price,
        fit="fits" if item.setting_a is None else "turned_down",
        set_to_a=item.setting_a,
        cautious=bool(own),
        reason=reason,
        binding=binding.key,
        price=round(item.price, 2),
        rate_ah_per_h=item.rate_ah_per_h,
        margin=item.margin,
        score=scale.score(item),
        supply=item.supply,
        delivery=item.delivery,
    )
