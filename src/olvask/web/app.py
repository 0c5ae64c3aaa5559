"""The application factory."""

from __future__ import annotations

import mimetypes
from dataclasses import dataclass, field
from html import escape
from pathlib import Path

from apiflask import APIFlask
from flask import Response, abort, g, request, send_from_directory

from olvask import __version__
from olvask.core.model.house import Units
from olvask.store import Stores
from olvask.store.faults import StorageFault
from olvask.web import guard, problems, signing_in
from olvask.web.api import api, shelf_api
from olvask.web.gate import Gate
from olvask.web.reach import house_now
from olvask.web.spec import finish
from olvask.work.spread import Here, Spread

BUILT = Path(__file__).parent / "app"
PACKED = (("br", ".br"), ("gzip", ".gz"))  # the smaller first
MOST_BYTES = 4 * 1024 * 1024
NOT_BUILT = "<!doctype html><title>Olvask</title><p>The screens are not built yet. Run <code>make demo</code>.</p>"


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
    app.extensions["olvask.spread"] = config.spread
    guard.install(app, config.hosts)
    signing_in.install(app, config.sign_in)
    app.add_url_rule("/", "page", _page)
    app.add_url_rule("/<path:path>", "file", _file)
    return app


def bare_app() -> APIFlask:
    """The API alone, without store or screens: enough to write its OpenAPI document."""
    app = APIFlask("olvask", title="Olvask", version=__version__, docs_path=None, spec_path="/api/openapi.json")
    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES
    app.config["AUTO_404_RESPONSE"] = False
    app.spec_processor(finish)
    problems.install(app)
    app.register_blueprint(api)
    app.register_blueprint(shelf_api)
    return app


def _page() -> Response:
    """The one page, its style nonce and the house's units put in."""
    index = BUILT / "index.html"
    text = index.read_text(encoding="utf-8") if index.exists() else NOT_BUILT
    try:
        units = house_now().units
    except StorageFault:
        units = Units()  # the page says what is wrong with the store
    filled = {
        "__NONCE__": g.nonce,
        "__UNITS__": escape(units.model_dump_json(), quote=True),
        "__ASKS__": "yes" if signing_in.required() else "no",
    }
    for place, words in filled.items():
        text = text.replace(place, words)
    response = Response(text, mimetype="text/html")
    response.headers["Cache-Control"] = "no-store"
    return response


def _packed(path: str) -> Response:
    """A built asset, as packed when it was built where the browser takes that."""
    for coding, ending in PACKED:
        if request.accept_encodings[coding] > 0 and (BUILT / f"{path}{ending}").is_file():
            response = send_from_directory(BUILT, f"{path}{ending}", mimetype=mimetypes.guess_type(path)[0])
            response.headers["Content-Encoding"] = coding
            break
    else:
        response = send_from_directory(BUILT, path)
    response.headers["Vary"] = "Accept-Encoding"
    return response


def _file(path: str) -> Response:
    """A built file, or the page for an address the screens route themselves."""
    if path.startswith("api/"):
        abort(404)
    if path.startswith("assets/"):
        response = _packed(path)
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response
    if "." in path.rsplit("/", 1)[-1]:
        response = send_from_directory(BUILT, path)
        response.headers["Cache-Control"] = "no-cache"  # the list of files and the worker go with each build
        return response
    return _page()
