"""Request bodies: read straight into their model, every fault located."""

from __future__ import annotations

from typing import Any

from apiflask.schema_adapters import registry
from apiflask.schema_adapters.pydantic import PydanticAdapter
from flask import Request
from pydantic import BaseModel, ValidationError

from olvask.core.model.entry_errors import Fault, faults


class BadInput(ValueError):
    """A request body that does not fit; `faults` says where and why."""

    def __init__(self, found: list[Fault]) -> None:
        super().__init__("; ".join(f"{fault.path}: {fault.message}" for fault in found))
        self.faults = found


class LocatedAdapter(PydanticAdapter):
    """Reads a JSON body straight into its model; every fault keeps its place and the field's label."""

    def validate_input(self, request: Request, location: str, **kwargs: Any) -> BaseModel:
        """Validate the body.

        Raises:
            BadInput: it is not JSON or does not fit.
        """
        if location != "json":
            return super().validate_input(request, location, **kwargs)
        model: type[BaseModel] = self.model_class
        try:
            return model.model_validate_json(request.get_data(cache=False))
        except ValidationError as error:
            raise BadInput(faults(error, model)) from None


def install() -> None:
    """Make every endpoint declared from now on read its body this way."""
    registry.register("pydantic", LocatedAdapter)
