"""Who and what a file means: namesakes, tubes of one name, formulas that are here, and whose word stands."""

import copy
import json
import uuid

from django.db.models import F
from django.urls import reverse

from studio.cards.models import Formula, HomeCare, Tweak, ZoneResult
from studio.clients.models import Client
from studio.formats.card_json import card_document
from studio.formats.models import Intake
from studio.formats.services.erase import erase_client
from studio.shelf.models import Shade, ShadeLine
from studio.visits.models import Visit
from tests.studio.made import make_person
from tests.studio.made_files import FilesCase


class Identity(FilesCase):
    def setUp(self) -> None:
        super().setUp()
        self.judged()
        self.document = card_document(self.person, self.visit.client_id)
        self.other = make_person("Ballast Quay", "ballast")

    def send_document(self, document: dict | None = None, answers: dict | None = None, **ticked: bool):
        return self.take(json.dumps(document or self.document), answers=answers, **ticked)

    def a_namesake(self) -> dict:
        """The card of somebody else of the same name, from another studio."""
        document = copy.deepcopy(self.document)
        for each in (document["client"], document["formulas"][0], document["visits"][0]):
            each["uid"] = str(uuid.uuid4())
        document["formulas"][0]["visit"] = document["visits"][0]["uid"]
        document["client"]["about"] = "fife, second row"
        return document

    def test_nobody_is_merged_with_a_namesake_unless_somebody_says_that_she_is_the_same(self) -> None:
        namesake = self.a_namesake()
        answer = self.send_document(namesake)
        self.assertEqual(answer.status_code, 422)
        self.assertContains(answer, "Say of each name whether it is the same person", status_code=422)
        self.assertEqual((Formula.objects.count(), Client.objects.visible_to(self.person).count()), (1, 1))
        answer = self.send_document(namesake, {"Pim Harrow": "other"})
        self.assertContains(answer, "<b>1</b> taken in")
        self.assertContains(answer, "so this card is “Pim Harrow (2)”")
        second = Client.objects.get(uid=namesake["client"]["uid"])
        self.assertEqual((second.name, second.about), ("Pim Harrow (2)", "fife, second row"))
        self.assertEqual(second.formulas.get().uid, uuid.UUID(namesake["formulas"][0]["uid"]))
        self.assertContains(self.send_document(namesake), "<b>1</b> here already")  # known by now, and asked no more

    def test_who_is_the_same_is_known_by_both_from_then_on(self) -> None:
        namesake = self.a_namesake()
        namesake["formulas"][0]["pours"][0]["grams"] = 4.5
        self.assertContains(self.send_document(namesake, {"Pim Harrow": "same"}), "<b>1</b> taken in")
        client = Client.objects.visible_to(self.person).get()
        self.assertEqual(
            (client.uid, client.other_uids), (self.visit.client.uid, [uuid.UUID(namesake["client"]["uid"])])
        )
        self.assertContains(self.send_document(namesake), "<b>1</b> here already")
        self.assertEqual(client.formulas.count(), 2)

    def test_a_file_that_knows_nobody_by_a_uid_goes_by_names_as_before(self) -> None:
        document = copy.deepcopy(self.document)
        for each in (document["client"], document["formulas"][0], document["visits"][0]):
            del each["uid"]
        del document["formulas"][0]["visit"], document["shelf"]
        self.assertContains(self.send_document(document), "<b>1</b> here already")

    def test_a_client_is_known_by_another_name(self) -> None:
        Client.objects.filter(pk=self.visit.client_id).update(name="Pim Ashlar")
        self.assertContains(self.send_document(answers={"Pim": "file"}), "<b>1</b> here already")
        self.assertEqual(Client.objects.visible_to(self.person).get().name, "Pim Harrow")

    def test_a_formula_is_the_same_however_its_moment_and_tubes_are_called_by_now(self) -> None:
        Shade.objects.filter(name="Orchil").update(name="Archil")
        ShadeLine.objects.update(version=F("version") + 1)
        self.assertContains(self.send_document(), "<b>1</b> here already")
        self.document["formulas"][0] |= {"saved_at": "2026-11-01T10:00:00+00:00", "uid": str(uuid.uuid4())}
        self.assertContains(self.send_document(), "<b>1</b> taken in")
        taken = Formula.objects.get(uid=self.document["formulas"][0]["uid"])
        self.assertEqual([pour.shade_name for pour in taken.pours.all()], ["Archil", "Clear"])

    def test_a_tube_of_the_same_name_that_works_otherwise_is_told(self) -> None:
        self.assertNotContains(self.send_document(), "works otherwise")
        Shade.objects.filter(name="Orchil").update(strength=25)
        ShadeLine.objects.update(version=F("version") + 1)
        self.assertContains(self.send_document(), "Orchil, Ropewalk direct: the tube here works otherwise")

    def test_author_reader_and_judge_stay_who_they_were(self) -> None:
        formula = self.document["formulas"][0]
        self.assertEqual(
            {formula[name] for name in ("saved_by", "read_by")} | {formula["result"]["judged_by"]}, {"ropery"}
        )
        self.client.force_login(self.other)
        self.send_document()
        taken = Formula.objects.visible_to(self.other).get()
        self.assertEqual((taken.author, taken.read_as, taken.saved_by), ("ropery", "ropery", self.other))
        result = ZoneResult.objects.visible_to(self.other).get()
        self.assertEqual((result.judge, result.judged_by), ("ropery", self.other))
        story = self.client.get(reverse("result:story", args=[taken.visit_id]))
        self.assertContains(story, "by ropery")
        self.assertEqual(taken.visit.uid, self.visit.uid)

    def test_each_word_is_decided_by_itself(self) -> None:
        HomeCare.objects.update(given="a comb")
        Tweak.objects.update(words="a drop more")
        asked = self.client.post(reverse("formats:take"), {"file": self.sent()}, follow=True)
        self.assertEqual(Intake.objects.get().done, 0)
        by_title = {each.title: each for each in asked.context["questions"]}
        self.assertEqual(set(by_title), {"given", "words"})
        address = asked.request["PATH_INFO"]
        done = self.client.post(
            address, {by_title["given"].field: "file", by_title["words"].field: "here"}, follow=True
        )
        self.assertContains(done, "“a mask” stands")
        self.assertEqual((HomeCare.objects.get().given, Tweak.objects.get().words), ("a mask", "a drop more"))

    def test_a_file_is_let_go_of_before_anything_of_it_is_taken_and_not_after(self) -> None:
        HomeCare.objects.update(given="a comb")
        for _ in range(2):
            self.client.post(reverse("formats:take"), {"file": self.sent()}, follow=True)
        first, second = Intake.objects.order_by("pk")
        self.client.force_login(self.other)
        self.assertEqual(self.client.post(reverse("formats:drop-intake", args=[first.pk])).status_code, 404)
        self.client.force_login(self.person)
        self.client.post(reverse("formats:intake", args=[second.pk]))
        for each in (first, second):
            self.client.post(reverse("formats:drop-intake", args=[each.pk]))
        self.assertEqual(list(Intake.objects.all()), [second])
        self.assertTrue(Intake.objects.get().is_finished)

    def sent(self):
        """The card as a file."""
        return self.a_file(json.dumps(self.document))

    def test_who_is_forgotten_is_known_to_no_file(self) -> None:
        client = self.visit.client
        before = client.uid
        left = erase_client(self.person, client_id=client.pk, typed=client.name, keeps_mixes=True)
        self.assertNotEqual(left.uid, before)
        self.assertContains(self.send_document(), "<b>1</b> here already")  # the mix has no name, and stays that way
        self.assertFalse(Formula.objects.filter(client__name="Pim Harrow").exists())

    def test_visits_of_two_studios_on_a_server_may_be_the_same(self) -> None:
        self.client.force_login(self.other)
        self.send_document()
        self.assertEqual(Visit.objects.filter(uid=self.visit.uid).count(), 2)
