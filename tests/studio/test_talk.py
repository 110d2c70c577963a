"""The talk: the wish as it would be worn, to turn to the client."""

import io
from decimal import Decimal

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from django.urls import reverse
from django.utils import timezone
from PIL import Image

from engine.service.root import shadow_lab
from engine.service.wear import Wear
from studio.head.models import Bowl
from studio.portrait.services.draw import draw, take_head
from studio.route.models import Agreement
from studio.visits.models import Consult, Zone
from studio.visits.services.read_hair import read_hair
from tests.engine.made_portrait import OVER_HAIR, head_photo
from tests.studio.made import LEVEL_TEN, StudioCase, make_person, put_on_hair


class Talk(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        Consult.objects.update_or_create(
            visit=self.visit, defaults={"wish": "lilac, but not at work", "setting": "work"}
        )

    def aimed(self) -> None:
        self.send("aim", lightness="66", chroma="25", hue="320")

    def talk(self, **query: object) -> HttpResponse:
        return self.client.get(reverse("route:talk", args=[self.visit.pk], query=query or None))

    def test_before_there_is_a_wish_the_way_leads_to_the_aim(self) -> None:
        self.assertRedirects(
            self.talk(),
            f"{self.on_bench('bench')}?mode=aim&zone={Zone.objects.get().pk}",
            fetch_redirect_response=False,
        )

    def test_it_begins_where_the_colour_will_be_seen(self) -> None:
        self.aimed()
        page = self.talk()
        self.assertContains(page, "lilac, but not at work")
        self.assertEqual(page.context["page"].wear, 1)
        self.assertContains(page, "the ends alone")

    def test_each_step_changes_clear_root_and_place(self) -> None:
        self.aimed()
        pages = [self.talk(wear=step).context["page"] for step in range(5)]
        self.assertEqual(len({(page.clear, page.root, page.where) for page in pages}), 5)
        seen = [page.lengths.chroma for page in pages]
        self.assertGreater(seen[-1], seen[0])
        self.assertEqual(self.talk(wear="9").context["page"].wear, 1)
        self.assertEqual(self.talk(wear="x").context["page"].wear, 1)

    def test_upkeep_is_told_in_weeks_and_in_money_once_a_price_was_agreed(self) -> None:
        self.aimed()
        self.assertNotContains(self.talk(), "a visit,")
        Agreement.objects.create(visit=self.visit, work=["colour"], price=80, noted_by=self.person)
        page = self.talk(wear=4).context["page"]
        visits = page.worn.visits_a_year
        self.assertIn(f"{80 * visits}", " ".join(page.upkeep))

    def test_the_head_is_drawn_as_the_consult_has_it(self) -> None:
        self.aimed()
        short = sum(len(strokes.d) for view in self.talk().context["page"].views for strokes in view.strokes)
        Consult.objects.update(length="very_long", curl="coily")
        long = sum(len(strokes.d) for view in self.talk().context["page"].views for strokes in view.strokes)
        self.assertGreater(long, 2 * short)

    def test_hair_that_is_too_dark_is_shown_lightened_first(self) -> None:
        self.aimed()
        read_hair(self.person, zone_id=Zone.objects.get().pk, after=1, hair=LEVEL_TEN | {"level": Decimal(5)})
        page = self.talk(wear=4).context["page"]
        self.assertIn("Lightened to level", page.first)
        self.assertGreater(page.lengths.lightness, 42, "level 5 has 40")
        today, later = (each.words for each in page.had)
        self.assertEqual(today, "today")
        self.assertRegex(later, r"^in [2-4] visits$")

    def test_taste_is_said_only_when_asked_and_marked(self) -> None:
        self.aimed()
        self.assertEqual(self.talk().context["page"].taste, ())
        page = self.talk(skin="warm", eyes="green")
        self.assertContains(page, "taste, no rule")
        self.assertGreaterEqual(len(page.context["page"].taste), 2)
        self.assertEqual(self.talk(skin="striped").context["page"].taste, ())

    def wear(self, step: Wear, **fields: object) -> HttpResponse:
        """Take a step as the page's button does."""
        page = self.talk(wear=step.value).context["page"]
        zone = page.bench.zone
        sent = {"wear": step.value, "version": page.bench.worktop.version, "zone": zone.pk, **dict(page.aim_fields)}
        return self.client.post(reverse("route:wear", args=[self.visit.pk]), sent | fields)

    def worn(self) -> dict[str, tuple[bool, str]]:
        """Of each zone, whether it gets nothing, and of which strands it is."""
        zones = Zone.objects.filter(visit=self.visit, removed=False)
        return {zone.part: (zone.left_alone, zone.pattern) for zone in zones}

    def aim_of(self, part: str) -> Bowl:
        return Bowl.objects.get(coats__zone__visit=self.visit, coats__zone__part=part, coats__removed=False)

    def test_on_stage_the_whole_head_is_aimed_at(self) -> None:
        self.aimed()
        fields = dict(self.talk(wear=4).context["page"].aim_fields)
        self.assertIn("/bench/", self.wear(Wear.STAGE).url)
        self.assertEqual(self.worn(), {"whole": (False, "all")})
        self.assertAlmostEqual(float(self.bowl.target_l), float(fields["lightness"]), delta=0.1)

    def test_every_day_the_root_gets_a_shadow_two_levels_deeper(self) -> None:
        self.aimed()
        self.wear(Wear.DAILY)
        self.assertEqual(set(self.worn()), {"roots", "ends"})
        lengths, root = (self.aim_of(part) for part in ("ends", "roots"))
        expected = shadow_lab(np.array([lengths.target_l, lengths.target_a, lengths.target_b], dtype=float), 2.0)
        self.assertAlmostEqual(float(root.target_l), expected[0], delta=0.1)
        self.assertLess(root.target_l, lengths.target_l)

    def test_in_the_evening_the_root_is_tapped_two_cm_wide(self) -> None:
        self.aimed()
        self.wear(Wear.EVENING)
        root = Zone.objects.get(visit=self.visit, part="roots", removed=False)
        self.assertEqual(float(root.to_cm), 2.0)

    def test_at_work_the_ends_alone_get_it(self) -> None:
        self.aimed()
        answer = self.wear(Wear.WORK)
        self.assertEqual(
            {part: alone for part, (alone, _) in self.worn().items()}, {"roots": True, "mids": True, "ends": False}
        )
        ends = Zone.objects.get(visit=self.visit, part="ends", removed=False)
        self.assertIn(f"zone={ends.pk}", answer.url)

    def test_only_in_the_sun_a_veil_of_own_hair_lies_over_it(self) -> None:
        self.aimed()
        self.wear(Wear.SUN)
        self.assertEqual(self.worn(), {"whole": (False, "all"), "crown": (True, "veil")})

    def test_a_second_thought_leaves_no_bare_mids_between_root_and_ends(self) -> None:
        self.aimed()
        self.wear(Wear.WORK)
        self.wear(Wear.STAGE, zone=Zone.objects.get(part="ends", removed=False).pk)
        self.assertEqual(
            {part: alone for part, (alone, _) in self.worn().items()}, dict.fromkeys(("roots", "mids", "ends"), False)
        )

    def test_undo_brings_the_whole_head_back(self) -> None:
        for step in (Wear.WORK, Wear.DAILY, Wear.SUN):
            with self.subTest(step=step.name):
                self.aimed()
                before = self.bowl.target_l
                self.wear(step)
                for _ in range(4):
                    if set(self.worn()) == {"whole"} and self.bowl.target_l == before:
                        break
                    self.send("walk", way="undo")
                self.assertEqual(self.worn(), {"whole": (False, "all")})
                self.assertEqual(self.bowl.target_l, before)

    def test_a_head_that_is_parted_keeps_its_zones_and_its_root_gets_its_look(self) -> None:
        self.send("zones", way="two")
        self.aimed_at(part="ends")
        self.assertContains(self.talk(wear=2), "where it goes stays as your zones are")
        self.wear(Wear.DAILY, zone=Zone.objects.get(part="ends", removed=False).pk)
        self.assertEqual(set(self.worn()), {"roots", "ends"})
        self.assertLess(self.aim_of("roots").target_l, self.aim_of("ends").target_l)
        self.wear(Wear.WORK, zone=Zone.objects.get(part="ends", removed=False).pk)
        self.assertTrue(self.worn()["roots"][0], "its root is left as it is")

    def aimed_at(self, part: str) -> None:
        zone = Zone.objects.get(part=part, removed=False)
        self.send("aim", lightness="66", chroma="25", hue="320", zone=zone.pk, everywhere="1")

    def test_what_can_not_be_taken_is_told_and_nothing_changes(self) -> None:
        self.aimed()
        before = (self.bowl.version, self.worn())
        for fields, words in (
            ({"wear": "9"}, "Choose where the colour is to be seen"),
            ({"wear": ""}, "Choose where the colour is to be seen"),
            ({"lightness": "much"}, "needs a number"),
        ):
            self.assertContains(self.wear(Wear.DAILY, **fields), words, status_code=422)
        self.assertEqual(self.wear(Wear.DAILY, version=self.bowl.version - 1).status_code, 409)
        self.assertEqual((self.bowl.version, self.worn()), before)

    def test_a_coat_that_is_on_keeps_the_head_from_being_parted(self) -> None:
        self.aimed()
        self.send("pour", shade=self.shade("Orchil").pk, grams="4")
        put_on_hair(self.person, zone_id=self.visit.zones.get().pk, kind="direct", now=timezone.now())
        before = self.bowl.version
        self.assertEqual(self.wear(Wear.DAILY).status_code, 422)
        self.assertEqual((self.bowl.version, set(self.worn())), (before, {"whole"}))

    def test_her_own_photo_shows_it_as_worn_and_the_rest_as_it_is(self) -> None:
        self.aimed()
        at = reverse("route:talk-photo", args=[self.visit.pk])
        self.assertEqual(self.client.get(at).status_code, 404)
        take_head(self.person, visit_id=self.visit.pk, upload=SimpleUploadedFile("head.png", head_photo(300, 375)))
        draw(self.person, visit_id=self.visit.pk, of="hair", points=OVER_HAIR)
        self.assertContains(self.talk(wear=4), at)
        self.assertNotContains(self.talk(wear=4, on="drawn"), at)
        pictures = []
        for step in (1, 4):
            answer = self.client.get(at, {"wear": step})
            self.assertEqual(answer["Content-Type"], "image/jpeg")
            with Image.open(io.BytesIO(answer.content)) as shown:
                pictures.append(np.asarray(shown.convert("RGB")).astype(int))
        tags = {self.client.get(at, {"wear": step})["ETag"] for step in (1, 1, 4)}
        self.assertEqual(len(tags), 2)
        ends, whole = (np.abs(each - self.bare_photo()).max(axis=-1) > 24 for each in pictures)
        self.assertGreater(whole.sum(), 2 * ends.sum(), "the ends alone are less than all of it")
        self.assertGreater(ends.sum(), 100)

    def bare_photo(self) -> np.ndarray:
        taken = self.client.get(reverse("portrait:taken", args=[self.visit.pk]))
        with Image.open(io.BytesIO(taken.content)) as shown:
            return np.asarray(shown.convert("RGB")).astype(int)

    def test_another_studio_hears_nothing(self) -> None:
        self.aimed()
        take_head(self.person, visit_id=self.visit.pk, upload=SimpleUploadedFile("head.png", head_photo(120, 150)))
        draw(self.person, visit_id=self.visit.pk, of="hair", points=OVER_HAIR)
        self.assertEqual(self.client.get(reverse("route:talk-photo", args=[self.visit.pk])).status_code, 200)
        self.client.force_login(make_person("Sail Loft", "sail"))
        self.assertEqual(self.talk().status_code, 404)
        self.assertEqual(self.client.get(reverse("route:talk-photo", args=[self.visit.pk])).status_code, 404)
        at = reverse("route:wear", args=[self.visit.pk])
        self.assertEqual(self.client.post(at, {"wear": 4, "version": 1}).status_code, 404)
