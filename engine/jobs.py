"""Jobs as plain JSON values: which task, which fields, one job or a list of them."""

from typing import Final

from engine.errors import BadInput, EngineError, OutOfRange, Unknown, WrongType
from engine.reading import JsonObject, an_object
from engine.tasks import TASKS

JOBS_LIMIT: Final = 10_000


def run_all(jobs: object) -> object:
    """The answer to a job, or the list of answers to a list of them.

    In a list, a bad job gets its `error` object in its place; a single bad job raises.
    """
    if not isinstance(jobs, list):
        return run(jobs)
    if len(jobs) > JOBS_LIMIT:
        raise OutOfRange("jobs", len(jobs), 0, JOBS_LIMIT)
    return [_run_or_explain(job, index) for index, job in enumerate(jobs)]


def run(given: object) -> JsonObject:
    """The answer to one job. Raises BadInput."""
    job = an_object("job", given)
    task = job.get("task")
    if not isinstance(task, str):
        raise WrongType("task", task, f"one of {', '.join(TASKS)}")
    if task not in TASKS:
        raise Unknown("task", task, TASKS)
    for name in job:
        if name != "task" and name not in TASKS[task].fields:
            raise Unknown("job", name, sorted(TASKS[task].fields))
    return {"task": task, **TASKS[task].perform(job)}


def error_object(error: EngineError) -> JsonObject:
    """An error as the command line shows it."""
    field = error.field if isinstance(error, BadInput) else ""
    return {"error": {"code": error.code, "field": field, "message": str(error)}}


def _run_or_explain(job: object, index: int) -> JsonObject:
    try:
        return run(job)
    except BadInput as error:
        explained = error_object(error)
        explained["index"] = index
        return explained
