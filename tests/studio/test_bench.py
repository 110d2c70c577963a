"""The Bench through its pages: pouring, aiming, hitting, undoing, and what it refuses."""

from decimal import Decimal

from django.urls import reverse

from engine.service.route import SPARED_SENTENCE
from studio.bench.answers import lift_words
from studio.head.models import Bowl, Portion
from studio.head.selectors import bench_of
from studio.head.services.change_line import change_line
from studio.head.state import rows_of, state_of
from studio.shelf.models import ShadeLine
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from tests.studio.made import StudioCase, make_person, make_visit


class Pouring(StudioCase):
    def test_grams_typed_and_stepped_end_in_the_bowl(self) -> None:
        madder = self.shade("Madder")
        self.assertEqual(self.send("pour", shade=madder.pk, grams="2.5").status_code, 200)
        self.send("pour", shade=madder.pk, by="1")
        self.send("pour", shade=madder.pk, by="-0.1")
        self.assertEqual(self.poured(), {"Madder": Decimal("3.40")})

    def test_a_comma_and_a_unit_are_understood(self) -> None:
        self.send("pour", shade=self.shade("Weld").pk, grams="1,5 g")
        self.assertEqual(self.poured(), {"Weld": Decimal("1.50")})

    def test_stepping_below_nothing_takes_the_shade_out(self) -> None:
        weld = self.shade("Weld")
        self.send("pour", shade=weld.pk, grams="0.5")
        self.send("pour", shade=weld.pk, by="-1")
        self.assertEqual(self.poured(), {})

    def test_a_pour_changes_the_forecast_and_says_so_in_words(self) -> None:
        self.send("aim", lightness="60", chroma="25", hue="5")
        before = self.client.get(self.on_bench("bench"))
        after = self.send("pour", shade=self.shade("Orchil").pk, grams="4")
        self.assertContains(before, "The bowl is empty")
        self.assertNotContains(after, "The bowl is empty")
        self.assertContains(after, "ΔE00")
        self.assertNotEqual(before.context["page"].then.hex, after.context["page"].then.hex)

    def test_without_script_a_change_ends_in_a_redirect_to_the_page(self) -> None:
        weld = self.shade("Weld")
        answer = self.send("pour", htmx=False, shade=weld.pk, grams="1")
        self.assertRedirects(answer, f"{self.on_bench('bench')}?zone={self.visit.zones.get().pk}&shade={weld.pk}")

    def test_the_demi_line_asks_for_its_developer(self) -> None:
        demi = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        self.send("line", line=demi.pk)
        answer = self.send("pour", shade=self.shade("Selenite").pk, grams="10")
        self.assertContains(answer, "developer 7 vol 20 g (1 : 2)")

    def test_page_and_fragment_show_the_same_bench(self) -> None:
        self.send("pour", shade=self.shade("Smalt").pk, grams="3")
        headers = {"HX-Request": "true", "HX-Target": "main"}
        fragment = self.client.get(self.on_bench("bench"), headers=headers).content.decode()
        page = self.client.get(self.on_bench("bench")).content.decode()
        self.assertIn("</main>", fragment)
        self.assertNotIn("<html", fragment)
        for piece in ('id="bowl"', "3.0 g", "Smalt"):
            self.assertIn(piece, fragment)
            self.assertIn(piece, page)

    def test_the_bench_costs_a_fixed_number_of_queries(self) -> None:
        self.send("pour", shade=self.shade("Smalt").pk, grams="3")
        # session, person; zones, readings; zones with a bowl; coats, pours, trail, a guess, lines; shades are kept
        with self.assertNumQueries(10):
            self.client.get(self.on_bench("bench"))

    def test_a_pour_costs_a_fixed_number_of_queries(self) -> None:
        shade, version = self.shade("Smalt").pk, self.bowl.version
        self.client.get(self.on_bench("bench"))  # the line is in memory, as it is of a studio at work
        # session, person; zones, readings; savepoint (2), rows (2, locked), pour, worktop, step; trail
        with self.assertNumQueries(12):
            self.send("pour", shade=shade, grams="3", version=version)

    def test_a_pour_leaves_page_and_step_as_the_database_is(self) -> None:
        """It writes both from the rows that it locked, whatever else is on the worktop."""
        self.send("zones", name="Ends", part="ends", way="add")
        self.assertEqual(self.send("zones", name="Mids", part="mids", way="add").status_code, 200)
        ends = self.visit.zones.get(name="Ends")
        self.send("zones", way="own", zone=ends.pk)
        self.assertEqual(Bowl.objects.filter(worktop__visit=self.visit, coats__isnull=False).distinct().count(), 2)
        for fields in ({"grams": "3"}, {"by": "1.5"}, {"grams": "0"}, {"grams": "2"}, {"grams": "2", "zone": ends.pk}):
            answer = self.send("pour", shade=self.shade("Smalt").pk, **fields)
            worktop = self.visit.worktop
            worktop.refresh_from_db()
            self.assertEqual(answer.context["page"].version, str(worktop.version))
            state = state_of(rows_of(self.person, self.visit.pk))
            self.assertEqual(worktop.steps.get(number=worktop.cursor).state, state)

    def test_corrections_stay_beside_a_panel(self) -> None:
        """Left to a later request they would never come: the page that is morphed keeps a place already answered."""
        self.send("aim", lightness="60", chroma="25", hue="5")
        self.send("pour", shade=self.shade("Smalt").pk, grams="3")
        headers = {"HX-Request": "true", "HX-Target": "main"}
        for panel in ("answers", "adjust", "warmth", "zones"):
            page = self.client.get(self.on_bench("bench"), {panel: "1"}, headers=headers)
            self.assertContains(page, 'class="fixes"')
            self.assertNotContains(page, "data-pending")


