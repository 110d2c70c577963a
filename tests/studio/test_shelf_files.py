"""A whole shelf as a file: the same in another studio, and told where it works otherwise than this one."""

import json
from copy import deepcopy
from typing import Any

import jsonschema
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db.models import F
from django.urls import reverse

from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.hair.canvas import Canvas
from studio.accounts.models import Person
from studio.shelf.models import Shade, ShadeLine
from studio.shelf.selectors import lines_of, stocked_line
from studio.shelf.shelf_file import shelf_schema
from tests.studio.made import StudioCase, make_person

TEN = Canvas(level=10)


class ShelfFiles(StudioCase):
    def document(self) -> dict[str, Any]:
        answer = self.client.get(reverse("shelf:shelf-json"))
        self.assertIn("shelf.json", answer["Content-Disposition"])
        document = json.loads(answer.content)
        jsonschema.validate(document, shelf_schema())
        return document

    def look(self, document: object, **more: str):
        file = SimpleUploadedFile("shelf.json", json.dumps(document).encode())
        return self.client.post(reverse("shelf:take"), {"file": file} | more)

    def take(self, document: object, token: str = "one", **more: str):
        fields = {"text": json.dumps(document), "take": "1", "token": token} | more
        return self.client.post(reverse("shelf:take"), fields, follow=True)

    def elsewhere(self, *, bare: bool = True) -> Person:
        other = make_person("Ballast Quay", "ballast")
        if bare:
            ShadeLine.objects.visible_to(other).delete()
        self.client.force_login(other)
        return other

    def test_it_goes_round_into_an_empty_studio_and_works_alike(self) -> None:
        document = self.document()
        other = self.elsewhere()
        page = self.look(document)
        self.assertContains(page, f"{len(document['lines'])} lines read. Nothing was changed")
        self.assertContains(page, "is not here", len(document["lines"]))
        self.assertContains(self.take(document), "lines are on the shelf")
        self.assertEqual(self.document(), document)
        for ours, theirs in zip(lines_of(self.person), lines_of(other), strict=True):
            pairs = zip(stocked_line(ours).dyes.values(), stocked_line(theirs).dyes.values(), strict=True)
            for one, two in pairs:
                self.assertEqual(*(list(predict(TEN, Bowl(grams={dye: 1.0})).lab) for dye in (one, two)))

    def test_taken_in_twice_it_is_the_same_shelf(self) -> None:
        document = self.document()
        other = self.elsewhere()
        self.take(document, is_here="1")
        count = Shade.objects.filter(line__studio=other.studio).count()
        page = self.look(document)
        self.assertContains(page, "is here", len(document["lines"]))
        self.assertNotContains(page, "on the shelf →")  # there is nothing to put there
        self.take(document, "two")
        self.assertEqual(Shade.objects.filter(line__studio=other.studio).count(), count)
        tubes = Shade.objects.filter(line__studio=other.studio)
        self.assertFalse(tubes.exclude(stock_g=F("line__tube_g")).exists())

    def test_a_tube_of_the_same_name_and_another_strength_is_noticed(self) -> None:
        document = self.document()
        other = self.elsewhere(bare=False)
        orchil = Shade.objects.visible_to(other).get(name="Orchil")
        Shade.objects.filter(pk=orchil.pk).update(strength=orchil.strength * 2)
        ShadeLine.objects.filter(pk=orchil.line_id).update(version=F("version") + 1)
        page = self.look(document)
        self.assertContains(page, "is here, and works otherwise: Orchil<", 1)
        self.assertNotEqual(self.document()["fingerprint"], document["fingerprint"])
        self.take(document)
        orchil.refresh_from_db()
        self.assertEqual(self.look(document).status_code, 200)
        self.assertContains(self.look(document), "works otherwise: Orchil")  # what is here stays

    def test_a_tube_that_is_missing_here_is_told(self) -> None:
        document = self.document()
        other = self.elsewhere(bare=False)
        Shade.objects.visible_to(other).filter(name="Orchil").delete()
        ShadeLine.objects.visible_to(other).update(version=F("version") + 1)
        self.assertContains(self.look(document), "is here. Not here: Orchil<")

    def test_a_shelf_of_which_some_lines_are_here_brings_the_others(self) -> None:
        document = self.document()
        other = self.elsewhere(bare=False)
        ShadeLine.objects.visible_to(other).filter(name=document["lines"][0]["name"]).delete()
        self.assertContains(self.look(document), "Put 1 line on the shelf")
        self.assertContains(self.take(document), "1 line is on the shelf")
        self.assertEqual(self.document()["fingerprint"], document["fingerprint"])

    def test_what_is_wrong_is_told_by_its_line_and_nothing_is_taken(self) -> None:
        document = self.document()
        self.elsewhere()

        def changed(**more: object) -> dict[str, Any]:
            return deepcopy(document) | more

        shade, twice, many = changed(), changed(), changed()
        shade["lines"][1]["shades"][0]["strength"] = 3.21
        shade["lines"][1]["shades"][0].setdefault("bands", [{"centre_nm": 500, "sigma_nm": 30, "weight": 1}])
        twice["lines"][1]["name"] = twice["lines"][0]["name"].upper()
        many["lines"] = [deepcopy(document["lines"][0]) | {"name": f"line {place}"} for place in range(41)]
        name = document["lines"][1]["name"]
        for wrong, words in (
            (changed(version=2), "comes from a newer Rainshade"),
            (changed(lines="all"), "lines"),
            (changed(lines=["Ropewalk"]), "1: the document"),
            (changed(more=1), "more"),
            (shade, f"Shade 1: {name}: "),
            (twice, "two lines are called"),
            (many, "holds 40 lines"),
        ):
            with self.subTest(words=words):
                self.assertContains(self.look(wrong), words, status_code=422)
                self.assertNotContains(self.take(wrong), "lines are on the shelf", status_code=422)
        self.assertFalse(ShadeLine.objects.filter(studio__name="Ballast Quay").exists())
