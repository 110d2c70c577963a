"""The house's schools on its own page, and where they are followed."""

from decimal import Decimal

from django.urls import reverse

from engine.service.timing import Call, ClockKind, prompts
from engine.service.work import WorkKind
from studio.accounts.models import Person, Studio
from studio.head.engine_adapter import carrier_of
from studio.head.selectors import bench_of
from studio.route.page import toner_page
from studio.shelf.models import Shade
from studio.shelf.services.holding import line_changed
from studio.visits.gates import asked_of, heated
from studio.visits.models import Consult, Reading
from studio.visits.selectors import open_zone
from tests.studio.gate_case import HOUSE, Licensed
from tests.studio.made import StudioCase, make_visit


class Schools(Licensed):
    def pour_in(self, grams: dict[str, int]) -> None:
        for name, weight in grams.items():
            self.send("pour", shade=self.shade(name).pk, grams=weight)

    def test_the_page_says_and_shows_what_each_choice_does(self) -> None:
        page = self.client.get(reverse("shelf:house"))
        for words in ("Yellow-gold ✓:", "level 8 is read as mostly orange", "3 visits in all", "filled first, to this"):
            self.assertContains(page, words)
        self.keep(fill_from="more_than_two")
        self.assertContains(self.client.get(reverse("shelf:house")), "More than 2 levels ✓:")
        refused = self.client.post(reverse("shelf:house"), HOUSE | {"fill_from": "never"})
        self.assertEqual(refused.status_code, 422)

    def test_lightener_lies_as_the_house_has_it_until_somebody_asks(self) -> None:
        self.keep(lay="open")
        visit = make_visit(self.person, "Oriel Tansy")
        self.assertEqual(asked_of(self.person, visit).consult.lay, "open")
        consult = reverse("visits:consult", args=[visit.pk])
        self.client.post(consult, {"wish": "bright", "version": 0})
        self.assertEqual(Consult.objects.get(visit=visit).lay, "open")
        self.assertContains(self.client.get(consult), "Lightener lies")
        self.assertEqual(asked_of(self.person, self.visit).consult.lay, "open")  # nobody has asked there either

    def test_damp_hair_is_what_forecasts_and_clocks_begin_with(self) -> None:
        porous = {"porosity": 1.6}
        Reading.objects.filter(zone__visit=self.visit).update(**porous)
        self.pour_in({"Madder": 6, "Clear": 54})
        bench = self.on_bench("bench")
        dry = self.client.get(bench)
        self.assertContains(dry, "Dry, full time.")
        self.keep(deposit_on="damp")
        damp = self.client.get(bench)
        self.assertContains(damp, "Damp, full time.")
        self.assertNotEqual(dry.context["page"].then.hex, damp.context["page"].then.hex)
        clock = self.client.get(reverse("clocks:clock", args=[self.visit.pk]))
        self.assertRegex(clock.content.decode(), r'name="damp"[^>]*checked')

    def test_a_house_with_heat_on_lightener_meets_the_gate_on_fragile_hair(self) -> None:
        visit = make_visit(self.person, "Oriel Tansy")
        asked = asked_of(self.person, visit)
        self.assertFalse(heated(asked, WorkKind.LIGHTENER))
        self.keep(heat="lightener")
        asked = asked_of(Person.objects.get(pk=self.person.pk), visit)
        self.assertTrue(heated(asked, WorkKind.LIGHTENER))
        self.assertFalse(heated(asked, WorkKind.DEMI))

    def test_the_warmth_panel_and_the_toners_follow_the_house(self) -> None:
        self.send("aim", lightness=70, chroma=18, hue=20)
        ways = self.client.get(self.on_bench("bench"), {"warmth": 1})
        self.assertContains(ways, "Tone first")
        self.keep(pre_tone="never", toner_level="own")
        self.assertNotContains(self.client.get(self.on_bench("bench"), {"warmth": 1}), "Tone first")
        toners = self.client.get(reverse("route:route", args=[self.visit.pk]), {"toner": 1}).context["page"]
        self.assertLessEqual(len(toner_page(Person.objects.get(pk=self.person.pk), toners.bench, None).rows), 2)

    def test_the_plan_begins_where_the_house_does_and_slow_hands_take_longer(self) -> None:
        self.pour_in({"Madder": 6, "Clear": 54})
        plan = reverse("route:plan", args=[self.visit.pk])
        before = self.client.get(plan)
        self.assertContains(before, "left side, from the nape up")
        self.keep(begin_at="hairline", bowl_min=30)
        after = self.client.get(plan)
        self.assertContains(after, "left side, at the hairline")
        self.assertGreater(after.context["page"].hands_busy, before.context["page"].hands_busy)

    def test_how_hair_is_washed_is_the_same_on_route_and_plan(self) -> None:
        Reading.objects.filter(zone__visit=self.visit).update(level=5, family="natural")
        self.send("aim", lightness=60, chroma=30, hue=220)
        pages = [reverse(f"route:{name}", args=[self.visit.pk]) for name in ("route", "plan")]
        route, plan = (self.client.get(page) for page in pages)
        self.assertContains(route, "Wash once, gently")
        self.keep(clean_up="twice")
        twice, longer = (self.client.get(page) for page in pages)
        self.assertContains(twice, "Wash the root twice")
        self.assertNotContains(twice, "Wash once, gently")
        self.assertNotEqual(plan.context["page"].total, longer.context["page"].total)

    def test_bowls_are_thinned_with_what_the_house_likes(self) -> None:
        line = self.shade("Clear").line
        line.shades.create(name="Rinse", thins=Decimal("1.4"), stock_g=500, position=0, samples=None)
        Shade.objects.filter(pk=self.shade("Clear").pk).update(position=99)
        for choice, name in (("conditioner", "Rinse"), ("clear", "Clear")):
            self.keep(carrier=choice)
            line_changed(line.pk)
            with self.subTest(choice=choice):
                opened = open_zone(Person.objects.get(pk=self.person.pk), self.visit.pk)
                self.assertEqual(str(carrier_of(bench_of(self.person, opened))), name)

    def test_lightener_is_called_as_often_as_the_house_looks(self) -> None:
        often = [each.at_min for each in prompts(ClockKind.LIGHTENER, 20, check_min=2) if each.call is Call.CHECK]
        self.assertEqual(often, [2, 4, 6, 8, 10, 12, 14, 16, 18])
        never_rarer = [
            each.at_min for each in prompts(ClockKind.LIGHTENER, 20, check_min=15) if each.call is Call.CHECK
        ]
        self.assertEqual(never_rarer, [5, 10, 15])
        refused = self.client.post(reverse("shelf:house"), HOUSE | {"check_min": "15"})
        self.assertEqual(refused.status_code, 422)

    def test_what_is_said_of_water_at_home_is_the_house_s(self) -> None:
        care = reverse("result:care", args=[self.visit.pk])
        self.assertContains(self.client.get(care), "Cool water, few washes")
        self.keep(water="as_liked")
        self.assertContains(self.client.get(care), "hot water takes it faster")


