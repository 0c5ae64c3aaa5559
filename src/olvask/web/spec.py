"""The OpenAPI document: each schema stands in it once; answers and errors are told as they are answered.

- `finish`: all of it, in order.
- `tell_media`: papers, drawings, tables and answers of many lines by their own media types; bodies that must be there.
- `tell_problems`: every operation answers errors as problem details.
- `share_schemas`: what is nested in several bodies under a name of each (`SaveJob.Design`) becomes one (`Design`).
"""

from __future__ import annotations

import json
import re
from typing import Any, cast

from pydantic.json_schema import models_json_schema

from olvask.web.problems import MEDIA_TYPE, StaleProblem
from olvask.web.reach import LINES
from olvask.web.shapes import Problem

PLACE = "#/components/schemas/"
REFERENCE = re.compile(rf'"{PLACE}(?:\w+\.)*(\w+)"')
STALE = ("/api/jobs/{job_id}", "put")
MEDIA = {  # how an address ends: what it answers
    ".pdf": "application/pdf",
    ".svg": "image/svg+xml",
    ".csv": "text/csv",
    ".zip": "application/zip",
    ".jpg": "image/jpeg",
    "/file.{ending}": ("text/csv", "application/json"),
    "/trip/run": LINES,
    "/api/match": LINES,
    "/tolerance": LINES,
    "/tolerance/cures": LINES,
    "/api/recall": LINES,
    "/api/yard/work": LINES,
    "/logs/take": LINES,
}
FILES = {
    "/api/jobs/import": "application/json",
    "/api/shelf/{name}/import": "text/csv",
    "/api/jobs/{job_id}/build/photographs": "image/jpeg",
    "/api/house/picture": "image/png",
    "/api/jobs/{job_id}/logs/take": "text/csv",
    "/api/log-kinds/look": "text/csv",
    "/api/log-kinds/{kind}/try": "text/csv",
}  # bodies that are files


def finish(spec: dict[str, Any] | str) -> dict[str, Any] | str:
    """What the framework has gathered, put right.

    Args:
        spec: an OpenAPI document.

    Raises:
        TypeError: it is already written out.
    """
    if isinstance(spec, str):
        raise TypeError("the document is finished before it is written out")
    spec["paths"] = {path: found for path, found in spec["paths"].items() if path.startswith("/api/")}
    return share_schemas(tell_media(tell_problems(spec)))


def _answer(model: type[Problem], description: str) -> dict[str, Any]:
    return {"description": description, "content": {MEDIA_TYPE: {"schema": {"$ref": PLACE + model.__name__}}}}


def tell_problems(spec: dict[str, Any]) -> dict[str, Any]:
    """Put the problem that every refusal answers in place of the framework's own shape.

    Args:
        spec: an OpenAPI document.
    """
    schemas = spec["components"]["schemas"]
    schemas.pop("ValidationError", None)
    _, told = models_json_schema(
        [(Problem, "serialization"), (StaleProblem, "serialization")], ref_template=PLACE + "{model}"
    )
    schemas.update({f"Problem.{name}": schema for name, schema in told["$defs"].items()})
    for path, operations in spec["paths"].items():
        for verb, operation in operations.items():
            if "responses" not in operation:
                continue
            operation["responses"].pop("422", None)
            operation["responses"]["default"] = _answer(Problem, "What is wrong, and the remedy")
            if "{" in path:
                operation["responses"]["404"] = _answer(Problem, "Not there")
            if (path, verb) == STALE:
                operation["responses"]["409"] = _answer(StaleProblem, "Saved elsewhere since")
    return spec


def tell_media(spec: dict[str, Any]) -> dict[str, Any]:
    """Say what each address answers that is no single JSON document, and which bodies must be sent.

    Args:
        spec: an OpenAPI document.
    """
    for path, operations in spec["paths"].items():
        for verb, operation in operations.items():
            if "responses" not in operation:
                continue
            if verb in ("post", "put") and path in FILES:
                content = {FILES[path]: {"schema": {"type": "string"}}}
                operation["requestBody"] = {"content": content, "required": True}
            elif "requestBody" in operation:
                operation["requestBody"]["required"] = True
            told = next((media for ending, media in MEDIA.items() if path.endswith(ending)), None)
            if told is not None and not (told == LINES and verb == "get"):
                kinds = (told,) if isinstance(told, str) else told
                line = operation["responses"]["200"].get("content", {}).get("application/json", {}).get("schema")
                schema = line if told == LINES else {"type": "string"}
                operation["responses"]["200"]["content"] = {kind: {"schema": schema} for kind in kinds}
    return spec


def share_schemas(spec: dict[str, Any]) -> dict[str, Any]:
    """Give every schema its own bare name.

    Args:
        spec: an OpenAPI document whose nested schemas carry the name of the body they stand in.

    Raises:
        ValueError: two different schemas have the same bare name.
    """
    shared = cast(dict[str, Any], json.loads(REFERENCE.sub(rf'"{PLACE}\1"', json.dumps(spec))))
    found: dict[str, Any] = {}
    for name, schema in shared["components"]["schemas"].items():
        bare = name.rsplit(".", 1)[-1]
        if found.setdefault(bare, schema) != schema:
            raise ValueError(f"two schemas are called {bare}: give one of them another name")
    shared["components"]["schemas"] = dict(sorted(found.items()))
    return shared
