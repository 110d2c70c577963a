"""The description of the interface before a stranger's judge, and a program that knows nothing of ours.

Source: OpenAPI Specification 3.1, as openapi-spec-validator has it.
"""

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.urls import reverse
from django.utils import timezone
from jsonschema import Draft202012Validator
from jsonschema_path import SchemaPath
from openapi_spec_validator import OpenAPIV31SpecValidator

from engine.service.roles import Role
from studio.accounts.models import Person
from studio.api.openapi import openapi
from studio.api.routes import api
from studio.api.services.keys import make_key
from studio.cards.models import Formula
from tests.studio.made import make_person, make_visit

ROOT = Path(__file__).resolve().parents[2]


class Description(TestCase):
    def test_it_is_a_description_by_the_standard(self) -> None:
        OpenAPIV31SpecValidator(openapi(api)).validate()

    def test_every_reference_in_it_leads_somewhere_within_it(self) -> None:
        document = json.loads(json.dumps(openapi(api)))
        root, found = SchemaPath.from_dict(document), 0

        def walk(node: object) -> None:
            nonlocal found
            for each in node if isinstance(node, list) else node.values() if isinstance(node, dict) else ():
                walk(each)
            if isinstance(node, dict) and isinstance(reference := node.get("$ref"), str):
                self.assertRegex(reference, r"^#/components/schemas/\w+")
                place = root
                for part in reference.removeprefix("#/").split("/"):
                    place = place / part
                self.assertTrue(place.exists(), reference)
                found += 1

        walk(document)
        self.assertGreater(found, 100)
        for schema in document["components"]["schemas"].values():
            Draft202012Validator.check_schema(schema)

    def test_every_address_is_described_with_what_can_go_wrong(self) -> None:
        paths = openapi(api)["paths"]
        self.assertEqual(len(paths), 7)
        for path, operations in paths.items():
            for told in operations.values():
                with self.subTest(path=path):
                    self.assertTrue(told["summary"] and told["description"])
                    self.assertLessEqual({"200", "401", "403", "429"}, set(told["responses"]))
                    self.assertTrue(told["security"])


class Stranger(StaticLiveServerTestCase):
    def test_the_program_of_the_docs_reads_a_studio(self) -> None:
        person = make_person()
        Person.objects.filter(pk=person.pk).update(role=Role.OWNER)
        person.refresh_from_db()
        visit = make_visit(person)
        self.client.force_login(person)
        key = make_key(person, name="docs", may=["cards"], per_minute=600, ends_on=None, now=timezone.now())

        def save() -> None:
            bowl = visit.worktop.bowls.get()
            shade = bowl.line.shades.get(name="Orchil")
            at = reverse("bench:pour", args=[visit.pk])
            self.client.post(at, {"version": bowl.version, "shade": shade.pk, "grams": "3"})
            bowl.refresh_from_db()
            self.client.post(reverse("bench:save", args=[visit.pk]), {"version": bowl.version})

        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "formulas.jsonl"

            def read(key: str) -> subprocess.CompletedProcess[str]:
                command = [sys.executable, str(ROOT / "docs" / "read_formulas.py"), self.live_server_url, str(file)]
                return subprocess.run(
                    command, env=os.environ | {"RAINSHADE_KEY": key}, capture_output=True, text=True, timeout=60
                )

            save()
            self.assertEqual(read(key).stdout, "1 formulas\n")
            save()
            self.assertEqual(read(key).stdout, "2 formulas\n")
            lines = [json.loads(line) for line in file.read_text(encoding="utf-8").splitlines()]
            self.assertEqual(
                {each["formula"]["uid"] for each in lines}, {str(each.uid) for each in Formula.objects.all()}
            )
            refused = read("rainshade_nothing")
            self.assertEqual((refused.returncode, refused.stderr[:4]), (1, "401:"))
