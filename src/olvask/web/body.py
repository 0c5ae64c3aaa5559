"""Request bodies: read straight into their model, every error located."""

from __future__ import annotations

import json
import re
from typing import Any

from apiflask.schema_adapters import registry
from apiflask.schema_adapters.pydantic import PydanticAdapter
from flask import Request
from pydantic import BaseModel, ValidationError

from olvask.core.model.entry_checks import first_faults
from olvask.core.model.entry_errors import EntryError, entry_errors

LARGE = 200_000  # bytes; a design has some ten thousand
# What `entry_checks` would find, as it may be written in JSON: escaped, or in UTF-8.
ODD = re.compile(
    rb"\\u(?:00[0189]|007f|202[a-e]|206[6-9]|d[89a-f]|fff[ef])|\\[bf]"
    rb"|\x7f|\xc2[\x80-\x9f]|\xe2(?:\x80[\xaa-\xae]|\x81[\xa6-\xa9])|\xef\xbf[\xbe\xbf]",
    re.IGNORECASE,
)


class BadInput(ValueError):
    """A request body that does not fit; `errors` says where and why."""

    def __init__(self, found: list[EntryError]) -> None:
        super().__init__("; ".join(f"{item.path}: {item.message}" for item in found))
        self.errors = found


class LocatedAdapter(PydanticAdapter):
    """Reads a JSON body straight into its model; every error keeps its place and the field's label."""

    def validate_input(self, request: Request, location: str, **kwargs: Any) -> BaseModel:
        """Validate the body.

        Raises:
            BadInput: it is not JSON or does not fit.
        """
        model: type[BaseModel] = self.model_class
        if location == "query":
            asked = request.args.to_dict()
            try:
                return model.model_validate(asked)
            except ValidationError as error:
                raise BadInput(entry_errors(error, model, asked)) from None
        if location != "json":
            return super().validate_input(request, location, **kwargs)
        raw = request.get_data(cache=False)
        if len(raw) > LARGE or ODD.search(raw):
            faults = first_faults(_plain(raw), model)
            if faults:
                raise BadInput(faults)
        try:
            return model.model_validate_json(raw)
        except ValidationError as error:
            raise BadInput(entry_errors(error, model, _plain(raw))) from None


def _plain(raw: bytes) -> Any:
    """A body as plain data; nothing where it is not JSON at all."""
    try:
        return json.loads(raw)
    except (ValueError, RecursionError):
        return None


def install() -> None:
    """Make every endpoint declared from now on read its body this way."""
    registry.register("pydantic", LocatedAdapter)
