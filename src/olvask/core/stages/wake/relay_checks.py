"""The relay that opens an old link, judged: what nobody makes, what D+ cannot drive, what a wire cannot carry.

- `judge_relay`: findings on it.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.findings.finding import Found, caution, stop
from olvask.core.findings.remedy import remedy
from olvask.core.model import Design
from olvask.core.stages.run.devices import CONTINUOUS_FACTOR
from olvask.core.stages.wake.relay import BREAK_CONTACT_A, RelayDesign, feed_ampacity

RELAY = ("old_link.relay_place",)


def judge_relay(design: Design, relay: RelayDesign) -> Iterator[Found]:
    """Contact, coil, the line that drives it, and the wire of its feed.

    Args:
        design: the design.
        relay: the relay.
    """
    if relay.contact_a is None:
        elsewhere = remedy("Put the relay in the start-battery feed", ("old_link.relay_place", "start_feed"))
        yield stop(
            "wake.relay_contact",
            "start_battery",
            "No break contact is made that large",
            f"{relay.duty_a:.0f} A asks for {CONTINUOUS_FACTOR * relay.duty_a:.0f} A on 87a; {BREAK_CONTACT_A[-1]:.0f} A is the "
            "largest. Split the loads over two relays, or put it in the start-battery feed.",
            [elsewhere] if relay.place == "auxiliary_feed" else [],
            RELAY,
        )
    if not relay.coil_fits:
        yield caution(
            "wake.relay_coil",
            "alternator",
            "The coil is too much for D+",
            f"Coil, suppression and enable draw {relay.total_ma:.0f} mA, D+ gives {relay.d_plus_ma:.0f} mA: the charge lamp "
            "may glow or the alternator not excite. Take a relay with a lighter coil, or drive it by a small one.",
            concerns=("old_link.coil_ma", "old_link.d_plus_ma"),
        )
    yield from _signal(design)
    yield from _feed(design, relay)


def _signal(design: Design) -> Iterator[Found]:
    """The line that drives its coil, where nobody has found one."""
    signals, ready = design.vehicle.signals, design.vehicle.ready_fed
    if signals.ignition if ready else signals.d_plus:
        return
    path = "vehicle.signals.ignition" if ready else "vehicle.signals.d_plus"
    yield caution(
        "wake.relay_signal",
        "alternator",
        f"No {'ready feed' if ready else 'D+'} surveyed for the relay's coil",
        "The relay opens by a line that is live only while the vehicle is ready. Find it and note it."
        if ready
        else "The relay opens by a line that is live only while the engine runs. Find it and note it; an ignition feed opens "
        "it with the key on and the engine off as well.",
        [remedy("It is there: note it in the survey", (path, True))],
        (path,),
    )


def _feed(design: Design, relay: RelayDesign) -> Iterator[Found]:
    carries_a = feed_ampacity(design)
    if carries_a is None or relay.contact_fuse_a is None or relay.contact_fuse_a <= carries_a:
        return
    yield stop(
        "wake.relay_wire",
        "start_battery",
        "The feed's wire is too thin for its fuse",
        f"{relay.duty_a:.0f} A wants a {relay.contact_fuse_a:.0f} A fuse; {design.old_link.feed_mm2:g} mm² carries "
        f"{carries_a:.0f} A. Take a thicker wire through the relay.",
        concerns=("old_link.feed_mm2",),
    )
