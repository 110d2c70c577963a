"""The talk: the wish as it would be worn, to turn to the client."""

from decimal import Decimal

from django.http import HttpResponse
from django.urls import reverse

from studio.route.models import Agreement
from studio.visits.models import Consult, Zone
from studio.visits.services.read_hair import read_hair
from tests.studio.made import LEVEL_TEN, StudioCase, make_person


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

    def test_it_is_aimed_at_as_worn(self) -> None:
        self.aimed()
        page = self.talk(wear=0).context["page"]
        fields = dict(page.aim_fields)
        self.send("aim", **fields)
        self.assertAlmostEqual(float(self.bowl.target_l), float(fields["lightness"]), delta=0.1)

    def test_another_studio_hears_nothing(self) -> None:
        self.aimed()
        self.client.force_login(make_person("Sail Loft", "sail"))
        self.assertEqual(self.talk().status_code, 404)
