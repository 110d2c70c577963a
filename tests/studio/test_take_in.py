"""Files taken in: round trips, merging, what is refused, and how far a long one is."""

import csv
import datetime
import io
import json
from decimal import Decimal
from unittest.mock import patch

import jsonschema
from django.urls import reverse
from django.utils import timezone

from engine.service.work import WorkKind
from studio.accounts.models import Person
from studio.cards.models import AmountTaken, Formula, HomeCare, Leftover, Tweak, ZoneResult
from studio.cards.selectors import habit_of
from studio.cards.services.judge import judge_zone, note_tweak
from studio.clients.models import Client, PastWork, SkinTest
from studio.clients.services.history import add_past, record_skin_test, record_strand_test
from studio.formats.card_json import card_document, card_schema
from studio.formats.models import Intake
from studio.head.models import Bowl
from studio.shelf.models import ShadeLine
from studio.visits.gates import asked_of
from studio.visits.models import Consult, Incident, Signature, Visit
from tests.studio.made import TODAY, make_person, make_visit
from tests.studio.made_files import FilesCase

GOOD = "Pim Ashlar,2026-11-01,Ropewalk direct,Orchil 3; Clear 57,10"
HEAD = "client,saved_at,line,pours,level"


def told(person: Person, client_id: int) -> dict:
    """A card's document but for what this shelf's own lines and tubes are known by."""
    document = card_document(person, client_id)
    for each in (each for line in document["shelf"] for each in (line, *line["shades"])):
        del each["uid"]
    return document


