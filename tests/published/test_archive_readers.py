"""A studio's archive before readers that know nothing of ours: Info-ZIP, JSON Schema, and a reader of pictures.

Source: ZIP as `unzip` of Debian has it; JSON Schema 2020-12 as jsonschema has it; SHA-256 by coreutils.
"""

import json
import shutil
import subprocess
import tempfile
from pathlib import Path

from django.core.files.storage import default_storage
from django.test import TestCase
from django.utils import timezone
from jsonschema import Draft202012Validator
from PIL import Image

from engine.service.roles import Role
from studio.accounts.models import Person
from studio.archives.models import Transfer
from studio.archives.places import whole_name
from studio.archives.services.asking import ask_for_archive
from studio.archives.services.carry import carry
from tests.studio.made import make_person, make_visit
from tests.studio.made_far import bring_far


class Strangers(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        person = make_person()
        Person.objects.filter(pk=person.pk).update(role=Role.OWNER)
        cls.person = Person.objects.get(pk=person.pk)
        bring_far(cls.person, make_visit(cls.person))

    def setUp(self) -> None:
        asked = ask_for_archive(self.person, now=timezone.now())
        carry(asked.pk)
        asked = Transfer.objects.get(pk=asked.pk)
        self.assertEqual(asked.failed, "")
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)
        self.file = self.folder / "studio.zip"
        with default_storage.open(whole_name(asked.uid)) as file:
            self.file.write_bytes(file.read())

    def told(self, *command: str) -> str:
        return subprocess.run(command, capture_output=True, text=True, check=True, cwd=self.folder).stdout

    def test_it_unpacks_and_is_what_its_own_schema_and_sums_say(self) -> None:
        self.assertIn("No errors detected", self.told("unzip", "-t", str(self.file)))
        self.told("unzip", "-q", str(self.file), "-d", "out")
        out = self.folder / "out"
        manifest = json.loads((out / "archive.json").read_text(encoding="utf-8"))
        schema = json.loads((out / "schema.json").read_text(encoding="utf-8"))
        Draft202012Validator.check_schema(schema)

        def of(name: str) -> Draft202012Validator:
            return Draft202012Validator({"$ref": f"#/$defs/{name}", "$defs": schema["$defs"]})

        of("archive.json").validate(manifest)
        sums = "".join(f"{digest}  {name}\n" for name, digest in manifest["sha256"].items())
        (out / "sums").write_text(sums, encoding="utf-8")
        checked = subprocess.run(["sha256sum", "-c", "--quiet", "sums"], capture_output=True, text=True, cwd=out)
        self.assertEqual((checked.returncode, checked.stdout), (0, ""), checked.stderr)
        rows = 0
        for table, told in manifest["tables"].items():
            path, validator = out / "rows" / f"{table}.jsonl", of(table)
            lines = path.read_text(encoding="utf-8").splitlines() if path.exists() else []
            self.assertEqual(len(lines), told["rows"], table)
            for line in lines:
                validator.validate(json.loads(line))
            rows += len(lines)
        self.assertGreater(rows, 100)
        photos = [each for each in (out / "files").rglob("*") if each.is_file()]
        self.assertGreater(len(photos), 2)
        for each in photos:
            with Image.open(each) as photo:
                photo.verify()