class OwnLadder(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.licensed = True
        self.person.save()
        self.page = reverse("shelf:ladder")

    def rungs(self, **other: str) -> dict[str, str]:
        """The form as it stands, with fields of one level changed."""
        held = {}
        for rung in self.client.get(self.page).context["page"].rungs:
            told = {"undertone": rung.undertone, "warmth": rung.warmth, "lean": rung.lean}
            held |= {f"{name}-{rung.level}": text for name, text in told.items()}
        return held | {name.replace("_", "-"): text for name, text in other.items()}

    def test_a_house_reads_by_its_own_words_and_eyes(self) -> None:
        before = self.client.get(reverse("visits:read", args=[self.visit.pk]))
        self.assertNotContains(before, "quince")
        self.assertRedirects(self.client.post(self.page, self.rungs(undertone_8="quince", warmth_8="1,5")), self.page)
        self.person.studio.refresh_from_db()
        self.assertEqual(self.person.studio.school, "own")
        self.assertEqual(self.person.studio.ladder.undertone(8), "quince")
        self.assertEqual(self.person.studio.ladder.undertone_at(8)[0], 1.5)
        self.assertContains(self.client.get(reverse("visits:read", args=[self.visit.pk])), "quince")
        self.client.post(
            reverse("visits:school", args=[self.visit.pk]), {"school": "orange_at_8", "zone": self.visit.zones.get().pk}
        )
        self.assertEqual(Studio.objects.get(pk=self.person.studio_id).own_ladder[7]["undertone"], "quince")  # kept

    def test_what_is_no_rung_is_told_at_its_field_and_stays(self) -> None:
        for field, text, words in (
            ("warmth_8", "hot", "Warmth of level 8 needs a number"),
            ("lean_3", "11", "Lean of level 3: 0 to 10"),
            ("warmth_8", "-2.5", "-2 to 2"),
            ("undertone_8", "", "needs a word"),
            ("undertone_8", "x" * 41, "needs a word"),
        ):
            with self.subTest(field=field, text=text):
                answer = self.client.post(self.page, self.rungs(**{field: text}))
                self.assertContains(answer, words, status_code=422)
                self.assertRegex(answer.content.decode(), rf'name="{field.replace("_", "-")}"\s+value="{text}"')
                self.assertEqual(answer.content.decode().count("aria-invalid"), 1)
        self.assertEqual(Studio.objects.get(pk=self.person.studio_id).school, "yellow_gold_at_8")

    def test_the_own_ladder_is_none_before_it_has_rungs(self) -> None:
        refused = self.client.post(reverse("shelf:house"), HOUSE | {"school": "own"})
        self.assertContains(refused, "Keep a ladder of your own first", status_code=422)
        read = reverse("visits:read", args=[self.visit.pk])
        self.assertNotContains(self.client.get(read), "our own ladder")
        form = {"school": "own", "zone": self.visit.zones.get().pk}
        answer = self.client.post(reverse("visits:school", args=[self.visit.pk]), form)
        self.assertContains(answer, "Choose one of the schools", status_code=422)
        self.client.post(self.page, self.rungs())
        self.assertContains(self.client.get(read), "our own ladder")

    def test_only_a_licensed_hand_sets_it_and_a_school_is_where_it_begins_again(self) -> None:
        orange = self.client.get(self.page, {"from": "orange_at_8"})
        self.assertContains(orange, "mostly orange")
        self.assertEqual(self.client.get(self.page, {"from": "nonsense"}).status_code, 200)
        self.person.licensed = False
        self.person.save()
        self.assertContains(self.client.post(self.page, self.rungs()), "licensed", status_code=422)
