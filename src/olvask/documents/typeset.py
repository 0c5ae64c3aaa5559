"""A page typeset from a template of this folder, with the faces that ship."""

from __future__ import annotations

import json
from collections.abc import Mapping
from importlib.resources import as_file, files
from typing import Any


def typeset(template: str, data: Mapping[str, Any], svg: str = "") -> bytes:
    """A PDF from a template.

    Args:
        template: its file name.
        data: what the template reads.
        svg: a drawing it shows; empty for none.
    """
    # Typst is loaded only when something is printed: it is the largest thing the server can hold.
    import typst

    inputs = {"data": json.dumps(data, ensure_ascii=False)} | ({"svg": svg} if svg else {})
    package = files("olvask.documents")
    with as_file(package.joinpath(template)) as file, as_file(package.joinpath("fonts")) as fonts:
        pdf = typst.compile(str(file), font_paths=[str(fonts)], ignore_system_fonts=True, sys_inputs=inputs)
    if not isinstance(pdf, bytes):
        raise TypeError("a single document was expected")
    return pdf
