"""Every schema that ships: a name and an edition of its own, and each property says what it is, in which unit."""

import re
from collections.abc import Iterator
from unittest import TestCase

from jsonschema import Draft202012Validator

from engine.schema import answer_schema, answers_schema, job_schema, jobs_schema
from studio.api.openapi import api_schema
from studio.archives.schema import archive_schema
from studio.formats.card_json import VERSION as CARD_VERSION
from studio.formats.card_json import card_schema
from studio.shelf.line_file import VERSION as LINE_VERSION
from studio.shelf.line_file import line_schema
from studio.shelf.shelf_file import shelf_schema

WITH_UNITS = {"_g": " g", "_cm": " cm", "_nm": " nm", "_percent": "%", "_days": "days", "_at": "offset from UTC"}


def properties(node: object) -> Iterator[tuple[str, dict]]:
    """Every property of a schema, however deep."""
    if isinstance(node, list):
        for each in node:
            yield from properties(each)
    elif isinstance(node, dict):
        named = node.get("properties", {})
        yield from ((name, told) for name, told in named.items() if isinstance(told, dict))
        for each in node.values():
            yield from properties(each)


OURS = (
    *(card_schema(), line_schema(), shelf_schema(), api_schema()),
    *(job_schema(), answer_schema(), jobs_schema(), answers_schema()),
)
RANGE = re.compile(r"(-?[0-9]+(?:\.[0-9]+)?) (?:\([a-z ]+\) )?to (-?[0-9]+(?:\.[0-9]+)?)(?![0-9])")


class Schemas(TestCase):
    def test_each_has_a_name_of_its_own_with_its_edition(self) -> None:
        found = {each["$id"]: each for each in (*OURS, archive_schema())}
        self.assertEqual(len(found), 9)
        for name, each in found.items():
            Draft202012Validator.check_schema(each)
            self.assertRegex(name, r"^urn:rainshade:schema:[a-z]+:\d+$")
        self.assertIn(f"urn:rainshade:schema:card:{CARD_VERSION}", found)
        self.assertIn(f"urn:rainshade:schema:line:{LINE_VERSION}", found)

    def test_each_property_says_what_it_is_and_in_which_unit(self) -> None:
        for each in OURS:
            for name, told in properties(each):
                if "$ref" in told or "const" in told or ("anyOf" in told and "type" not in told):
                    continue
                with self.subTest(schema=each["title"], name=name):
                    self.assertGreaterEqual(len(told.get("description", "")), 9)
                    for ending, unit in WITH_UNITS.items():
                        if name.endswith(ending):
                            self.assertIn(unit, told["description"])

    def test_a_range_that_is_told_in_words_is_the_one_that_holds(self) -> None:
        found = 0
        for each in OURS:
            for name, told in properties(each):
                if "maximum" not in told or not (said := RANGE.search(told.get("description", ""))):
                    continue
                with self.subTest(schema=each["title"], name=name):
                    least = told.get("minimum", told.get("exclusiveMinimum"))
                    self.assertEqual((float(said[1]), float(said[2])), (least, told["maximum"]))
                    found += 1
        self.assertGreater(found, 12)
