"""Errors as problem details (RFC 9457)."""

from __future__ import annotations

import logging

from apiflask import APIFlask
from flask import Response
from werkzeug.exceptions import HTTPException, MethodNotAllowed

from olvask.core.analyses.fit import CannotFit
from olvask.core.analyses.quote import NothingToGive
from olvask.core.analyses.signing import CannotSign
from olvask.core.analyses.size_ladder import NotACable
from olvask.core.catalogue import NoStandardSize
from olvask.core.model.entry_errors import EntryError
from olvask.core.practice.bench import BadMove
from olvask.core.practice.drills.drill import BadAnswer, NoSuchDrill
from olvask.documents.job_file import BadJobFile
from olvask.instruments.reading import Unread
from olvask.instruments.wire import Silent
from olvask.logs.sniff import BadLog
from olvask.store.build_log import NoSuchPhotograph, TooMuchNoted
from olvask.store.customers import NoSuchCustomer
from olvask.store.device_logs import NoSuchLog, TooManyLogs
from olvask.store.faults import StorageFault
from olvask.store.house import StaleHouse
from olvask.store.instruments import NoSuchInstrument, TooManyInstruments
from olvask.store.jobs import NoSuchJob, StaleSave, UnreadableJob
from olvask.store.options import NoSuchOption, TooManyOptions
from olvask.store.passwords import CannotJoin
from olvask.store.people import NoSuchPerson, SignInRefused
from olvask.store.photographs import BadPhotograph
from olvask.store.practice import NoSuchSet, SetExists
from olvask.store.quotes import NoSuchQuote, TooManyQuotes
from olvask.store.shelf import NoSuchItem, StaleItem
from olvask.store.signatures import MovedOn, NoSuchSignature, SignedAlready
from olvask.web.api.jobs import JobOut
from olvask.web.body import BadInput
from olvask.web.gate import TooMany
from olvask.web.shapes import Problem
from olvask.web.signing_in import NotSignedIn, OwnersAlone, TooOften

MEDIA_TYPE = "application/problem+json"
REMEDY = {
    404: "There is nothing at this address.",
    405: "This address does not take that kind of request.",
    413: "The file is too large; a job file is well under a megabyte.",
    415: "Send JSON.",
}


class StaleProblem(Problem):
    """A refused save, with what is stored."""

    stored: JobOut


def _answer(problem: Problem) -> Response:
    return Response(problem.model_dump_json(), status=problem.status, mimetype=MEDIA_TYPE)


def _bad_input(error: Exception) -> Response:
    if not isinstance(error, BadInput | BadJobFile):
        raise error
    count = len(error.errors)
    title = "The file cannot be taken" if isinstance(error, BadJobFile) else "Some entries need mending"
    return _answer(
        Problem(title=title, status=422, detail=f"{count} to mend; nothing was changed.", errors=tuple(error.errors))
    )


def _not_a_cable(error: Exception) -> Response:
    entry = EntryError(path="place", field="Place", message=str(error))
    return _answer(Problem(title="No cable there", status=422, detail=str(error), errors=(entry,)))


def _not_possible(error: Exception) -> Response:
    return _answer(Problem(title="Not possible as it stands", status=422, detail=str(error)))


def _clash(error: Exception) -> Response:
    entry = EntryError(path="document.id", field="Shelf number", message=str(error))
    return _answer(Problem(title="Not stored", status=409, detail=str(error), errors=(entry,)))


def _not_now(error: Exception) -> Response:
    return _answer(Problem(title="Not signed", status=409, detail=str(error)))


def _missing(error: Exception) -> Response:
    return _answer(Problem(title="Not there", status=404, detail=f"There is {error.args[0]}."))


def _no_job(error: Exception) -> Response:
    return _answer(Problem(title="No such job", status=404, detail=f"There is {error.args[0]} here."))


def _unreadable(error: Exception) -> Response:
    if not isinstance(error, UnreadableJob):
        raise error
    return _answer(
        Problem(
            title="This job cannot be read",
            status=422,
            detail="What is stored does not fit. Nothing was changed; take the job file, mend it and import it, or go "
            "back to an earlier revision.",
            errors=error.spoilt.why,
        )
    )


def _stale(error: Exception) -> Response:
    if not isinstance(error, StaleSave):
        raise error
    stored = error.stored
    problem = StaleProblem(
        title="Saved elsewhere since",
        status=409,
        detail=f"The stored job is at version {stored.version}. Nothing was overwritten; choose which to keep.",
        stored=JobOut.of(stored),
    )
    return _answer(problem)