class In(FilesCase):
    def test_what_is_to_change_without_a_day_or_a_visit_is_of_today(self) -> None:
        """As the schema has it: the words alone are needed."""
        document = {"format": "rainshade-card", "version": 5, "client": {"name": "Edda Roe"}, "formulas": []}
        self.assertEqual(self.take(json.dumps(document | {"change_next_time": [{"words": "warmer"}]})).status_code, 200)
        tweak = Tweak.objects.get(client__name="Edda Roe")
        self.assertEqual((tweak.words, tweak.visit.day), ("warmer", timezone.localdate()))

    def test_a_card_goes_round_into_another_studio(self) -> None:
        self.judged()
        document = card_document(self.person, self.visit.client_id)
        other = make_person("Ballast Quay", "ballast")
        self.client.force_login(other)
        self.assertContains(self.take(json.dumps(document)), "<b>1</b> taken in")
        client = Client.objects.visible_to(other).get(name="Pim Harrow")
        self.assertEqual(told(other, client.pk), told(self.person, self.visit.client_id))
        self.assertContains(self.take(json.dumps(document)), "<b>1</b> here already")
        self.assertEqual(Formula.objects.visible_to(other).count(), 1)

    def test_sections_and_what_the_head_took_go_round_and_the_next_visit_reckons_with_them(self) -> None:
        Formula.objects.update(sections=3, rinsed_apart=True)
        bowl = Bowl.objects.get(coats__zone__visit=self.visit)
        Leftover.objects.create(bowl=bowl, left_g=12, poured_g=60, needed_g=40, noted_by=self.person)
        document = card_document(self.person, self.visit.client_id)
        self.assertEqual(document["visits"][0]["weighed_back"], {"needed_g": 40.0, "poured_g": 60.0, "left_g": 12.0})
        jsonschema.validate(document, card_schema())
        other = make_person("Ballast Quay", "ballast")
        self.client.force_login(other)
        self.take(json.dumps(document))
        client = Client.objects.visible_to(other).get(name="Pim Harrow")
        self.assertEqual(told(other, client.pk), told(self.person, self.visit.client_id))
        kept = Formula.objects.visible_to(other).get()
        self.assertEqual((kept.sections, kept.rinsed_apart), (3, True))
        later = make_visit(other, client=client, day=TODAY.replace(year=TODAY.year + 1))
        self.assertAlmostEqual(habit_of(other, later), 1.2)
        text = self.get("logbook").decode()
        line = next(csv.DictReader(io.StringIO(text)))
        self.assertEqual((line["sections"], line["rinsed_apart"]), ("3", "yes"))

    def test_more_weighed_back_than_poured_is_told_and_what_was_weighed_here_stands(self) -> None:
        self.judged()
        document = card_document(self.person, self.visit.client_id)
        document["visits"][0]["weighed_back"] = {"needed_g": 40, "poured_g": 20, "left_g": 30}
        self.assertContains(self.take(json.dumps(document)), "more was weighed back than poured")
        bowl = Bowl.objects.get(coats__zone__visit=self.visit)
        Leftover.objects.create(bowl=bowl, left_g=12, poured_g=60, needed_g=40, noted_by=self.person)
        document["visits"][0]["weighed_back"] = {"needed_g": 40, "poured_g": 50, "left_g": 30}
        self.take(json.dumps(document))
        self.assertFalse(AmountTaken.objects.exists())

    def test_the_logbook_goes_round(self) -> None:
        text = self.get("logbook").decode()
        other = make_person("Ballast Quay", "ballast")
        self.client.force_login(other)
        self.take(text)
        self.assertEqual(self.get("logbook").decode(), text)

    def test_one_bad_row_in_a_thousand_is_told_by_its_line_and_nothing_is_taken(self) -> None:
        rows = [
            f"Client {number},2026-10-{number % 28 + 1:02d},Ropewalk direct,Weld 2; Clear 8,9" for number in range(1000)
        ]
        rows[499] = "Client 499,2026-10-20,Ropewalk direct,Weld two,9"
        answer = self.take("\n".join([HEAD, *rows]))
        self.assertContains(answer, "<td>501</td>", status_code=422, html=True)
        self.assertContains(answer, "Nothing was changed", status_code=422)
        self.assertEqual(Formula.objects.count(), 1)
        self.assertContains(self.take("\n".join([HEAD, *rows]), leave_out=True), "<b>999</b> taken in")
        self.assertEqual(Formula.objects.count(), 1000)

    def test_every_wrong_cell_is_named(self) -> None:
        for row, said in (
            (GOOD.replace(",10", ",12"), "level is 12"),
            (GOOD.replace("2026-11-01", "soon"), "saved_at"),
            (GOOD.replace("2026-11-01", "2126-11-01"), "still to come"),
            (GOOD.replace("Orchil 3", "Orchil"), "a shade and its grams"),
            (GOOD.replace("Orchil 3", "Orchil -3"), "grams of Orchil"),
            (GOOD.replace("Orchil", "Gamboge"), "no shade “Gamboge”"),
            (GOOD.replace("Ropewalk", "Ropeway"), "no line"),
            (GOOD.replace("Clear 57", "Orchil 57"), "names a shade twice"),
            (GOOD.replace("Pim Ashlar", ""), "client is empty"),
        ):
            with self.subTest(said=said):
                self.assertContains(self.take(f"{HEAD}\n{row}"), said, status_code=422)
        self.assertEqual(Formula.objects.count(), 1)

    def test_what_is_no_card_and_no_logbook_is_refused(self) -> None:
        for body, said in (
            (b"", "Choose a file"),
            (b"\xff\xfe\x00", "no text in UTF-8"),
            (b"a,b\n1,2", "the header lacks client"),
            (b'{"format": "rainshade-card"', "no JSON"),
            (b'{"format": "other", "version": 1, "client": {"name": "A"}, "formulas": []}', "format"),
        ):
            with self.subTest(said=said):
                self.assertContains(self.take(body), said, status_code=422)

    def test_a_formula_without_a_forecast_is_forecast(self) -> None:
        self.take(f"{HEAD}\n{GOOD}")
        taken = Formula.objects.get(client__name="Pim Ashlar")
        self.assertAlmostEqual(float(taken.forecast_l), float(self.formula.forecast_l), places=2)

    def test_a_name_keeps_its_own_apostrophe_and_no_cell_is_a_formula_in_any_alphabet(self) -> None:
        names = ["'t Hart", "'=x", "''", "\uff1dSUM(A1)", "=1+1", "-3", "@home", "Ab-le"]
        for name in names:
            self.take(f'{HEAD}\n"{name}",2026-11-01,Ropewalk direct,Orchil 3; Clear 57,10')
        taken = set(Client.objects.visible_to(self.person).values_list("name", flat=True))
        text = self.get("logbook").decode()
        cells = {line.split(",")[0].strip('"') for line in text.splitlines()[1:]}
        self.assertTrue(all(cell[:1] not in "=+-@\uff1d" or cell == "-3" for cell in cells), cells)
        other = make_person("Ballast Quay", "ballast")
        self.client.force_login(other)
        self.take(text)
        self.assertEqual(set(Client.objects.visible_to(other).values_list("name", flat=True)), taken)

    def test_files_made_to_break_it_are_told_what_is_wrong(self) -> None:
        card = card_document(self.person, self.visit.client_id)
        formula = card["formulas"][0]
        twice = formula | {"pours": [{"shade": "Orchil", "grams": 1}, {"shade": "Orchil ", "grams": 2}]}
        for body, said in (
            (json.dumps(card | {"formulas": [1] * 100_000}), "more than 5000 formulas"),
            (json.dumps(card | {"formulas": [1] * 300}), "it was read no further"),
            (json.dumps(card | {"formulas": [twice]}), "names a shade twice"),
            (json.dumps(card)[:-1] + ', "version": 2}', "the key “version” is there twice"),
            (json.dumps(card | {"client": {"name": "two\nlines"}}), "client.name"),
            (json.dumps(card | {"client": {"name": "A", "born_on": "soon"}}), "born_on is “soon”"),
            (json.dumps(card | {"formulas": [formula | {"saved_at": "0001-01-01"}]}), "before 1950"),
            (f"{HEAD},minutes\n{GOOD.replace('2026-11-01', '0001-01-01')},30", "before 1950"),
            (f"{'x' * 140_000},{HEAD}\n{GOOD}", "can&#x27;t be read as CSV"),
            (f"{HEAD}\n{GOOD.replace('Pim Ashlar', chr(34) + 'Pim' + chr(10) + 'Ashlar' + chr(34))}", "a line break"),
            (f"{HEAD},level\n{GOOD},9", "level twice"),
            ("\n".join([HEAD, *["x"] * 300]), "<b>200</b> with something wrong, and perhaps more"),
            ("\n".join([HEAD, *[GOOD] * 20_001]), "more than 20000 lines"),
            ("\n".join([f"{HEAD},zone", *(f"{GOOD},zone {number}" for number in range(13))]), "at most 12 zones"),
        ):
            with self.subTest(said=said):
                self.assertContains(self.take(body), said, status_code=422)
        self.assertEqual(Formula.objects.count(), 1)
        self.assertFalse(Intake.objects.exists())

    def test_names_stand_on_one_line_however_they_were_pasted(self) -> None:
        self.client.post(reverse("clients:new"), {"name": "Wren\r\n\tTallow ", "about": ""})
        self.assertTrue(Client.objects.filter(name="Wren Tallow").exists())
        self.send("zones", way="add", name="nape\u2028left", part="nape")
        self.assertTrue(self.visit.zones.filter(name="nape left").exists())

    def test_a_trace_of_a_shade_stays_a_trace(self) -> None:
        card = card_document(self.person, self.visit.client_id)
        card["client"] = {"name": "Wren Tallow"}
        card["formulas"][0].pop("uid")
        card["formulas"][0]["pours"][0]["grams"] = 0.001
        self.assertContains(self.take(json.dumps(card)), "<b>1</b> taken in")
        taken = Formula.objects.get(client__name="Wren Tallow")
        self.assertEqual(taken.pours.first().grams, Decimal("0.01"))

    def test_a_long_file_shows_how_far_it_is_and_goes_on_where_it_was_left(self) -> None:
        rows = [f"Client {number},2026-10-01,Ropewalk direct,Weld 2; Clear 8,9" for number in range(600)]
        fields = {"file": io.BytesIO("\n".join([HEAD, *rows]).encode())}
        answer = self.client.post(reverse("formats:take"), fields, follow=True)
        self.assertContains(answer, "250 of 600")
        intake = Intake.objects.get()
        self.assertContains(self.client.get(reverse("formats:take")), "is taken in by 41 %")
        step = reverse("formats:intake", args=[intake.pk])
        self.client.force_login(make_person("Ballast Quay", "ballast"))
        self.assertEqual(self.client.post(step).status_code, 404)
        self.client.force_login(self.person)
        with patch("studio.formats.services.keep_formulas.FormulaPour.objects.bulk_create", side_effect=OSError):
            self.assertRaises(OSError, self.client.post, step)
        self.assertEqual(Formula.objects.count(), 251)  # a piece is taken whole or not at all
        self.assertContains(self.client.post(step, headers={"HX-Request": "true"}), "500 of 600")
        self.assertContains(self.client.post(step, headers={"HX-Request": "true"}), "<b>600</b> taken in")
        self.assertContains(self.client.post(step, follow=True), "<b>600</b> taken in")
        self.assertEqual(Formula.objects.count(), 601)


