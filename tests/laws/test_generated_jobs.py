"""Jobs made from the schema: the engine answers each by the schema of answers, or names the field that it refuses; and
what the schema refuses, the engine refuses too.
"""

import json
from collections import Counter
from typing import Any, ClassVar
from unittest import TestCase

from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from engine.dye.shelf import demo_shelf
from engine.errors import BadInput
from engine.jobs import run, run_all
from engine.schema import answers_schema, job_schema, jobs_schema
from tests.laws.generated import made, spoilt

JOBS, ANSWERS = Draft202012Validator(jobs_schema()), Draft202012Validator(answers_schema())
BRANCHES = {branch["title"]: branch for branch in job_schema()["oneOf"]}
# What a schema can't say: that a name is one of those that stand elsewhere in the job, and what goes with what.
NO_SCHEMA_SAYS = {"missing", "unknown", "bad_input", "empty_bowl", "empty_shelf"}
QUIET = settings(
    derandomize=True,  # a run tells the same as the last; what is new is looked for with other seeds, by hand
    deadline=None,
    database=None,
    phases=[Phase.generate],
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much],
)
NAMES = sorted(shade.name for shade in demo_shelf().values())


def named(job: Any) -> Any:
    """A job whose shades are those of the engine's own shelf, so that more of them are reckoned."""
    if isinstance(job, list):
        return [named(each) for each in job]
    if not isinstance(job, dict):
        return job
    told = {name: named(each) for name, each in job.items() if name not in ("shades", "knowledge")}
    for member in ("grams", "poured", "stock", "prices"):
        if isinstance(told.get(member), dict):
            told[member] = dict(zip(NAMES, told[member].values(), strict=False))
    if isinstance(told.get("shade"), str):
        told["shade"] = NAMES[len(told["shade"]) % len(NAMES)]
    return told


class GeneratedJobs(TestCase):
    met: ClassVar[Counter[str]] = Counter()

    def answered(self, job: Any) -> Any:
        """The answer, held against its schema; None where a field was named."""
        try:
            answer = json.loads(json.dumps(run(job), allow_nan=False))
        except BadInput as refused:
            self.assertTrue(refused.field, refused)
            self.assertIn(refused.code, NO_SCHEMA_SAYS, f"the schema takes it: {refused}")
            return None
        ANSWERS.validate(answer)
        return answer

    def check(self, task: str, examples: int) -> None:
        schema = {**BRANCHES[task], "$defs": job_schema()["$defs"]}

        @settings(QUIET, max_examples=examples)
        @given(made(schema), st.data())
        def each(job: Any, data: st.DataObject) -> None:
            JOBS.validate(job)
            for one in (job, named(job)):
                self.met[task] += self.answered(one) is not None
            bad = spoilt(named(job), data)
            try:
                run(bad)
            except BadInput as refused:
                self.assertTrue(refused.field, refused)
            else:
                self.assertTrue(JOBS.is_valid(bad), f"answered, though the schema refuses it: {bad}")

        each()

    def test_each_task(self) -> None:
        for task in BRANCHES:
            with self.subTest(task=task):
                self.check(task, 8)
        self.assertGreater(len([task for task, count in self.met.items() if count]), len(BRANCHES) / 2, self.met)

    def test_lists_and_what_they_share(self) -> None:
        defs = job_schema()["$defs"]
        some = [BRANCHES[task] for task in ("predict", "fade", "amounts", "plan")]
        sharing = jobs_schema()["$defs"]["sharing"]["properties"]["with"]["properties"]
        shared = {name: sharing[name] for name in ("light", "bowl", "washes", "hands")}
        schema = {
            "type": "object",
            "required": ["jobs"],
            "properties": {
                "jobs": {"type": "array", "maxItems": 3, "items": {"oneOf": some}},
                "with": {"type": "object", "additionalProperties": False, "properties": shared},
            },
            "additionalProperties": False,
            "$defs": defs,
        }

        @settings(QUIET, max_examples=25)
        @given(made(schema), st.data())
        def each(given_: Any, data: st.DataObject) -> None:
            for jobs in (given_, given_["jobs"]):
                JOBS.validate(jobs)
                answers = json.loads(json.dumps(run_all(jobs), allow_nan=False))
                ANSWERS.validate(answers)
                self.assertEqual(len(answers), len(given_["jobs"]))
            bad = spoilt(given_, data)
            try:
                run_all(bad)
            except BadInput as refused:
                self.assertTrue(refused.field)

        each()

    def test_a_list_holds_its_errors_in_their_places(self) -> None:
        answers = run_all([{"task": "predict", "canvas": {"level": 10}}, {"task": "predict"}, 7])
        ANSWERS.validate(json.loads(json.dumps(answers)))
        self.assertEqual([each.get("index") for each in answers], [None, 1, 2])
        for wrong in ([{"error": {"code": "x"}}], {"answers": []}, [{"task": "predict"}]):
            self.assertFalse(ANSWERS.is_valid(wrong))
