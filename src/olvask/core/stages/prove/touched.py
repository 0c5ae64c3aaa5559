"""Which conductors of the diagram a test looks at.

- `touched`: their names.
"""

from __future__ import annotations

from olvask.core.model import RunName
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.prove.prove_test import ProveTest

BACK = "−"
METERS = ("meter", "clamp", "milliamp", "supply, meter")  # a look, a thermometer and an app touch none


def touched(scene: Scene, test: ProveTest) -> tuple[str, ...]:
    """Names of the conductors between the probes, or at the one place they are.

    Args:
        scene: the design with its conductors.
        test: where its probes go.
    """
    run = _run(test)
    if run is None or not test.needs.startswith(METERS):
        return ()
    names = [name for piece in scene.design.run(run).pieces for name in scene.names((piece.id,))]
    names += scene.names((f"{run}.back",))
    red, black = test.red_at, test.black_at
    ends = {place.rstrip("-").removesuffix(".out") for place in (red, black) if place}
    if len(ends) == 2:  # from end to end, on one side of it
        back = red.endswith("-") and black.endswith("-")
        return tuple(name for name in names if name.endswith(BACK) is back)
    at_end = _near_end(run, red)
    pairs = [[name for name in names if name.endswith(BACK) is back] for back in (False, True)]
    here = [side[-1 if at_end else 0] for side in pairs if side]
    if black and black != red:
        return tuple(here)
    return tuple(here[-1:] if red.endswith("-") else here[:1])


def _run(test: ProveTest) -> RunName | None:
    if "delivery" in test.key or test.red_at.startswith(("charger.out", "auxiliary")):
        return "delivery"
    if "supply" in test.key or test.red_at.startswith(("charger", "start_battery")):
        return "supply"
    return None


def _near_end(run: RunName, place: str) -> bool:
    """Whether a place is where the run ends rather than where it begins."""
    return place.startswith("charger") if run == "supply" else place.startswith("auxiliary")
