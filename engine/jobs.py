"""Jobs as plain JSON values: which task, which fields; one job, a list of them, or a list that shares fields."""

from typing import Final

from engine.errors import BadInput, EngineError, OutOfRange, Unknown, WrongType
from engine.reading import Job, JsonObject, a_list, an_object
from engine.tasks import TASKS

JOBS_LIMIT: Final = 10_000


def run_all(jobs: object) -> object:
    """The answer to a job, or the list of answers to a list of them or to `{"with": {...}, "jobs": [...]}`.

    In a list, a bad job gets its `error` object in its place; a single bad job raises. What stands under `with` is
    taken by each job whose task knows it and that does not bring its own.
    """
    if isinstance(jobs, dict) and "jobs" in jobs:
        return run_all(_sharing(an_object("job", jobs, frozenset({"with", "jobs"}))))
    if not isinstance(jobs, list):
        return run(jobs)
    if len(jobs) > JOBS_LIMIT:
        raise OutOfRange("jobs", len(jobs), 0, JOBS_LIMIT)
    return [_run_or_explain(job, index) for index, job in enumerate(jobs)]


def _sharing(given: Job) -> list[object]:
    """Each job with what it shares. Raises Unknown for what no task knows, WrongType, OutOfRange."""
    shared = an_object("with", given.get("with", {}))
    known = frozenset[str]().union(*(task.fields for task in TASKS.values()))
    for name in shared:
        if name not in known:
            raise Unknown("with", name, sorted(known))

    def whole(job: object) -> object:
        task = job.get("task") if isinstance(job, dict) else None
        if not isinstance(job, dict) or not isinstance(task, str) or task not in TASKS:
            return job  # which is refused in its place
        return {**{name: each for name, each in shared.items() if name in TASKS[task].fields}, **job}

    return [whole(job) for job in a_list("jobs", given["jobs"], JOBS_LIMIT)]


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
