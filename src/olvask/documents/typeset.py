"""A page typeset from a template of this folder, with the faces that ship."""

from __future__ import annotations

import json
from base64 import b64decode
from collections.abc import Mapping
from importlib.resources import as_file, files
from typing import Any

from olvask.core.model.house import House
from olvask.documents.house_units import data_in_units, svg_in_units

NO_HOUSE = House()
NAMES = frozenset({"title", "code", "customer", "checksum", "printed", "version", "made", "valid"})  # no sentences


def typeset(template: str, data: Mapping[str, Any], svg: str = "", house: House = NO_HOUSE) -> bytes:
    """A PDF from a template, in the units of the house and under its name.

    Args:
        template: its file name.
        data: what the template reads.
        svg: a drawing it shows; empty for none.
        house: the house rules.
    """
    units, shop = house.units, house.workshop
    lines = [line for line in (shop.mark, *shop.address, shop.contact) if line]
    named = {"name": shop.name, "lines": lines, "picture": list(b64decode(shop.picture))}
    said = {key: value if key in NAMES else data_in_units(value, units) for key, value in data.items()}
    said["house"] = named
    # Typst is loaded only when something is printed: it is the largest thing the server can hold.
    import typst

    inputs = {"data": json.dumps(said, ensure_ascii=False)} | ({"svg": svg_in_units(svg, units)} if svg else {})
    package = files("olvask.documents")
    with as_file(package.joinpath(template)) as file, as_file(package.joinpath("fonts")) as fonts:
        pdf = typst.compile(str(file), font_paths=[str(fonts)], ignore_system_fonts=True, sys_inputs=inputs)
    if not isinstance(pdf, bytes):
        raise TypeError("a single document was expected")
    return pdf
