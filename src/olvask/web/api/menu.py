"""A device's menu as a file: read into lines with every error located, and written out."""

from __future__ import annotations

from typing import Any

from flask import Response, request

from olvask.core.model.entry_errors import EntryError
from olvask.core.model.settings import SettingsRecord
from olvask.documents.menu_file import read_menu, write_menu
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json
from olvask.web.shapes import Out


class MenuOut(Out):
    """Lines of a menu as read, and what is wrong with the rest."""

    lines: tuple[dict[str, Any], ...]
    errors: tuple[EntryError, ...]


@api.post("/menu/read")
@api.output(MenuOut)
def menu_read() -> Response:
    """Read a menu from CSV; nothing is stored."""
    found = read_menu(request.get_data())
    return answer_json(MenuOut(lines=found.lines, errors=found.errors))


@api.post("/menu.csv")
@api.input(SettingsRecord, arg_name="record")
def menu_write(record: SettingsRecord) -> Response:
    """Write a menu as CSV."""
    return Response(write_menu(record), mimetype="text/csv")
