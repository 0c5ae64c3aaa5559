"""Match: does the unit suit the vehicle, the alternator and the battery, and what binds."""

from __future__ import annotations

from olvask.core.circuit.solve import Solved
from olvask.core.findings.assessment import LinkContrast, Ruler
from olvask.core.findings.collector import Ledger
from olvask.core.model import Design
from olvask.core.stages.match.direct_link import contrast_link
from olvask.core.stages.match.energy import daily_floor_a, judge_energy, judge_need
from olvask.core.stages.match.isolation import judge_isolation, judge_kind
from olvask.core.stages.match.limits import build_ruler, judge_current
from olvask.core.stages.match.sources import judge_sources
from olvask.core.stages.match.space import judge_space
from olvask.core.stages.survey.bank import judge_bank


def judge_match(design: Design, solved: Solved, ledger: Ledger, hold_v: float) -> tuple[Ruler, LinkContrast | None]:
    """All of Match: kind, isolation, energy, sources, limits, the contrast with a link.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where figures and findings go.
        hold_v: voltage the charger's terminals must stay above [V].
    """
    judge_kind(design, solved, ledger)
    judge_isolation(design, ledger)
    judge_bank(design, solved, ledger)
    judge_energy(design, solved, ledger)
    judge_sources(design, solved, ledger)
    judge_space(design, ledger)
    floor_a = daily_floor_a(design, solved, ledger)
    ruler, budgets = build_ruler(design, solved, ledger, hold_v, floor_a)
    judge_current(design, solved, ledger, budgets)
    judge_need(design, solved, ledger, floor_a, ruler.site_a)
    if ledger.verdicts_only:
        return ruler, None
    return ruler, contrast_link(design, solved, ledger, budgets.of(design.choices.alternator_school))