class RefusedPours(StudioCase):
    def refused(self, fields: dict[str, object], words: str, kept: str = "") -> None:
        answer = self.send("pour", **fields)
        self.assertContains(answer, words, status_code=422, html=False)
        if kept:
            self.assertContains(answer, f'value="{kept}"', status_code=422)
        self.assertEqual(self.poured(), {"Weld": Decimal("2.00")})

    def setUp(self) -> None:
        super().setUp()
        self.send("pour", shade=self.shade("Weld").pk, grams="2")

    def test_negative_grams(self) -> None:
        self.refused({"shade": self.shade("Weld").pk, "grams": "-3"}, "An amount can&#x27;t be negative", kept="-3")

    def test_absurd_grams(self) -> None:
        self.refused({"shade": self.shade("Weld").pk, "grams": "99999"}, "at most 1000 g", kept="99999")

    def test_what_is_not_a_number(self) -> None:
        for typed in ("lots", "NaN", "Infinity", "1e400", ""):
            with self.subTest(typed=typed):
                self.refused({"shade": self.shade("Weld").pk, "grams": typed}, "Amount needs a number", kept=typed)

    def test_a_shade_of_another_line_another_studio_or_none(self) -> None:
        make_person("Tannery Steps", "tannery")
        stranger = ShadeLine.objects.exclude(studio=self.person.studio).first()
        for shade in (self.shade("Selenite").pk, stranger.shades.first().pk, 10**12, "x", "", "²"):
            with self.subTest(shade=shade):
                self.refused({"shade": shade, "grams": "1"}, "not in this line")

    def test_a_change_made_on_an_old_view_is_told_and_nothing_is_lost(self) -> None:
        old = self.bowl.version
        self.send("pour", shade=self.shade("Madder").pk, grams="4")
        answer = self.send("pour", shade=self.shade("Weld").pk, grams="9", version=old)
        self.assertContains(answer, "changed in another window", status_code=409)
        self.assertContains(answer, "9 g Weld", status_code=409)
        self.assertContains(answer, "4 g Madder", status_code=409)
        self.assertEqual(self.poured(), {"Weld": Decimal("2.00"), "Madder": Decimal("4.00")})

    def test_a_version_that_is_no_number_counts_as_old(self) -> None:
        for version in ("", "x", "²", "-1"):
            answer = self.send("pour", shade=self.shade("Weld").pk, grams="9", version=version)
            self.assertEqual(answer.status_code, 409)


class Undo(StudioCase):
    def test_every_step_can_be_undone_and_redone(self) -> None:
        self.send("pour", shade=self.shade("Weld").pk, grams="2")
        self.send("aim", lightness="60", chroma="25", hue="5")
        self.send("pour", shade=self.shade("Weld").pk, grams="5")
        self.send("walk", way="undo")
        self.assertEqual(self.poured(), {"Weld": Decimal("2.00")})
        self.send("walk", way="undo")
        self.assertIsNone(self.bowl.target_l)
        self.send("walk", way="undo")
        self.assertEqual(self.poured(), {})
        for _ in range(3):
            self.send("walk", way="redo")
        self.assertEqual(self.poured(), {"Weld": Decimal("5.00")})
        self.assertIsNotNone(self.bowl.target_l)

    def test_a_new_step_forgets_what_was_undone(self) -> None:
        self.send("pour", shade=self.shade("Weld").pk, grams="2")
        self.send("walk", way="undo")
        self.send("pour", shade=self.shade("Madder").pk, grams="1")
        answer = self.send("walk", way="redo")
        self.assertContains(answer, "nothing to redo", status_code=422)

    def test_the_start_can_not_be_undone(self) -> None:
        self.assertContains(self.send("walk", way="undo"), "nothing left to undo", status_code=422)

    def test_changing_the_line_empties_the_bowl_and_undo_brings_it_back(self) -> None:
        self.send("pour", shade=self.shade("Weld").pk, grams="2")
        demi = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        self.send("line", line=demi.pk)
        self.assertEqual(self.poured(), {})
        self.send("walk", way="undo")
        self.assertEqual(self.poured(), {"Weld": Decimal("2.00")})
        self.assertEqual(self.bowl.line.kind, "direct")


