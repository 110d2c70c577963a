"""Everything about one person handed over, and forgotten: no row and no text of them is left."""

import io
import json
import zipfile

from django.apps import apps
from django.db import models
from django.urls import reverse
from django.utils import timezone

from studio.cards.models import Formula, ZoneResult
from studio.clients.models import Client
from studio.clocks.models import ZoneClock
from studio.formats.models import Intake, IntakePart
from studio.photos.models import Photo
from studio.visits.models import Consult, Signature, Visit
from tests.studio.made import StudioCase, make_person, make_visit
from tests.studio.made_far import bring_far

MARK = "Zephyrine"


def rows_that_say(text: str) -> list[str]:
    """The fields of all tables of ours in which a text stands."""
    kinds = (models.CharField, models.TextField, models.JSONField)
    return [
        f"{model.__name__}.{field.name}"
        for model in apps.get_models()
        if model.__module__.startswith("studio.")
        for field in model._meta.get_fields()
        if isinstance(field, kinds) and model._default_manager.filter(**{f"{field.name}__icontains": text}).exists()
    ]


class Forget(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        bring_far(self.person, self.visit)
        self.one = self.visit.client
        Client.objects.filter(pk=self.one.pk).update(name=f"{MARK} Vane", about=f"{MARK} of the oboe", notes=MARK)
        Consult.objects.filter(visit=self.visit).update(wish=f"as {MARK} likes it", resistant=f"{MARK}'s nape")
        Formula.objects.filter(client=self.one).update(note=f"for {MARK}")
        self.file = self.half_taken_in()
        ZoneClock.objects.filter(zone__visit=self.visit, rinsed_at=None).update(rinsed_at=timezone.now())
        self.at = reverse("formats:erase", args=[self.one.pk])

    def half_taken_in(self) -> Intake:
        """A file of two people's formulas, of which a piece is still to come, with what it has told so far."""
        name = f"{MARK} Vane"
        file = Intake.objects.create(
            studio=self.person.studio,
            person=self.person,
            total=3,
            done=1,
            told=[f"{name}, 2026-11-02: notes differ", "Pim Sallow, 2026-11-02: notes differ"],
            faults=[{"line": 3, "words": f"{name} has too many zones"}, {"line": 4, "words": "no shade"}],
            card={"client": {"name": name}},
        )
        rows = [{"line": line, "client": who, "about": "", "formula": {}} for line, who in ((1, name), (2, "Pim"))]
        IntakePart.objects.create(intake=file, number=1, rows=rows)
        return file

    def forget(self, typed: str = f"{MARK} Vane", **fields: str):
        return self.client.post(self.at, {"typed": typed, **fields})

    def test_all_that_is_kept_goes_out_as_one_file_that_a_studio_can_take_in(self) -> None:
        answer = self.client.get(reverse("formats:everything", args=[self.one.pk]))
        self.assertEqual(answer["Content-Type"], "application/zip")
        archive = zipfile.ZipFile(io.BytesIO(answer.content))
        self.assertIsNone(archive.testzip())
        card = json.loads(archive.read("card.json"))
        self.assertEqual(card["client"]["name"], f"{MARK} Vane")
        self.assertTrue(archive.read("card.pdf").startswith(b"%PDF"))
        photos = [name for name in archive.namelist() if name.startswith("photos/")]
        self.assertEqual(len(photos), Photo.objects.filter(visit__client=self.one).count())
        self.assertTrue(all(archive.read(name).startswith(b"\xff\xd8") for name in photos))

    def test_forgotten_whole_nothing_says_who_it_was(self) -> None:
        others = make_visit(self.person, "Pim Sallow")
        self.assertTrue(rows_that_say(MARK))
        self.assertRedirects(self.forget(), reverse("cards:list"))
        self.assertEqual(rows_that_say(MARK), [])
        self.assertFalse(Visit.objects.filter(pk=self.visit.pk).exists())
        self.assertFalse(ZoneResult.objects.exists() or Formula.objects.exists() or Photo.objects.exists())
        self.assertTrue(Visit.objects.filter(pk=others.pk).exists())
        self.file.refresh_from_db()
        self.assertEqual((self.file.total, self.file.card), (2, None))
        self.assertEqual([row["client"] for row in self.file.parts.get().rows], ["Pim"])
        self.assertEqual(self.file.told, ["Pim Sallow, 2026-11-02: notes differ"])
        self.assertEqual(self.file.faults, [{"line": 4, "words": "no shade"}])

    def test_without_a_name_what_was_mixed_and_what_came_of_it_stays(self) -> None:
        formulas, results = Formula.objects.count(), ZoneResult.objects.count()
        self.assertRedirects(self.forget(keeps="mixes"), reverse("cards:list"))
        self.assertEqual(rows_that_say(MARK), [])
        self.assertEqual((Formula.objects.count(), ZoneResult.objects.count()), (formulas, results))
        self.assertFalse(Photo.objects.exists() or Signature.objects.exists() or self.one.skin_tests.exists())
        card = self.client.get(reverse("cards:card", args=[self.one.pk]))
        self.assertContains(card, f"No name {self.one.pk}")

    def test_it_takes_the_name_and_hair_that_nothing_works_on(self) -> None:
        for typed in ("", "Zephyrine", "someone else"):
            self.assertContains(self.forget(typed), "Nothing was forgotten", status_code=422)
        ZoneClock.objects.filter(zone__visit=self.visit).update(rinsed_at=None)
        self.assertContains(self.forget(), "rinse first", status_code=422)
        self.assertTrue(Client.objects.filter(pk=self.one.pk).exists())

    def test_another_studios_client_is_neither_handed_over_nor_forgotten(self) -> None:
        stranger = make_visit(make_person("Salt Row", "salt"), "Nell").client
        self.assertEqual(self.client.get(reverse("formats:everything", args=[stranger.pk])).status_code, 404)
        at = reverse("formats:erase", args=[stranger.pk])
        self.assertEqual(self.client.post(at, {"typed": "Nell"}).status_code, 404)
        self.assertTrue(Client.objects.filter(pk=stranger.pk).exists())
