"""Jobs as plain JSON values: which task, which fields; one job, a list of them, or a list that shares fields."""

import math
from collections.abc import Callable, Collection
from dataclasses import dataclass
from typing import Final

from engine.errors import BadInput, EngineError, OutOfRange, OutOfTime, Unknown, WrongType
from engine.reading import ZONES_MOST, Job, JsonObject, a_list, an_object
from engine.tasks import TASKS

JOBS_LIMIT: Final = 10_000


@dataclass(frozen=True, kw_only=True)
class Bounds:
    """What whoever runs jobs for others lets them have.

    most: jobs in a list. tasks: those that are run. zones: in one job, each of which may take as long as a job without.
    seconds: after which no further job of a list is begun, by a clock
    that whoever runs them brings.
    """

    most: int = JOBS_LIMIT
    tasks: Collection[str] = tuple(TASKS)
    zones: int = ZONES_MOST
    seconds: float = math.inf
    clock: Callable[[], float] = float  # which stands still


UNBOUND: Final = Bounds()


def run_all(jobs: object, bounds: Bounds = UNBOUND) -> object:
    """The answer to a job, or the list of answers to a list of them or to `{"with": {...}, "jobs": [...]}`.

    In a list, a bad job gets its `error` object in its place, and so does one for which no time is left; a single bad
    job raises. What stands under `with` is taken by each job whose task knows it and that does not bring its own.
    """
    if isinstance(jobs, dict) and "jobs" in jobs:
        return run_all(_sharing(an_object("job", jobs, frozenset({"with", "jobs"})), bounds), bounds)
    if not isinstance(jobs, list):
        return run(jobs, bounds)
    if len(jobs) > bounds.most:
        raise OutOfRange("jobs", len(jobs), 0, bounds.most)
    ends_at = bounds.clock() + bounds.seconds
    return [_run_or_explain(job, index, bounds, ends_at) for index, job in enumerate(jobs)]


def _sharing(given: Job, bounds: Bounds) -> list[object]:
    """Each job with what it shares. Raises Unknown for what no task knows, WrongType, OutOfRange."""
    shared = an_object("with", given.get("with", {}))
    known = frozenset[str]().union(*(task.fields for task in TASKS.values()))
    for name in shared:
        if name not in known:
            raise Unknown("with", name, sorted(known))
    return [with_shared(job, shared) for job in a_list("jobs", given["jobs"], bounds.most)]


def with_shared(job: object, shared: Job) -> object:
    """A job with what its task knows of what is shared, and it does not bring itself; a bad one as it is."""
    task = job.get("task") if isinstance(job, dict) else None
    if not isinstance(job, dict) or not isinstance(task, str) or task not in TASKS:
        return job  # which is refused in its place
    return {**{name: each for name, each in shared.items() if name in TASKS[task].fields}, **job}


def run(given: object, bounds: Bounds = UNBOUND) -> JsonObject:
    """The answer to one job. Raises BadInput."""
    job = an_object("job", given)
    task = job.get("task")
    if not isinstance(task, str):
        raise WrongType("task", task, f"one of {', '.join(TASKS)}")
    if task not in bounds.tasks:
        raise Unknown("task", task, bounds.tasks)
    zones = job.get("zones")
    if isinstance(zones, dict | list) and len(zones) > bounds.zones:
        raise OutOfRange("zones (entries)", len(zones), 1, bounds.zones)
    for name in job:
        if name != "task" and name not in TASKS[task].fields:
            raise Unknown("job", name, sorted(TASKS[task].fields))
    return {"task": task, **TASKS[task].perform(job)}


def error_object(error: EngineError) -> JsonObject:
    """An error as the command line shows it."""
    field = error.field if isinstance(error, BadInput) else ""
    return {"error": {"code": error.code, "field": field, "message": str(error)}}


def _run_or_explain(job: object, index: int, bounds: Bounds, ends_at: float) -> JsonObject:
    try:
        if bounds.clock() > ends_at:
            raise OutOfTime(bounds.seconds)
        return run(job, bounds)
    except BadInput as error:
        explained = error_object(error)
        explained["index"] = index
        return explained