class Aiming(StudioCase):
    def test_an_aim_is_kept_as_its_colour(self) -> None:
        self.send("aim", lightness="60", chroma="25", hue="90")
        self.assertEqual(
            [self.bowl.target_l, self.bowl.target_a, self.bowl.target_b], [Decimal("60"), Decimal("0"), Decimal("25")]
        )

    def test_a_typed_aim_that_no_screen_shows_is_refused_with_the_strongest_that_can(self) -> None:
        answer = self.send("aim", lightness="60", chroma="120", hue="200")
        self.assertContains(answer, "No screen shows this colour", status_code=422)
        self.assertContains(answer, 'value="120"', status_code=422)
        self.assertRegex(answer.content.decode(), r"strength goes up to \d\d\.")
        self.assertIsNone(self.bowl.target_l)

    def test_a_tapped_aim_beyond_the_screen_becomes_the_strongest_of_its_hue(self) -> None:
        answer = self.send("aim", lightness="60", chroma="120", hue="200", tapped="1")
        self.assertEqual(answer.status_code, 200)
        self.assertGreater(answer.context["page"].aim_lock.chroma, 25)

    def test_numbers_out_of_range_are_named_with_their_range(self) -> None:
        for field, wrong in (("lightness", "101"), ("chroma", "-1"), ("hue", "400")):
            fields = {"lightness": "60", "chroma": "20", "hue": "5", field: wrong}
            with self.subTest(field=field):
                answer = self.send("aim", **fields)
                self.assertContains(answer, ": 0 to", status_code=422)
                self.assertContains(answer, f'value="{wrong}"', status_code=422)

    def test_grams_wanted_have_a_range(self) -> None:
        self.send("wanted", total_grams="120")
        self.assertEqual(self.bowl.wanted_g, Decimal(120))
        for wrong in ("1", "5000", "much"):
            answer = self.send("wanted", total_grams=wrong)
            self.assertContains(answer, f'value="{wrong}"', status_code=422)
        self.assertEqual(self.bowl.wanted_g, Decimal(120))


class WhiteHair(StudioCase):
    """White hair has little to lift: it is not sent to the lightener for a little. Common practice, no published
    source."""

    def words(self, grey: str) -> list[str]:
        zone = self.visit.zones.get()
        number = zone.readings.first().number
        hair = {"level": Decimal(9), "grey": Decimal(grey), "yellowing": Decimal("0.5")}
        read_hair(self.person, zone_id=zone.pk, after=number, hair=hair, family="natural")
        demi = ShadeLine.objects.get(studio=self.person.studio, kind="demi")
        change_line(self.person, zone_id=zone.pk, version=self.bowl.version, line_id=demi.pk)
        self.send("aim", lightness="66", chroma="5", hue="280")
        return lift_words(bench_of(self.person, open_zone(self.person, self.visit.pk)))

    def test_for_a_little_it_is_spared_and_pigmented_hair_is_not(self) -> None:
        self.assertEqual(self.words("0.5"), [SPARED_SENTENCE])
        self.assertIn("Lift to level", self.words("0")[0])


class Hitting(StudioCase):
    def test_answers_are_weighable_add_up_and_can_be_taken(self) -> None:
        self.send("aim", lightness="62", chroma="26", hue="20")
        self.send("wanted", total_grams="50")
        answers = self.client.get(self.on_bench("bench"), {"answers": 1}).context["page"].panel.answers
        self.assertTrue(1 <= len(answers.recipes) <= 5)
        for recipe in answers.recipes:
            self.assertEqual(sum(grams for _, _, grams in recipe.pours), Decimal(50))
            self.assertGreaterEqual(min(grams for *_, grams in recipe.pours), Decimal("0.3"))  # what a scale tells
        best = {shade_id: grams for shade_id, _, grams in answers.recipes[0].pours}
        self.assertLess(answers.recipes[0].delta_e00, 1)
        taken = self.send("take", shade_id=list(best), weight=[str(g) for g in best.values()])
        self.assertContains(taken, "On the aim")
        self.assertEqual(dict(Portion.objects.values_list("shade_id", "grams")), best)

    def test_without_an_aim_the_way_to_one_is_told(self) -> None:
        answer = self.client.get(self.on_bench("bench"), {"answers": 1})
        self.assertContains(answer, "There is no aim yet", status_code=422)

    def test_an_aim_lighter_than_the_hair_is_said_to_need_lifting(self) -> None:
        visit = make_visit(self.person, "Dark Otto")
        self.client.post(
            reverse("visits:read", args=[visit.pk]),
            {"after": 1, "level": "5", "warmth": "0", "lean": "0", "porosity": "1", "grey": "0"},
        )
        self.client.post(
            reverse("bench:aim", args=[visit.pk]), {"version": 0, "lightness": "75", "chroma": "20", "hue": "0"}
        )
        answer = self.client.get(reverse("bench:bench", args=[visit.pk]), {"answers": 1})
        self.assertContains(answer, "colour never lightens")

    def test_a_taken_recipe_with_bad_weights_is_refused(self) -> None:
        weld = self.shade("Weld").pk
        for weights in ([], ["0"], ["-1"], ["2000"], ["x"]):
            answer = self.send("take", shade_id=[weld] * len(weights), weight=weights)
            self.assertEqual(answer.status_code, 422)
        self.assertEqual(self.poured(), {})
