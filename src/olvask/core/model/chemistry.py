"""The chemistries a battery may have, with the words shown for them."""

from __future__ import annotations

from typing import Literal

ChemistryName = Literal["flooded", "agm", "gel", "lfp"]
CHEMISTRIES: dict[ChemistryName | None, str] = {
    "flooded": "flooded lead-acid",
    "agm": "AGM",
    "gel": "gel",
    "lfp": "LFP",
}
MAYBE_CHEMISTRY: dict[ChemistryName | None, str] = {None: "not known"} | CHEMISTRIES
