"""A job as a JSON file: written, read back with every error located, and its schema.

Files of version 1 are brought up to version 2 as they are read.
"""

from __future__ import annotations

import hashlib
import json
from typing import Any, Literal

from pydantic import Field, ValidationError

from olvask.core.model import Design
from olvask.core.model.base import Described
from olvask.core.model.earlier import design_from_1
from olvask.core.model.entry_checks import first_faults
from olvask.core.model.entry_errors import EntryError, entry_errors


class JobFile(Described):
    """The document: a job's heading and its design."""

    format: Literal["olvask-job"] = "olvask-job"
    version: Literal[2] = 2
    title: str = Field(title="Title", min_length=1, max_length=120)
    code: str = Field("", title="Job number", max_length=40)
    customer: str = Field("", title="Customer", max_length=120)
    design: Design = Field(title="Design")


class BadJobFile(ValueError):
    """The file cannot be taken; `errors` says every reason with its place."""

    def __init__(self, found: list[EntryError]) -> None:
        super().__init__("; ".join(f"{item.path or 'file'}: {item.message}" for item in found))
        self.errors = found


def read_job_file(raw: bytes) -> JobFile:
    """Read a job file.

    Args:
        raw: the file's bytes.

    Raises:
        BadJobFile: it is not text, not JSON, or does not fit the schema; all errors are listed.
    """
    try:
        document = json.loads(raw.decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise BadJobFile(
            [_whole(f"not text in UTF-8 (byte {error.start}); choose a job file saved by Olvask")]
        ) from None
    except json.JSONDecodeError as error:
        where = f"not JSON: {error.msg} at line {error.lineno}, column {error.colno}"
        raise BadJobFile([_whole(where)]) from None
    except ValueError:
        raise BadJobFile([_whole("a number in it has thousands of digits")]) from None
    except RecursionError:
        raise BadJobFile([_whole("nested too deeply to be a job file")]) from None
    odd = first_faults(document, JobFile)
    if odd:
        raise BadJobFile(odd)
    if not isinstance(document, dict) or document.get("format") != "olvask-job":
        entry = EntryError(path="format", field="Format", message='not a job file: "format" must be "olvask-job"')
        raise BadJobFile([entry])
    if document.get("version", 1) == 1 and isinstance(document.get("design"), dict):
        document = document | {"version": 2, "design": design_from_1(document["design"])}
    try:
        return JobFile.model_validate(document)
    except ValidationError as error:
        raise BadJobFile(entry_errors(error, JobFile, document)) from None


def _whole(message: str) -> EntryError:
    return EntryError(path="", field="File", message=message)


def write_job_file(job: JobFile) -> str:
    """Write a job file as indented JSON, ending in a newline."""
    return json.dumps(job.model_dump(mode="json"), ensure_ascii=False, indent=2) + "\n"


def checksum(job: JobFile) -> str:
    """SHA-256 of a job file, hexadecimal, so that a paper can be held against what is stored."""
    return hashlib.sha256(write_job_file(job).encode()).hexdigest()


def job_file_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the job file."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **JobFile.model_json_schema()}
