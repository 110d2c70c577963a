"""Forecasts as a service: jobs of the engine from outside, bounded in length, kind and time."""

import json
import time
from typing import Any, Final, NoReturn

from django.core.exceptions import RequestDataTooBig
from django.http import HttpRequest, HttpResponse
from ninja.errors import HttpError

from engine.errors import BadInput
from engine.jobs import Bounds, run, run_all, with_shared
from studio.api.problems import problem

BYTES_MOST: Final = 262_144
# Those that forecast, or find a bowl: none that learns, plans, or tries many ways for seconds.
TASKS: Final = ("predict", "spread", "fade", "steer", "reach", "read", "match", "pour", "chain")
BOUNDS: Final = Bounds(most=100, tasks=TASKS, zones=8, seconds=2.0, clock=time.monotonic)


def jobs_in(request: HttpRequest) -> Any:
    """What a request's body holds. Raises HttpError 413, 415, 400."""
    if request.content_type != "application/json":
        raise HttpError(415, "send jobs as application/json")
    too_long = HttpError(413, f"at most {BYTES_MOST} bytes of jobs are read at once: send them in several lists")
    if int(request.META.get("CONTENT_LENGTH") or 0) > BYTES_MOST:
        raise too_long
    try:
        return json.loads(request.body.decode(), parse_constant=_refuse)
    except RequestDataTooBig:
        raise too_long from None
    except (ValueError, RecursionError) as error:
        raise HttpError(400, f"the body is not JSON: {error}") from None


def forecasts(jobs: Any, shared: dict[str, Any]) -> Any:
    """The answers; what is shared goes to each job that has not its own. Raises BadInput for what is no list of jobs.

    A single job that is refused raises; in a list it is refused in its place.
    """
    if isinstance(jobs, list):
        return run_all({"with": shared, "jobs": jobs}, BOUNDS)
    if isinstance(jobs, dict) and "jobs" in jobs:
        own = jobs.get("with", {})
        return run_all({**jobs, "with": shared | own if isinstance(own, dict) else own}, BOUNDS)
    return run(with_shared(jobs, shared), BOUNDS)


def explained(error: BadInput) -> HttpResponse:
    """A refused job as a problem, with its field and the engine's own code."""
    return problem(422, str(error), code=error.code, field=error.field)


def _refuse(name: str) -> NoReturn:
    raise ValueError(f"it holds {name}, and JSON has no such number")
