"""What the command line takes and answers, as JSON Schema: one job, lists of them, lists that share fields."""

import json
from functools import cache
from pathlib import Path
from typing import Any, Final

from engine.jobs import JOBS_LIMIT

HERE: Final = Path(__file__).parent
_DIALECT: Final = "https://json-schema.org/draft/2020-12/schema"


@cache
def job_schema() -> dict[str, Any]:
    """A single job: a branch for each task."""
    return _read("job")


@cache
def answer_schema() -> dict[str, Any]:
    """The answer to a single job: a branch for each task, and one for an error."""
    return _read("answer")


@cache
def jobs_schema() -> dict[str, Any]:
    """All that the command line takes: a job, a list of jobs, or `{"with": {...}, "jobs": [...]}`.

    Jobs that share are whole only with what is shared: what each holds is described here field by field. A field that
    tasks take in different ways may be of either.
    """
    job = job_schema()
    fields: dict[str, list[Any]] = {}
    for branch in job["oneOf"]:
        for name, told in branch["properties"].items():
            ways = fields.setdefault(name, [])
            if told not in ways:
                ways.append(told)
    tasks = [branch["properties"]["task"]["const"] for branch in job["oneOf"]]
    either = {name: ways[0] if len(ways) == 1 else {"anyOf": ways} for name, ways in fields.items() if name != "task"}
    part = {
        "description": "A job but for what it shares.",
        "type": "object",
        "required": ["task"],
        "additionalProperties": False,
        "properties": {"task": {"description": "What is to be done.", "enum": tasks}, **either},
    }
    sharing = {
        "description": "Jobs, and what each of them takes that knows it and does not bring its own.",
        "type": "object",
        "required": ["jobs"],
        "additionalProperties": False,
        "properties": {
            "with": {
                "description": "What the jobs share.",
                "type": "object",
                "additionalProperties": False,
                "properties": either,
            },
            "jobs": {"description": "In order.", **_list("part_of_a_job")},
        },
    }
    defs = {**job["$defs"], "job": {"oneOf": job["oneOf"]}, "part_of_a_job": part, "sharing": sharing}
    return {
        "$schema": _DIALECT,
        "$id": "urn:rainshade:schema:jobs:1",
        "title": "What the Rainshade engine takes",
        "oneOf": [{"$ref": "#/$defs/job"}, _list("job"), {"$ref": "#/$defs/sharing"}],
        "$defs": defs,
    }


@cache
def answers_schema() -> dict[str, Any]:
    """All that the command line answers: an answer, or a list of them in the order of the jobs."""
    answer = answer_schema()
    return {
        "$schema": _DIALECT,
        "$id": "urn:rainshade:schema:answers:1",
        "title": "What the Rainshade engine answers",
        "oneOf": [{"$ref": "#/$defs/answer"}, _list("answer")],
        "$defs": {**answer["$defs"], "answer": {"oneOf": answer["oneOf"]}},
    }


def _list(of: str) -> dict[str, Any]:
    return {"type": "array", "maxItems": JOBS_LIMIT, "items": {"$ref": f"#/$defs/{of}"}}


def _read(name: str) -> dict[str, Any]:
    schema: dict[str, Any] = json.loads((HERE / f"{name}.schema.json").read_text(encoding="utf-8"))
    return schema
