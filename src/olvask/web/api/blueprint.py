"""The blueprint every group of endpoints hangs its own on."""

from __future__ import annotations

from apiflask import APIBlueprint

from olvask.web import body

body.install()  # before the first endpoint is declared
api = APIBlueprint("api", __name__, url_prefix="/api", tag="Olvask")
