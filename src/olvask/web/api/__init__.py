"""The endpoints under /api, a module a stage or thing, each with its shapes beside it."""

from olvask.web.api import (
    assessment,
    build,
    build_log,
    device_logs,
    handover,
    house,
    instruments,
    jobs,
    logbook,
    match,
    menu,
    prove,
    quote,
    recall,
    run,
    settings,
    signing,
    survey,
    wake,
)
from olvask.web.api.blueprint import api
from olvask.web.api.shelf import shelf_api

__all__ = [
    "api",
    "assessment",
    "build",
    "build_log",
    "device_logs",
    "handover",
    "house",
    "instruments",
    "jobs",
    "logbook",
    "match",
    "menu",
    "prove",
    "quote",
    "recall",
    "run",
    "settings",
    "shelf_api",
    "signing",
    "survey",
    "wake",
]
