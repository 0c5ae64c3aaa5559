"""The application factory."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

from apiflask import APIFlask
from flask import Response, abort, g, request, send_from_directory

from olvask import __version__
from olvask.core.model.house import Units
from olvask.store.faults import StorageFault
from olvask.store.stores import Stores
from olvask.turns import Turns
from olvask.web import guard, problems, signing_in
from olvask.web.addresses import Address
from olvask.web.api import api, shelf_api
from olvask.web.gate import Gate
from olvask.web.page import BUILT, PACKED, PAGE_KEPT, PARTS_KEPT, is_page, packed, rest, top
from olvask.web.reach import house_now
from olvask.web.spec import finish
from olvask.work.spread import Here, Spread

MOST_BYTES = 4 * 1024 * 1024


@dataclass(frozen=True)
class Config:
    """What the server needs to know.

    Attributes:
        database: SQLite file, or the address of a PostgreSQL database.
        hosts: host names served besides loopback.
        sign_in: whether everybody has to say who they are.
        spread: where work over the whole yard is done.
    """

    database: Path | str
    hosts: frozenset[str] = field(default_factory=frozenset)
    sign_in: bool = False
    spread: Spread = field(default_factory=Here)


def create_app(config: Config) -> APIFlask:
    """Make the application.

    Args:
        config: database and hosts.

    Raises:
        StorageFault: the database cannot be opened; what to do is said.
    """
    app = bare_app()
    app.extensions["olvask.stores"] = Stores.open(config.database)
    app.extensions["olvask.gate"] = Gate()
    app.extensions["olvask.turns"] = Turns()
    app.extensions["olvask.spread"] = config.spread
    guard.install(app, config.hosts)
    signing_in.install(app, config.sign_in)
    app.add_url_rule("/", "page", _page)
    app.add_url_rule("/<path:path>", "file", _file)
    return app


def bare_app() -> APIFlask:
    """The API alone, without store or screens: enough to write its OpenAPI document."""
    app = APIFlask("olvask", title="Olvask", version=__version__, docs_path=None, spec_path="/api/openapi.json")
    app.url_rule_class = Address
    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES
    app.config["AUTO_404_RESPONSE"] = False
    app.spec_processor(finish)
    problems.install(app)
    app.register_blueprint(api)
    app.register_blueprint(shelf_api)
    return app


def _page() -> Response:
    """The one page, its style nonce and the house's units put in."""
    try:
        units = house_now().units
    except StorageFault:
        units = Units()  # the page says what is wrong with the store
    response = Response(top(g.nonce) + rest(units.model_dump_json(), signing_in.required()), mimetype="text/html")
    response.headers["Cache-Control"] = PAGE_KEPT
    return response


def _part(path: str) -> Response:
    """A part of the page, as packed when it was built where the browser takes that."""
    taken = request.accept_encodings
    part = packed(path, {coding for coding, _ in PACKED if taken[coding] > 0})
    response = send_from_directory(BUILT, part.file, mimetype=part.kind)
    if part.coding is not None:
        response.headers["Content-Encoding"] = part.coding
    response.headers["Vary"] = "Accept-Encoding"
    response.headers["Cache-Control"] = PARTS_KEPT
    return response


def _file(path: str) -> Response:
    """A built file, or the page for an address the screens route themselves."""
    if path.startswith("api/"):
        abort(404)
    if path.startswith("assets/"):
        return _part(path)
    if is_page(path):
        return _page()
    response = send_from_directory(BUILT, path)
    response.headers["Cache-Control"] = "no-cache"  # the list of files and the worker go with each build
    return response