class Merging(FilesCase):
    """A card that went to another studio, and comes back."""

    def setUp(self) -> None:
        super().setUp()
        self.other = make_person("Ballast Quay", "ballast")
        self.now = timezone.now()

    def sent(self, document: dict, *, to=None, **ticked: bool):
        self.client.force_login(to or self.other)
        return self.take(json.dumps(document), **ticked)

    def at_other(self) -> Client:
        return Client.objects.visible_to(self.other).get(name="Pim Harrow")

    def full_card(self) -> None:
        """Everything that a card can say of a client."""
        client = self.visit.client
        facts = {"born_on": "2011-03-04", "sensitivities": "fragrance", "reacted": True, "black_henna_tattoo": True}
        Client.objects.filter(pk=client.pk).update(**facts)
        day = self.visit.day - datetime.timedelta(days=20)
        add_past(self.person, client_id=client.pk, work="box_dye", part="mids", done_on=day, today=self.visit.day)
        line = ShadeLine.objects.visible_to(self.person).first()
        earlier = self.now - datetime.timedelta(days=3)
        record_skin_test(
            self.person, client_id=client.pk, line_id=line.pk, tested_at=self.now, clear=False, now=self.now
        )
        record_skin_test(self.person, client_id=client.pk, line_id=None, tested_at=earlier, clear=True, now=self.now)
        record_strand_test(
            self.person,
            client_id=client.pk,
            line_name="",
            part="mids",
            products=[],
            vol=20,
            minutes=Decimal(30),
            grams={"Chalk powder": 12.5},
            forecast_lab=(71.2, 8.0, 41.5),
            colour_seen="orange",
            stretch_held=False,
            passed=False,
            now=self.now,
        )
        Consult.objects.update_or_create(
            visit=self.visit, defaults={"pregnant": True, "scalp": "sore", "wish": "the lamp's own red,\nand no orange"}
        )
        Signature.objects.create(
            visit=self.visit,
            gate="box_dye",
            kind=WorkKind.LIGHTENER.value,
            zones=[self.visit.zones.get().pk],
            sentence="Box dye lies on the mids.",
            reason="the strand held",
            signed_by=self.person,
        )
        Incident.objects.create(
            visit=self.visit,
            zone=self.visit.zones.get(),
            kind="stung",
            what="lightener",
            minute=12,
            noted_by=self.person,
            noted_at=self.now,
        )
        self.judged()

    def test_every_fact_that_safety_hangs_on_goes_along(self) -> None:
        self.full_card()
        document = card_document(self.person, self.visit.client_id)
        self.sent(document)
        mine = told(self.person, self.visit.client_id)
        self.assertEqual(told(self.other, self.at_other().pk), mine)
        visit = Visit.objects.get(client=self.at_other())
        asked = asked_of(self.other, visit)
        self.assertEqual([test.clear for test in asked.tests], [False, True])
        self.assertEqual([test.passed for test in asked.strand_tests], [False])
        self.assertEqual([past.work for past in asked.past], ["box_dye"])
        self.assertTrue(asked.consult.pregnant)
        self.assertEqual(asked.signatures, [])  # signed elsewhere, by another licence: kept, and opens nothing
        self.assertEqual(str(Signature.objects.get(visit=visit)), "box_dye signed by ropery")
        self.assertEqual(self.sent(document).status_code, 200)
        self.assertEqual(told(self.other, self.at_other().pk), mine)

    def test_a_reaction_to_a_line_that_is_not_here_stays_a_sensitivity(self) -> None:
        self.full_card()
        document = card_document(self.person, self.visit.client_id) | {"formulas": [], "strand_tests": []}
        document["client"] |= {"reacted": False}
        for test in document["skin_tests"]:
            test["line"] = "Tarworks demi"
        answer = self.sent(document)
        self.assertContains(answer, "a clear skin test of Tarworks demi")
        client = self.at_other()
        self.assertTrue(client.reacted)
        self.assertIn("reacted to Tarworks demi on", client.sensitivities)
        self.assertFalse(client.skin_tests.exists())

    def test_what_the_other_studio_added_comes_back(self) -> None:
        self.sent(card_document(self.person, self.visit.client_id))
        client = self.at_other()
        visit = Visit.objects.get(client=client)
        Client.objects.filter(pk=client.pk).update(notes="ticklish ears")
        lab = (Decimal(60), Decimal(20), Decimal(5))
        zone = visit.zones.get()
        judge_zone(self.other, zone_id=zone.pk, lab=lab, forecast_lab=lab, source="reader", dry=True, two_lights=False)
        note_tweak(self.other, visit_id=visit.pk, zone_name=zone.name, words="two drops less", aim_lab=lab)
        HomeCare.objects.create(visit=visit, washes_a_week=2, given="a mask", next_on=datetime.date(2027, 1, 5))
        answer = self.sent(card_document(self.other, client.pk), to=self.person)
        self.assertContains(answer, "<b>1</b> here already")
        self.assertNotContains(answer, "What came otherwise")
        ours = self.visit.client
        ours.refresh_from_db()
        self.assertEqual(ours.notes, "ticklish ears")
        self.assertEqual(ZoneResult.objects.get(zone__visit=self.visit).source, "reader")
        self.assertEqual(Tweak.objects.get(visit=self.visit).words, "two drops less")
        self.assertEqual(HomeCare.objects.get(visit=self.visit).next_on, datetime.date(2027, 1, 5))

    def test_where_both_say_something_it_is_told_and_one_word_stands(self) -> None:
        self.judged()
        self.sent(card_document(self.person, self.visit.client_id))
        HomeCare.objects.filter(visit__client=self.at_other()).update(given="a comb")
        Tweak.objects.filter(client=self.at_other()).update(words="a drop more")
        ZoneResult.objects.filter(zone__visit__client=self.at_other()).update(result_l=30)
        Client.objects.filter(pk=self.at_other().pk).update(notes="theirs")
        Client.objects.filter(pk=self.visit.client_id).update(notes="ours")
        document = card_document(self.other, self.at_other().pk)
        answer = self.sent(document, to=self.person)
        for said in ("“a mask” stands", "“a drop less” stands", "light magenta, by eye, ropery” stands"):
            self.assertContains(answer, said)
        self.assertEqual(HomeCare.objects.get(visit=self.visit).given, "a mask")
        self.assertEqual(Client.objects.get(pk=self.visit.client_id).notes, "ours\ntheirs")
        answer = self.sent(document, to=self.person, prefers_file=True)
        self.assertContains(answer, "“a comb” stands")
        self.assertEqual(HomeCare.objects.get(visit=self.visit).given, "a comb")
        self.assertEqual(Tweak.objects.get(visit=self.visit).words, "a drop more")
        self.assertEqual(float(ZoneResult.objects.get(zone__visit=self.visit).result_l), 30)

    def test_what_nobody_asked_does_not_travel_and_gives_way_to_an_answer(self) -> None:
        ours = Consult.objects.create(visit=self.visit, answered=["scalp"], version=1)
        document = card_document(self.person, self.visit.client_id)
        said = document["visits"][0]["consult"]
        self.assertEqual([name for name in Consult.CHOICES if name in said], ["scalp"])
        said |= {"length": "medium", "curl": "coily"}
        self.assertNotContains(self.sent(document, to=self.person), "What came otherwise")
        ours.refresh_from_db()
        self.assertEqual((ours.answered, ours.curl), (["scalp", "length", "curl"], "coily"))

    def test_of_two_words_on_safety_the_more_careful_one_stands(self) -> None:
        self.full_card()
        careless = card_document(self.person, self.visit.client_id)
        careless["client"] |= {"reacted": False, "black_henna_tattoo": False, "sensitivities": "nickel"}
        careless["visits"][0]["consult"] |= {"pregnant": False, "virgin": True, "doctors_note": True}
        self.sent(careless, to=self.person, prefers_file=True)
        client = Client.objects.get(pk=self.visit.client_id)
        self.assertTrue(client.reacted and client.black_henna_tattoo)
        self.assertEqual(client.sensitivities, "fragrance, nickel")
        consult = Consult.objects.get(visit=self.visit)
        self.assertTrue(consult.pregnant)
        self.assertFalse(consult.virgin or consult.doctors_note)
        self.assertEqual(PastWork.objects.filter(client=client).count(), 1)
        self.assertEqual(SkinTest.objects.filter(client=client).count(), 2)

    def test_a_card_of_the_first_edition_is_still_taken(self) -> None:
        self.judged()
        document = card_document(self.person, self.visit.client_id)
        formula = document["formulas"][0]
        for name in ("day", "blend_percent", "light"):
            formula.pop(name)
        care = document["visits"][0]["home_care"]
        first = {
            "format": "rainshade-card",
            "version": 1,
            "client": {name: document["client"][name] for name in ("name", "about", "notes")},
            "formulas": [formula],
            "change_next_time": [{"zone": "whole head", "words": "a drop less"}],
            "home_care": care,
        }
        self.assertContains(self.sent(first), "<b>1</b> taken in")
        self.assertEqual(HomeCare.objects.get(visit__client=self.at_other()).given, "a mask")
        self.assertEqual(Tweak.objects.get(client=self.at_other()).words, "a drop less")
