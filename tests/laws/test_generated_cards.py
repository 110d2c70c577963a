"""Cards made from the schema: each is taken in or refused by the place that is wrong, and what comes out of it fits."""

import json
import re
from collections import Counter
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.urls import reverse
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from studio.clients.models import Client
from studio.formats.card_json import card_document, card_schema
from studio.formats.models import Intake
from studio.formats.read_card import read_card
from tests.laws.generated import made, spoilt
from tests.studio.made import StudioCase

CARDS = Draft202012Validator(card_schema(), format_checker=Draft202012Validator.FORMAT_CHECKER)
DAY = re.compile(r"([0-9]{4})-[0-9]{2}-[0-9]{2}")
GO_TOGETHER = {"from_cm", "to_cm", "to_level", "mixed_at", "applied_at", "rinsed_at"}  # as no schema can say
QUIET = settings(
    derandomize=True,  # a run tells the same as the last; what is new is looked for with other seeds, by hand
    deadline=None,
    database=None,
    phases=[Phase.generate],
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large, HealthCheck.filter_too_much],
)


def short(schema: dict[str, Any], most: int = 2) -> dict[str, Any]:
    """A schema whose lists are short: a thousand visits say nothing that two do not."""

    def bounded(node: Any) -> Any:
        if isinstance(node, list):
            return [bounded(each) for each in node]
        if not isinstance(node, dict):
            return node
        told = {name: bounded(each) for name, each in node.items()}
        if told.get("type") == "array" and "maxItems" in told:
            told["maxItems"] = max(min(told["maxItems"], most), told.get("minItems", 0))
        return told

    return bounded(schema)


def of_these_years(node: Any) -> Any:
    """A document whose days and moments lie in a time that cards are of."""
    if isinstance(node, list):
        return [of_these_years(each) for each in node]
    if isinstance(node, dict):
        return {name: of_these_years(each) for name, each in node.items()}
    if isinstance(node, str) and (day := DAY.match(node)):
        rest = node[4:].replace("-02-29", "-02-28", 1)
        return f"{2001 + int(day[1]) % 20}{rest}"
    return node


class GeneratedCards(StudioCase):
    takes_long = True

    def setUp(self) -> None:
        super().setUp()
        self.met: Counter[str] = Counter()
        line = self.bowl.line
        self.line, self.shades = line.name, [shade.name for shade in line.shades.all()]

    def at_home(self, document: dict[str, Any]) -> dict[str, Any]:
        """A document whose formulas name tubes of this shelf, so that more than words is taken in."""
        formulas = []
        for formula in of_these_years(document)["formulas"]:
            pours = [pour | {"shade": name} for pour, name in zip(formula["pours"], self.shades, strict=False)]
            told = {name: each for name, each in formula.items() if name not in GO_TOGETHER}
            told["hair"] = {name: each for name, each in formula["hair"].items() if name != "laid"}
            told |= {"purpose": "glaze"} if told.get("purpose") == "lift" else {}
            formulas.append(told | {"line": self.line, "pours": pours})
        return of_these_years(document) | {"formulas": formulas}

    def take(self, document: dict[str, Any]) -> None:
        """Taken in, asked about, or refused in words with their places; nothing of it stays in this test."""
        with transaction.atomic():
            body = json.dumps(document).encode()
            answer = self.client.post(
                reverse("formats:take"), {"file": SimpleUploadedFile("card.json", body)}, follow=True
            )
            intake = Intake.objects.visible_to(self.person).order_by("-pk").first()
            if intake is None:
                self.assertEqual(answer.status_code, 422)
                self.assertContains(answer, "with something wrong", status_code=422)
                self.met["refused"] += 1
            elif not intake.waits_for_answers:
                while not intake.is_finished:
                    self.client.post(reverse("formats:intake", args=[intake.pk]))
                    intake.refresh_from_db()
                client = Client.objects.visible_to(self.person).get(name=document["client"]["name"].strip())
                CARDS.validate(json.loads(json.dumps(card_document(self.person, client.pk))))
                self.met["taken"] += 1
                self.met["formulas"] += intake.taken
            else:
                self.met["asked"] += 1
            transaction.set_rollback(True)

    def test_what_the_schema_takes_is_taken_or_refused_by_its_place(self) -> None:
        @settings(QUIET, max_examples=30)
        @given(made(short(card_schema())))
        def each(document: dict[str, Any]) -> None:
            CARDS.validate(document)
            self.take(document)
            self.take(self.at_home(document))

        each()
        self.assertGreater(self.met["taken"], 4, self.met)
        self.assertGreater(self.met["formulas"], 2, self.met)

    def test_what_is_spoilt_is_refused_as_the_schema_refuses_it(self) -> None:
        schema = Draft202012Validator(card_schema())

        @settings(QUIET, max_examples=30)
        @given(made(short(card_schema())), st.data())
        def each(document: dict[str, Any], data: st.DataObject) -> None:
            bad = spoilt(document, data)
            card, rows, faults = read_card(json.dumps(bad))
            if not schema.is_valid(bad):
                self.assertTrue(faults and all(fault.words for fault in faults))
                self.assertEqual((card, rows), (None, []))

        each()
