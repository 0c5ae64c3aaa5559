"""How far a job is: what of its work is done, and what comes next."""

from __future__ import annotations

from flask import Response
from pydantic import Field

from olvask.core.analyses.how_far import HowFar, how_far
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.stages.build.progress import progress_of
from olvask.web.api.blueprint import api
from olvask.web.api.signing import vouching
from olvask.web.reach import answer_json, stores


class HowFarOut(HowFar):
    """The same with whether it is signed off."""

    signed: bool = Field(description="whether the newest revision is signed off and stands")


@api.get("/jobs/<int:job_id>/how-far")
@api.output(HowFarOut)
def job_how_far(job_id: int) -> Response:
    """Lines keyed, steps done and tests right of a stored job; what comes next."""
    job, states = stores().jobs.get(job_id), progress_of(stores().build.entries(job_id))
    found = assess(job.design, remedies=False, words=False)
    far = how_far(Context.of(job.design), found, states, stores().meters())
    return answer_json(HowFarOut(**dict(far), signed=vouching(job) is not None))
