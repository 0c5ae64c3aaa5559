"""A battery monitor and how it is wired."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from olvask.core.model.base import ONCE, Described, quantity, several, tick
from olvask.core.model.settings import SettingsRecord

Bypass = Literal["unit", "solar", "mains", "built_in", "loads", "inverter", "chassis", "monitor_feed"]
BYPASSES: dict[Bypass, str] = {
    "unit": "the unit",
    "solar": "the solar controller",
    "mains": "a mains or portable charger",
    "built_in": "a built-in charger",
    "loads": "loads",
    "inverter": "the inverter",
    "chassis": "a chassis strap",
    "monitor_feed": "the monitor's own feed",
}


class MonitorUnit(Described):
    """What a monitor's sheet says of it."""

    name: str = Field("", title="Battery monitor", max_length=80)
    maker: str = Field("", title="Its maker", max_length=80)
    shunt_a: float | None = quantity("Shunt rated", "A", default=None, gt=0, le=5000, example=300)
    zero_error_ma: float | None = quantity(
        "Zero error", "mA", default=None, ge=0, le=5000, example=10, help="What it may count with nothing flowing."
    )
    own_draw_ma: float | None = quantity("Its own draw", "mA", default=None, ge=0, le=5000, example=5)
    settings: SettingsRecord | None = Field(None, title="Settings record")


class Monitor(Described):
    """The monitor of a job: what it is, and what goes past its shunt."""

    unit: MonitorUnit | None = Field(None, title="Monitor")
    price: float | None = quantity("Price of monitor", "€", default=None, ge=0, le=1e5, example=96, step=1)
    bypassed_by: Annotated[tuple[Bypass, ...], ONCE] = several(
        "Past the shunt go",
        BYPASSES,
        help="Negatives that sit on the battery's own post, so that the shunt does not see their current.",
    )
    unmetered_ma: float | None = quantity(
        "Unmetered loads",
        "mA",
        default=None,
        ge=0,
        le=20000,
        example=20,
        step=5,
        help="Trackers and the like on the post.",
    )
    shows_percent: float | None = quantity("It shows", "%", default=None, ge=0, le=100, example=76, step=1)
    rested_v: float | None = quantity("Battery rested at", "V", default=None, gt=0, le=80, example=13.2, step=0.01)
    synchronised: bool = tick("Synchronised at a true full")
