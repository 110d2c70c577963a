"""Zones of a head: adding, splitting, sharing bowls, undoing, and what is refused."""

from decimal import Decimal

from django.urls import reverse

from studio.cards.models import Formula
from studio.cards.services.repeat_formula import repeat_formula
from studio.head.models import Bowl, Coat
from studio.visits.models import Visit, Zone
from tests.studio.made import TODAY, StudioCase, make_person, make_visit

LATER = TODAY.replace(day=TODAY.day + 5)


class ZoneCase(StudioCase):
    def zones(self, way: str, **fields: object):
        return self.send("zones", way=way, **fields)

    def names(self, visit: Visit | None = None) -> list[str]:
        return list(Zone.objects.filter(visit=visit or self.visit, removed=False).values_list("name", flat=True))

    def zone(self, name: str) -> Zone:
        return Zone.objects.get(visit=self.visit, name=name, removed=False)

    def bowl_of(self, name: str) -> Bowl:
        return self.zone(name).coats.get().bowl


class Zones(ZoneCase):
    def test_splitting_the_head_keeps_hair_and_bowl_for_all_parts(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        answer = self.zones("three")
        self.assertEqual(self.names(), ["roots", "mids", "ends"])
        self.assertContains(answer, "roots")
        self.assertEqual({self.bowl_of(name).pk for name in self.names()}, {self.bowl.pk})
        for name in self.names():
            self.assertEqual(self.zone(name).readings.get().level, Decimal(10))
        self.assertEqual(self.poured(), {"Orchil": Decimal("3.00")})

    def test_every_zone_can_have_its_own_hair_and_forecast(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.zones("two")
        self.client.post(
            reverse("visits:read", args=[self.visit.pk]),
            {
                "zone": self.zone("roots").pk,
                "after": 1,
                "level": "5",
                "warmth": "0",
                "lean": "0",
                "porosity": "1",
                "grey": "0",
                "family": "natural",
                "old_shade": "violet",
                "old_k_s": "0.3",
            },
        )
        reading = self.zone("roots").readings.first()
        self.assertEqual((reading.level, reading.family, reading.old_shade), (Decimal(5), "natural", "violet"))
        page = self.client.get(self.on_bench("bench"), {"zone": self.zone("lengths").pk}).context["page"]
        self.assertEqual([tab.zone.name for tab in page.tabs], ["roots", "lengths"])
        self.assertNotEqual(page.tabs[0].hex, page.tabs[1].hex)
        self.assertEqual([label.name for label in page.labels], ["roots", "lengths"])

    def test_every_zone_gets_a_bowl_of_its_own_at_once_and_one_undo_takes_it_back(self) -> None:
        self.send("zones", way="three")
        bowls = Bowl.objects.filter(coats__zone__visit=self.visit, coats__removed=False, coats__zone__removed=False)
        self.assertEqual(bowls.distinct().count(), 1)
        self.send("zones", way="each")
        self.assertEqual(bowls.distinct().count(), 3)
        self.send("walk", way="undo")
        self.assertEqual(bowls.distinct().count(), 1)

    def test_a_bowl_of_its_own_starts_as_a_copy_and_then_goes_its_own_way(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.zones("two")
        roots = self.zone("roots").pk
        self.zones("own", zone=roots)
        self.assertNotEqual(self.bowl_of("roots").pk, self.bowl_of("lengths").pk)
        self.assertEqual(self.bowl_of("roots").pours.get().grams, Decimal(3))
        self.send("pour", shade=self.shade("Logwood").pk, grams="1", zone=roots)
        self.assertEqual(self.bowl_of("lengths").pours.count(), 1)
        self.assertEqual(self.bowl_of("roots").pours.count(), 2)
        self.zones("share", zone=roots, other=self.zone("lengths").pk)
        self.assertEqual(self.bowl_of("roots").pk, self.bowl_of("lengths").pk)
        self.send("walk", way="undo", zone=roots)
        self.assertEqual(self.bowl_of("roots").pours.count(), 2)

    def test_a_bowl_can_be_copied_to_another_zone(self) -> None:
        self.zones("two")
        self.zones("own", zone=self.zone("roots").pk)
        self.send("pour", shade=self.shade("Weld").pk, grams="2", zone=self.zone("roots").pk)
        self.zones("copy", zone=self.zone("roots").pk, other=self.zone("lengths").pk)
        self.assertEqual(self.bowl_of("lengths").pours.get().grams, Decimal(2))

    def test_evening_a_zone_aims_its_own_bowl_at_what_its_neighbour_will_be(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.send("pour", shade=self.shade("Clear").pk, grams="40")
        self.zones("two")
        roots, lengths = self.zone("roots"), self.zone("lengths")
        page = self.client.get(self.on_bench("bench"), {"zone": lengths.pk}).context["page"]
        forecast = next(each for each in page.tabs if each.zone == lengths)
        self.zones("even", zone=roots.pk, other=lengths.pk)
        self.assertNotEqual(self.bowl_of("roots").pk, self.bowl_of("lengths").pk)
        self.assertIsNotNone(self.bowl_of("roots").target_l)
        after = self.client.get(self.on_bench("bench"), {"zone": roots.pk}).context["page"]
        self.assertEqual(after.aim_lock.hex, forecast.hex)

    def test_undo_takes_zones_away_and_redo_brings_them_back(self) -> None:
        self.zones("add", part="frame", name="")
        self.assertEqual(self.names(), ["whole head", "face frame"])
        self.send("walk", way="undo")
        self.assertEqual(self.names(), ["whole head"])
        self.send("walk", way="redo")
        self.assertEqual(self.names(), ["whole head", "face frame"])
        self.zones("remove", zone=self.zone("face frame").pk)
        self.assertEqual(self.names(), ["whole head"])
        self.send("walk", way="undo")
        self.assertEqual(self.names(), ["whole head", "face frame"])

    def test_seams_and_names_are_kept(self) -> None:
        self.zones("two")
        self.zones("blend", blend="25")
        self.assertEqual(Coat.objects.get(zone=self.zone("roots")).blend_percent, 25)
        self.zones("rename", zone=self.zone("lengths").pk, name="tail")
        self.assertEqual(self.names(), ["roots", "tail"])

    def test_one_bowl_for_all_zones_or_for_one_alone_is_a_limit_of_the_recipes(self) -> None:
        self.send("aim", lightness="60", chroma="25", hue="0")
        self.zones("two")
        shared = self.client.get(self.on_bench("bench"), {"answers": 1}).context["page"].panel.answers
        alone = self.client.get(self.on_bench("bench"), {"answers": 1, "bowls": "own"}).context["page"].panel.answers
        self.assertEqual((len(shared.recipes[0].locks), len(alone.recipes[0].locks)), (2, 1))

    def test_words_of_a_shared_recipe_are_those_of_the_zone_that_it_misses_most(self) -> None:
        self.send("aim", lightness="55", chroma="45", hue="20")
        self.zones("two")
        hair = {"level": "10", "warmth": "0", "lean": "0", "porosity": "1", "grey": "0", "family": "lightened"}
        kept = {"zone": self.zone("lengths").pk, "after": 1, "old_shade": "blue", "old_k_s": "0.1", **hair}
        self.client.post(reverse("visits:read", args=[self.visit.pk]), kept)
        page = self.client.get(self.on_bench("bench"), {"answers": 1}).context["page"].panel.answers
        for recipe in page.recipes:
            off = {name: delta_e00 for name, _, delta_e00 in recipe.locks}
            farthest = max(off, key=lambda name: off[name])
            self.assertTrue(recipe.words.startswith(f"{farthest}: "), (recipe.words, off))
        self.assertIn("A bowl for each may come nearer.", page.sentences[0])

    def test_the_bench_costs_the_same_queries_for_one_zone_and_for_six(self) -> None:
        self.zones("three")
        for part in ("frame", "crown", "nape"):
            self.zones("add", part=part, name="")
        self.client.get(self.on_bench("bench"))
        with self.assertNumQueries(8):  # as for one, less the trail of a bowl that has had no pour
            self.client.get(self.on_bench("bench"))


class Refused(ZoneCase):
    def test_what_makes_no_zone_is_refused_in_words(self) -> None:
        self.zones("add", part="crown", name="")
        for fields, words in (
            ({"way": "add", "part": "tail", "name": "x"}, "which part of the head"),
            ({"way": "add", "part": "panel", "name": "CROWN"}, "a zone of that name already"),
            ({"way": "rename", "name": "  "}, "A zone needs a name"),
            ({"way": "blend", "blend": "80"}, "Seam: 0 to 50"),
            ({"way": "blend", "blend": "wide"}, "Seam needs a number"),
            ({"way": "share", "other": "999999"}, "no longer on this head"),
            ({"way": "copy", "other": "999999"}, "no longer on this head"),
            ({"way": "even", "other": "999999"}, "no other zone"),
        ):
            with self.subTest(fields=fields):
                self.assertContains(self.send("zones", **fields), words, status_code=422)
        self.assertEqual(self.names(), ["whole head", "crown"])

    def test_the_last_zone_stays_and_twelve_are_enough(self) -> None:
        self.assertContains(self.zones("remove"), "the only zone", status_code=422)
        for number in range(11):
            self.zones("add", part="panel", name=f"panel {number}")
        self.assertContains(self.zones("add", part="panel", name="one more"), "at most 12 zones", status_code=422)

    def test_a_zone_that_was_removed_while_its_bowl_was_open_is_told_and_nothing_is_lost(self) -> None:
        self.zones("add", part="crown", name="")
        crown = self.zone("crown").pk
        self.zones("remove", zone=crown)
        answer = self.send("pour", shade=self.shade("Weld").pk, grams="2", zone=crown)
        self.assertContains(answer, "no longer on this head", status_code=409)
        self.assertEqual(self.poured(), {})
        page = self.client.get(self.on_bench("bench"), {"zone": crown})
        self.assertContains(page, "no longer on this head", status_code=409)

    def test_a_change_of_zones_on_an_old_view_is_told(self) -> None:
        self.send("pour", shade=self.shade("Weld").pk, grams="2")
        self.assertContains(self.zones("three", version=0), "changed in another window", status_code=409)
        self.assertEqual(self.names(), ["whole head"])

    def test_a_zone_of_another_studio_is_none_of_ours(self) -> None:
        stranger = make_visit(make_person("Tannery Steps", "tannery"), "Their Client")
        theirs = stranger.zones.get().pk
        for way in ("share", "copy"):
            answer = self.zones(way, other=theirs)
            self.assertContains(answer, "no longer on this head", status_code=422)
        self.assertEqual(self.send("pour", shade=self.shade("Weld").pk, grams="1", zone=theirs).status_code, 409)


class OnTheCard(ZoneCase):
    def test_all_zones_are_saved_and_repeated_with_the_bowls_they_shared(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.zones("three")
        self.zones("blend", blend="30")
        self.zones("own", zone=self.zone("roots").pk)
        self.send("pour", shade=self.shade("Logwood").pk, grams="1", zone=self.zone("roots").pk)
        saved = self.client.post(
            reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version}, follow=True
        )
        self.assertContains(saved, "Kept on the card")
        self.assertEqual(Formula.objects.count(), 3)
        visit = repeat_formula(self.person, formula_id=Formula.objects.first().pk, day=LATER)
        self.assertEqual(self.names(visit), ["roots", "mids", "ends"])
        coats = {each.zone.name: each for each in Coat.objects.filter(zone__visit=visit, zone__removed=False)}
        self.assertEqual(coats["mids"].bowl_id, coats["ends"].bowl_id)
        self.assertNotEqual(coats["roots"].bowl_id, coats["mids"].bowl_id)
        self.assertEqual(coats["roots"].blend_percent, 30)
        roots = dict(coats["roots"].bowl.pours.values_list("shade__name", "grams"))
        self.assertEqual(roots, {"Orchil": Decimal(3), "Logwood": Decimal(1)})
        for zone in visit.zones.filter(removed=False):
            self.assertEqual(zone.readings.get().level, Decimal(10))
        worktop = visit.worktop
        self.client.post(
            reverse("bench:walk", args=[visit.pk]), {"version": worktop.version, "way": "undo", "zone": ""}
        )
        self.assertEqual(self.names(visit), ["whole head"])

    def test_zones_without_a_colour_are_left_off_the_card(self) -> None:
        self.zones("two")
        self.zones("own", zone=self.zone("roots").pk)
        self.send("pour", shade=self.shade("Orchil").pk, grams="3", zone=self.zone("lengths").pk)
        self.client.post(reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version})
        self.assertEqual(Formula.objects.get().zone_name, "lengths")
