"""A line as a file: what is known of its tubes goes along, and whatever is wrong with a file is told."""

import json
from copy import deepcopy
from decimal import Decimal
from typing import Any

import jsonschema
import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.bowl.sureness import within_of
from engine.hair.canvas import Canvas
from studio.accounts.models import Person
from studio.head.models import Bowl as BowlRow
from studio.shelf.line_file import line_document, line_schema, read_line
from studio.shelf.list_in import read_list
from studio.shelf.models import Shade, ShadeLine, StockMove
from studio.shelf.selectors import stocked_line
from studio.shelf.services.own_tubes import take_list
from studio.shelf.services.strands import read_strand
from tests.studio.made import StudioCase, make_person

TEN = Canvas(level=10)


def document_of(line: ShadeLine) -> dict[str, Any]:
    stocked = stocked_line(ShadeLine.objects.get(pk=line.pk))
    return line_document(stocked)


class LineFiles(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.line = self.bowl.line
        tubes = read_list("Sea Pink\tP1\t\tpink", letters={}, is_oxidative=False).tubes
        pink = take_list(self.person, line=self.line.pk, tubes=tubes).shades.get()
        lab = (Decimal(60), Decimal(20), Decimal(5))
        for share in ("0.2", "0.05"):
            read_strand(
                self.person, shade_id=pink.pk, level=Decimal(10), share=Decimal(share), lab=lab, source="reader"
            )
        take_list(self.person, line=self.line.pk, tubes=read_list("Slate", letters={}, is_oxidative=False).tubes)

    def look(self, document: object, **more: str):
        """Send a file, and see what it says."""
        text = document if isinstance(document, str | bytes) else json.dumps(document)
        body = text if isinstance(text, bytes) else text.encode()
        return self.client.post(reverse("shelf:take"), {"file": SimpleUploadedFile("line.json", body)} | more)

    def take(self, document: dict[str, Any], name: str, **more: str):
        fields = {"text": json.dumps(document), "line_name": name, "take": "1", "token": name} | more
        return self.client.post(reverse("shelf:take"), fields)

    def elsewhere(self) -> Person:
        """A studio with nothing on its shelf."""
        other = make_person("Ballast Quay", "ballast")
        ShadeLine.objects.visible_to(other).delete()
        self.client.force_login(other)
        return other

    def test_a_line_fits_its_schema_and_goes_round_into_another_studio(self) -> None:
        jsonschema.Draft202012Validator.check_schema(line_schema())
        answer = self.client.get(reverse("shelf:line-json", args=[self.line.pk]))
        self.assertIn(".json", answer.headers["Content-Disposition"])
        document = json.loads(answer.content)
        jsonschema.validate(document, line_schema())
        self.assertEqual(document, document_of(self.line))
        self.assertNotIn("stock", answer.content.decode())
        other = self.elsewhere()
        page = self.look(document)
        self.assertContains(page, f"{len(document['shades'])} tubes read. Nothing is on the shelf yet")
        self.assertContains(page, "measured, 2 readings")
        self.assertContains(page, "guessed by its name")
        self.assertContains(self.take(document, "Lantern direct", is_here="1"), "", status_code=302)
        taken = ShadeLine.objects.visible_to(other).get(name="Lantern direct")
        self.assertEqual(document_of(taken), document | {"name": "Lantern direct"})

    def test_what_is_known_comes_along(self) -> None:
        """A forecast of each tube is the same in both studios, and as sure."""
        document = document_of(self.line)
        other = self.elsewhere()
        self.take(document, "Lantern direct")
        pairs = zip(
            stocked_line(ShadeLine.objects.get(pk=self.line.pk)).dyes.values(),
            stocked_line(ShadeLine.objects.visible_to(other).get()).dyes.values(),
            strict=True,
        )
        for ours, theirs in pairs:
            with self.subTest(shade=ours.name):
                looks = [predict(TEN, Bowl(grams={dye: 1.0})).lab for dye in (ours, theirs)]
                np.testing.assert_allclose(looks[0], looks[1], atol=1e-9)
                if not ours.is_clear:
                    self.assertAlmostEqual(within_of(ours), within_of(theirs), places=6)

    def test_a_guessed_tube_looks_before_it_is_taken_as_it_does_after(self) -> None:
        """Its level brings a base, which the preview must have, too."""
        permanent = self.person.studio.lines.get(kind="permanent")
        tubes = read_list("Walnut shell 6\t6.4\t6\tcopper", letters={}, is_oxidative=True).tubes
        shade = take_list(self.person, line=permanent.pk, tubes=tubes).shades.get()
        told, wrong = read_line(json.dumps(document_of(permanent)))
        self.assertEqual(wrong, ())
        seen = next(tube.shade for tube in told.tubes if tube.row.name == shade.name)
        ours = stocked_line(ShadeLine.objects.get(pk=permanent.pk)).dyes[shade.pk]
        looks = [predict(TEN, Bowl(grams={dye: 1.0})).lab for dye in (seen, ours)]
        np.testing.assert_allclose(looks[0], looks[1], atol=1e-9)

    def test_full_tubes_are_there_only_if_they_are(self) -> None:
        document = document_of(self.line)
        self.take(document, "Full", is_here="1")
        self.take(document, "Told of")
        full, told = (ShadeLine.objects.get(name=name) for name in ("Full", "Told of"))
        self.assertEqual({shade.stock_g for shade in full.shades.all()}, {full.tube_g})
        self.assertEqual({shade.stock_g for shade in told.shades.all()}, {0})
        moves = StockMove.objects.filter(shade__line=full)
        self.assertEqual((moves.count(), StockMove.objects.filter(shade__line=told).count()), (full.shades.count(), 0))

    def test_a_name_that_is_there_is_told_and_another_can_be_given(self) -> None:
        document, before = document_of(self.line), ShadeLine.objects.count()
        answer = self.take(document, self.line.name)
        self.assertContains(answer, "on the shelf already", status_code=422)
        self.assertContains(answer, f'value="{self.line.name}"', status_code=422)  # to be set right
        self.assertContains(self.take(document, " "), "needs a name here", status_code=422)
        self.assertEqual(ShadeLine.objects.count(), before)
        self.take(document, "Ropewalk, theirs")
        self.assertEqual(ShadeLine.objects.count(), before + 1)

    def test_it_is_taken_once_and_comes_off_as_one(self) -> None:
        document, before = document_of(self.line), Shade.objects.count()
        at = self.take(document, "Once").url
        self.take(document, "Once")
        made = ShadeLine.objects.get(name="Once").lists.get()
        page = self.client.get(at)
        self.assertContains(page, "are on the shelf with Once")
        self.client.post(reverse("shelf:undo", args=[made.pk]), {"token": "off"})
        self.assertFalse(ShadeLine.objects.filter(name="Once").exists())
        self.assertEqual(Shade.objects.count(), before)

    def test_an_empty_studios_first_line_may_come_from_a_file(self) -> None:
        document = document_of(self.line)
        other = self.elsewhere()
        self.assertContains(self.client.get(reverse("shelf:shelf")), "A line or a shelf from a file")
        self.take(document, "The first", is_here="1")
        self.assertEqual(ShadeLine.objects.visible_to(other).get().shades.count(), len(document["shades"]))
        self.assertFalse(BowlRow.objects.visible_to(other).exists())  # nobody's hair was read yet

    def test_what_can_not_be_taken_is_told_by_its_place_and_nothing_is(self) -> None:
        def changed(**more: object) -> dict[str, Any]:
            return deepcopy(document_of(self.line)) | more

        def first(**more: object) -> dict[str, Any]:
            document = changed()
            document["shades"][0] |= more
            return document

        twice = changed()
        twice["shades"][1]["name"] = twice["shades"][0]["name"].upper()
        keys = changed()
        keys["shades"][1]["key"] = keys["shades"][0]["key"]
        read = next(place for place, shade in enumerate(changed()["shades"]) if "samples" in shade)
        short, doubts = changed(), changed()
        short["shades"][read]["samples"] = [1.0]
        doubts["shades"][read]["doubt_factors"] = [[1.0, 2.0]]
        many = changed(shades=[{"name": f"shade {number}"} for number in range(401)])
        before = ShadeLine.objects.count(), Shade.objects.count()
        for document, words in (
            (changed(version=3), "comes from a newer Rainshade"),
            (changed(version="1"), "version"),
            ("{", "This is no JSON"),
            ('{"format": "rainshade-line", "format": "x"}', "is there twice"),
            ("[]", "the document"),
            (b"\xff\xfe", "no text in UTF-8"),
            ("", "file is empty"),
            (changed(kind="lightener"), "kind"),
            (changed(name=" "), "name"),
            (changed(developer_vol=20), "developer_parts and developer_vol go together"),
            (twice, "is that of shade 1 already"),
            (keys, "the key"),
            (first(bands=[{"centre_nm": 5000, "sigma_nm": 20, "weight": 1}]), "Shade 1: shades.0.bands.0.centre_nm"),
            (first(thins=2), "thins is for clear"),
            (first(fingerprint="0" * 16), "Shade 1: its fingerprint is that of another"),
            (first(uid="x"), "uid"),
            (first(uid=changed()["shades"][1]["uid"]), "the uid"),
            (first(samples=[1.0]), "Shade 1"),
            (short, f"Shade {read + 1}"),
            (doubts, f"Shade {read + 1}"),
            (many, "shades"),
        ):
            with self.subTest(words=words):
                self.assertContains(self.look(document), words, status_code=422)
        self.assertContains(self.client.post(reverse("shelf:take")), "Choose a file first", status_code=422)
        self.assertEqual((ShadeLine.objects.count(), Shade.objects.count()), before)

    def test_a_file_of_the_first_version_is_read_as_before(self) -> None:
        document = document_of(self.line)
        old = {name: told for name, told in document.items() if name != "uid"} | {"version": 1}
        old["shades"] = [
            {name: told for name, told in shade.items() if name not in ("uid", "fingerprint")}
            for shade in document["shades"]
        ]
        self.elsewhere()
        self.take(old, "Of before")
        taken = document_of(ShadeLine.objects.get(name="Of before"))
        self.assertEqual(
            [shade["fingerprint"] for shade in taken["shades"]],
            [shade["fingerprint"] for shade in document["shades"]],
        )

    def test_a_line_that_is_known_here_comes_in_as_another(self) -> None:
        """Its UUIDs are those of the line that is here: cards that name them mean that one."""
        document = document_of(self.line)
        self.take(document, "A second")
        second = document_of(ShadeLine.objects.get(name="A second"))
        told = [each["uid"] for each in (*document["shades"], *second["shades"], document, second)]
        self.assertEqual(len(set(told)), len(told))

    def test_the_csv_is_a_list_that_can_be_pasted_back(self) -> None:
        text = self.client.get(reverse("shelf:line-csv", args=[self.line.pk])).content.decode()
        read = read_list(text, letters={}, is_oxidative=False)
        self.assertEqual(read.wrong, ())
        names = [shade.name for shade in self.line.shades.all()]
        self.assertEqual([tube.name for tube in read.tubes], names)
        self.assertEqual({tube.size_g for tube in read.tubes}, {self.line.tube_g})
        pink = next(tube for tube in read.tubes if tube.name == "Sea Pink")
        self.assertEqual((pink.code, pink.tones), ("P1", ("pink",)))

    def test_another_studios_line_is_not_found(self) -> None:
        self.elsewhere()
        for name in ("shelf:line-json", "shelf:line-csv"):
            self.assertEqual(self.client.get(reverse(name, args=[self.line.pk])).status_code, 404)
