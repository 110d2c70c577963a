"""Every schema that ships: a name and an edition of its own, and each property says what it is, in which unit."""

from collections.abc import Iterator
from unittest import TestCase

from jsonschema import Draft202012Validator

from studio.archives.schema import archive_schema
from studio.formats.card_json import VERSION as CARD_VERSION
from studio.formats.card_json import card_schema
from studio.shelf.line_file import VERSION as LINE_VERSION
from studio.shelf.line_file import line_schema
from tests.engine.schemas import schema

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


class Schemas(TestCase):
    def test_each_has_a_name_of_its_own_with_its_edition(self) -> None:
        found = {
            each["$id"]: each
            for each in (card_schema(), line_schema(), archive_schema(), schema("job").schema, schema("answer").schema)
        }
        self.assertEqual(len(found), 5)
        for name, each in found.items():
            Draft202012Validator.check_schema(each)
            self.assertRegex(name, r"^urn:rainshade:schema:[a-z]+:\d+$")
        self.assertIn(f"urn:rainshade:schema:card:{CARD_VERSION}", found)
        self.assertIn(f"urn:rainshade:schema:line:{LINE_VERSION}", found)

    def test_each_property_of_a_card_and_a_line_says_what_it_is_and_in_which_unit(self) -> None:
        for each in (card_schema(), line_schema()):
            for name, told in properties(each):
                if "$ref" in told or "const" in told:
                    continue
                with self.subTest(schema=each["title"], name=name):
                    self.assertGreater(len(told.get("description", "")), 10)
                    for ending, unit in WITH_UNITS.items():
                        if name.endswith(ending):
                            self.assertIn(unit, told["description"])
