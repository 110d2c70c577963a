"""Tasks that learn from results: learn, characterise."""

from collections.abc import Mapping
from typing import Final

from engine import answers
from engine.bowl.learn import RECORDS_MOST, Record, learn
from engine.dye.characterise import StrandTest, characterise
from engine.dye.kind import Kind
from engine.errors import Missing, WrongType
from engine.reading import (
    NAME_LONGEST,
    Job,
    JsonObject,
    a_choice,
    a_list,
    an_object,
    inside,
    needed_number,
    read_canvas,
    read_lab,
    read_ladder,
    read_light,
    read_shades,
)
from engine.tasks.common import Task, read_setting

TESTS_MOST: Final = 50


def _learn(job: Job) -> JsonObject:
    if "records" not in job:
        raise Missing("records", "a list of results")
    records = []
    for index, given in enumerate(a_list("records", job["records"], RECORDS_MOST, 1)):
        with inside(f"records.{index}"):
            records.append(_record(job, an_object("record", given, frozenset({"canvas", "bowl", "lab", "light"}))))
    return answers.learned_object(learn(records))


def _record(job: Job, given: Job) -> Record:
    own = {**given, "shades": job.get("shades", {}), "ladder": job.get("ladder", {})}
    setting = read_setting({name: each for name, each in own.items() if each != {}})
    if "lab" not in given:
        raise Missing("lab", "a list of L*, a* and b*")
    return Record(
        canvas=read_canvas("canvas", given.get("canvas"), setting.shades, read_ladder(job)),
        bowl=setting.needed_bowl,
        actual_lab=read_lab("lab", given["lab"]),
        process=setting.process,
        light=setting.light,
    )


def _characterise(job: Job) -> JsonObject:
    name = job.get("name", "new shade")
    if not isinstance(name, str) or not 0 < len(name) <= NAME_LONGEST:
        raise WrongType("name", name, f"a name of 1 to {NAME_LONGEST} characters")
    kind = a_choice("kind", job.get("kind", Kind.DIRECT.value), Kind)
    if "strand_tests" not in job:
        raise Missing("strand_tests", "a list of readings")
    shades, ladder, tests = read_shades(job), read_ladder(job), []
    for index, given in enumerate(a_list("strand_tests", job["strand_tests"], TESTS_MOST, 1)):
        with inside(f"strand_tests.{index}"):
            parts = an_object("strand_test", given, frozenset({"canvas", "share", "lab", "light"}))
            if "lab" not in parts:
                raise Missing("lab", "a list of L*, a* and b*")
            tests.append(
                StrandTest(
                    canvas=read_canvas("canvas", parts.get("canvas"), shades, ladder),
                    share=needed_number("share", parts, "a share of the shade in clear, 0.001 to 1"),
                    lab=read_lab("lab", parts["lab"]),
                    light=read_light(parts),
                )
            )
    return answers.characterised_object(characterise(name, tests, kind=kind))


TEACHING: Final[Mapping[str, Task]] = {
    "learn": Task(fields=frozenset({"records", "shades", "ladder"}), perform=_learn),
    "characterise": Task(fields=frozenset({"name", "kind", "strand_tests", "shades", "ladder"}), perform=_characterise),
}