def _beyond(_error: Exception) -> Response:
    return _answer(Problem(title="Not there", status=404, detail="No job or version has a number that large."))


def _not_signed_in(_error: Exception) -> Response:
    return _answer(
        Problem(title="Sign in first", status=401, detail="This server asks who you are. Sign in, or join by a code.")
    )


def _owners_alone(_error: Exception) -> Response:
    return _answer(Problem(title="For owners", status=403, detail="An owner of the workshop may do this; ask one."))


def _waits(error: Exception) -> Response:
    if not isinstance(error, SignInRefused | TooOften):
        raise error
    wait_s = max(1, round(error.wait_s))
    if error.wait_s <= 0:
        return _answer(
            Problem(title="Not signed in", status=401, detail="Name and password do not fit; type them again.")
        )
    text = f"Too many tries. Wait {wait_s} s, then try again; who is signed in already stays so."
    answer = _answer(Problem(title="Not now", status=429, detail=text))
    answer.headers["Retry-After"] = str(wait_s)
    return answer


def _stale_house(_error: Exception) -> Response:
    detail = (
        "Somebody else saved the house rules since. Nothing was overwritten; look at theirs, then save yours again."
    )
    return _answer(Problem(title="Saved elsewhere since", status=409, detail=detail))


def _storage(error: Exception) -> Response:
    if not isinstance(error, StorageFault):
        raise error
    kind = error.kind
    logging.getLogger("olvask").error("storage: %s (%s)", kind.title, error.detail)
    answer = _answer(Problem(title=kind.title, status=kind.status, detail=kind.remedy))
    if kind.again_s is not None:
        answer.headers["Retry-After"] = str(kind.again_s)
    return answer


def _silent(error: Exception) -> Response:
    return _answer(Problem(title="No answer", status=424, detail=str(error)))


def _too_many(_error: Exception) -> Response:
    detail = "Several long questions are being worked on. Ask again in a moment; what you typed is kept."
    answer = _answer(Problem(title="Busy with other questions", status=503, detail=detail))
    answer.headers["Retry-After"] = "2"
    return answer


def _http(error: Exception) -> Response:
    if not isinstance(error, HTTPException):
        raise error
    status = error.code or 500
    answer = _answer(Problem(title=error.name, status=status, detail=REMEDY.get(status, error.description or "")))
    if isinstance(error, MethodNotAllowed) and error.valid_methods:
        answer.headers["Allow"] = ", ".join(sorted(error.valid_methods))
    return answer


def _unexpected(error: Exception) -> Response:
    logging.getLogger("olvask").exception("unexpected error", exc_info=error)
    return _answer(
        Problem(title="Olvask made a mistake", status=500, detail="Your entries are kept. Reload and try once more.")
    )


def install(app: APIFlask) -> None:
    """Make `app` answer every error as a problem, located where it can be."""

    app.register_error_handler(BadInput, _bad_input)
    app.register_error_handler(BadJobFile, _bad_input)
    app.register_error_handler(NotACable, _not_a_cable)
    app.register_error_handler(NoSuchJob, _no_job)
    for kind in (
        NoSuchItem,
        NoSuchOption,
        NoSuchPhotograph,
        NoSuchQuote,
        NoSuchInstrument,
        NoSuchLog,
        NoSuchSignature,
        NoSuchPerson,
        NoSuchCustomer,
        NoSuchSet,
        NoSuchDrill,
    ):
        app.register_error_handler(kind, _missing)
    for refusal in (
        CannotFit,
        NoStandardSize,
        TooManyOptions,
        TooMuchNoted,
        TooManyQuotes,
        TooManyInstruments,
        TooManyLogs,
        BadLog,
        BadPhotograph,
        Unread,
        CannotSign,
        NothingToGive,
        CannotJoin,
        BadMove,
        BadAnswer,
        SetExists,
    ):
        app.register_error_handler(refusal, _not_possible)
    app.register_error_handler(UnreadableJob, _unreadable)
    app.register_error_handler(StaleItem, _clash)
    app.register_error_handler(StaleSave, _stale)
    app.register_error_handler(StaleHouse, _stale_house)
    app.register_error_handler(NotSignedIn, _not_signed_in)
    app.register_error_handler(OwnersAlone, _owners_alone)
    for slow in (SignInRefused, TooOften):
        app.register_error_handler(slow, _waits)
    app.register_error_handler(StorageFault, _storage)
    app.register_error_handler(OverflowError, _beyond)
    app.register_error_handler(Silent, _silent)
    for moved in (MovedOn, SignedAlready):
        app.register_error_handler(moved, _not_now)
    app.register_error_handler(TooMany, _too_many)
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(Exception, _unexpected)
