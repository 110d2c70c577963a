"""Tasks that learn from results: learn, characterise."""

from collections.abc import Mapping
from typing import Final

from engine import answers
from engine.arrays import within
from engine.bowl.doses import Worked
from engine.bowl.fade import WASHES_MOST
from engine.dye.characterise import DOUBT_LIMITS, StrandTest, characterise
from engine.dye.families import Prior, families, family
from engine.dye.kind import Kind
from engine.errors import Missing, Unknown, WrongType
from engine.hair.ladder import Ladder
from engine.hair.source import Source
from engine.learning.learn import RECORDS_MOST, Record, learn
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
from engine.service.chain import ChainedCoat, laid_on
from engine.tasks.common import Setting, Task, a_name, read_setting
from engine.tasks.visiting import CHAINED_MOST, read_coat

TESTS_MOST: Final = 50
RECORD_FIELDS: Final = frozenset(
    {"canvas", "read_by", "coats", "bowl", "washes", "actual", "judged_by", "client", "reader", "light"}
)
STRAND_FIELDS: Final = frozenset({"canvas", "share", "lab", "light", "doubt"})


def _learn(job: Job) -> JsonObject:
    if "records" not in job:
        raise Missing("records", "a list of results")
    setting = read_setting({name: job[name] for name in ("shades",) if name in job})
    ladder, records = read_ladder(job), []
    for index, given in enumerate(a_list("records", job["records"], RECORDS_MOST, 1)):
        with inside(f"records.{index}"):
            records.append(_record(an_object("record", given, RECORD_FIELDS), setting, ladder))
    return answers.learned_object(learn(records))


def _record(given: Job, setting: Setting, ladder: Ladder) -> Record:
    actual = an_object("actual", _needed(given, "actual", "an object with lab"), frozenset({"lab"}))
    with inside("actual"):
        lab = read_lab("lab", _needed(actual, "lab", "a list of L*, a* and b*"))
    return Record(
        worked=_worked(given, setting, ladder),
        actual_lab=lab,
        light=read_light(given),
        read_by=a_choice("read_by", given.get("read_by", Source.EYE.value), Source),
        judged_by=a_choice("judged_by", given.get("judged_by", Source.EYE.value), Source),
        client=a_name(given, "client"),
        reader=a_name(given, "reader"),
    )


def _worked(given: Job, setting: Setting, ladder: Ladder) -> Worked:
    """The hair of a record and what colours it: one bowl, or coats of which those count that no later lift took off."""
    canvas = read_canvas("canvas", given.get("canvas"), setting.shades, ladder)
    if ("bowl" in given) is ("coats" in given):
        raise Missing("bowl", "an object with grams, or coats, and not both,")
    listed = [{"bowl": given["bowl"]}] if "bowl" in given else a_list("coats", given["coats"], CHAINED_MOST, 1)
    coats: list[ChainedCoat] = []
    for index, each in enumerate(listed):
        if "bowl" in given:
            coats.append(read_coat(an_object("coat", each), setting, ladder))
        else:
            with inside(f"coats.{index}"):
                coats.append(read_coat(an_object("coat", each), setting, ladder))
    hair, laid = laid_on(canvas, coats)
    washes = within("washes", given.get("washes", 0), 0, WASHES_MOST)
    return Worked(canvas=hair, coats=laid, washes=washes)


def _needed(given: Job, name: str, expected: str) -> object:
    if name not in given:
        raise Missing(name, expected)
    return given[name]


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
            parts = an_object("strand_test", given, STRAND_FIELDS)
            doubt = parts.get("doubt", Source.READER.colour_doubt)
            tests.append(
                StrandTest(
                    canvas=read_canvas("canvas", parts.get("canvas"), shades, ladder),
                    share=needed_number("share", parts, "a share of the shade in clear, 0.001 to 1"),
                    lab=read_lab("lab", _needed(parts, "lab", "a list of L*, a* and b*")),
                    light=read_light(parts),
                    doubt=within("doubt", doubt, *DOUBT_LIMITS, "delta E00"),
                )
            )
    return answers.characterised_object(characterise(name, tests, kind=kind, start=_family(job)))


def _family(job: Job) -> Prior | None:
    given = job.get("family")
    if given is None:
        return None
    if not isinstance(given, str):
        raise WrongType("family", given, "the name of a family")
    if given not in families():
        raise Unknown("family", given, families())
    return family(given)


TEACHING: Final[Mapping[str, Task]] = {
    "learn": Task(fields=frozenset({"records", "shades", "ladder"}), perform=_learn),
    "characterise": Task(
        fields=frozenset({"name", "kind", "strand_tests", "shades", "ladder", "family"}), perform=_characterise
    ),
}
