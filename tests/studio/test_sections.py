"""A zone in sections: planned, put on and rinsed one after the other; and the turns in which zones are taken up."""

from django.urls import reverse

from studio.cards.services.save_formula import save_formula
from studio.cards.worked import worked_on
from studio.clocks.models import ZoneClock
from studio.clocks.selectors import running_clocks
from studio.clocks.services.note import note_check, set_moment
from studio.clocks.services.run import begin_section, rinse, rinse_section
from studio.head.models import Bowl
from studio.head.selectors import bench_of
from studio.head.services.coat_times import work_zone
from studio.head.services.coats import add_coat, set_coat
from studio.ui.refusal import Refusal
from studio.visits.models import Zone
from studio.visits.selectors import open_zone
from studio.visits.services.zones import add_zone
from tests.studio.made import make_person, make_visit, put_on_hair
from tests.studio.test_clocks import NOW, ClockCase, after


class PlannedCase(ClockCase):
    def setUp(self) -> None:
        super().setUp()
        self.send("aim", lightness="66", chroma="25", hue="0")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")

    def step(self, zone: Zone | None = None, **fields: object):
        zone = zone or self.zone
        coat = zone.coats.order_by("order").first()
        fields = {"of_zone": zone.pk, "of_coat": coat.pk, "version": self.bowl.version} | fields
        return self.client.post(reverse("route:step", args=[self.visit.pk]), fields, headers={"HX-Request": "true"})

    def second(self, part: str = "crown") -> Zone:
        return add_zone(self.person, like_zone_id=self.zone.pk, part=part, name="")

    def page(self):
        return self.client.get(reverse("route:plan", args=[self.visit.pk])).context["page"]

    def taken_up(self) -> list[str]:
        return list(dict.fromkeys(row.zone for row in self.page().order if row.zone))


class Planned(PlannedCase):
    def test_lightener_that_is_on_too_long_is_kept_by_the_sections_that_the_plan_names(self) -> None:
        hand = add_coat(self.person, zone_id=self.zone.pk, version=self.bowl.version, purpose="lift")
        set_coat(
            self.person, zone_id=self.zone.pk, coat_id=hand.coat_id, version=self.bowl.version, apply_min=60, minutes=30
        )
        (broken, *_) = self.page().broken
        self.assertIn("sections, each rinsed in its turn", broken.words)
        count = broken.sections
        self.assertGreater(count, 1)
        page = self.step(sections=str(count)).context["page"]
        self.assertEqual(page.broken, ())
        self.assertEqual(
            [lane.name for lane in page.lanes if lane.name != "basin"],
            [f"{self.zone.name}, section {number}" for number in range(1, count + 1)],
        )
        lifts = [row for row in page.order if row.words == "Lift"]
        self.assertEqual([row.apply_min for row in lifts], [f"{60 / count:.0f}"] * count)
        self.assertEqual([row.coat is not None for row in lifts], [True] + [False] * (count - 1))
        self.assertEqual(self.step(sections="1").context["page"].broken, (broken,))

    def test_what_is_rinsed_by_itself_waits_for_no_other_zone(self) -> None:
        crown = self.second()
        slow = {"coat_id": self.zone.coats.get().pk, "version": self.bowl.version, "apply_min": 5, "minutes": 55}
        set_coat(self.person, zone_id=self.zone.pk, **slow)
        hand = add_coat(self.person, zone_id=crown.pk, version=self.bowl.version, purpose="lift")
        set_coat(self.person, zone_id=crown.pk, coat_id=hand.coat_id, version=self.bowl.version, minutes=20)

        def minutes() -> float:
            return max(float(row.at) for row in self.page().order)

        together = minutes()
        page = self.step(crown, rinsed_apart="1").context["page"]
        self.assertEqual(next(row.where for row in page.order if row.words == "Rinse"), "crown")
        self.assertLess(minutes(), together - 10)
        self.step(crown, rinsed_apart="0")
        self.assertEqual(minutes(), together)

    def test_zones_are_taken_up_in_the_turns_that_are_said(self) -> None:
        crown, nape = self.second(), self.second("nape")
        first = self.taken_up()
        row = next(row for row in self.page().order if row.zone == first[1])
        self.step(Zone.objects.get(pk=row.zone_id), turns=row.earlier)
        self.assertEqual(self.taken_up(), [first[1], first[0], first[2]])
        rows = {row.zone: row for row in self.page().order}
        self.assertEqual(rows[first[1]].earlier, "")
        self.assertEqual(rows[first[2]].later, "")
        turned = f"{nape.pk},{crown.pk},{self.zone.pk}"
        self.step(turns=turned)
        self.assertEqual(self.taken_up(), ["nape", "crown", self.zone.name])
        self.assertTrue(self.page().has_turns)
        self.client.post(reverse("route:hands", args=[self.visit.pk]), {"turns": ""})
        self.assertEqual((self.taken_up(), self.page().has_turns), (first, False))

    def test_a_zone_that_is_gone_has_no_turn(self) -> None:
        crown = self.second()
        self.step(turns=f"{crown.pk},{self.zone.pk}")
        Zone.objects.filter(pk=crown.pk).update(removed=True)
        self.assertEqual(self.taken_up(), [self.zone.name])

    def test_bad_turns_and_sections_are_refused(self) -> None:
        other = make_visit(make_person("elsewhere", "The Other Room"))
        strange = other.zones.get().pk
        for turns in (f"{strange}", f"{self.zone.pk},{self.zone.pk}"):
            with self.subTest(turns=turns):
                self.assertContains(self.step(turns=turns), "turns name a zone", status_code=422)
        self.assertContains(self.step(turns="first"), "needs a number", status_code=422)
        for sections in ("0", "5"):
            self.assertContains(self.step(sections=sections), "1 to 4", status_code=422)
        with self.assertRaises(Bowl.DoesNotExist):
            passing = make_person("passing", "A Third Room")
            work_zone(passing, zone_id=self.zone.pk, version=self.bowl.version, rinsed_apart=True)


class Clocked(ClockCase):
    """Each section has the minutes of its own hair: first on, first off."""

    def setUp(self) -> None:
        super().setUp()
        work_zone(self.person, zone_id=self.zone.pk, version=self.bowl.version, sections=2)
        self.clock = self.start(minutes=30)

    def test_the_clock_counts_for_the_first_section_that_is_still_on(self) -> None:
        begin_section(self.person, clock_id=self.clock.pk, now=after(12))
        self.assertEqual((self.seen(31).section, self.seen(31).called_words), ("section 1 of 2", "rinse"))
        rinse_section(self.person, clock_id=self.clock.pk)
        seen = self.seen(32)
        self.assertEqual((seen.section, seen.minutes, seen.called_words), ("section 2 of 2", 20, ""))
        self.assertEqual(self.seen(43).called_words, "rinse")
        rinse(self.person, clock_id=self.clock.pk, now=after(42))
        coat = self.zone.coats.get()
        self.assertEqual(float(coat.worked_min), 30)
        bench = bench_of(self.person, open_zone(self.person, self.visit.pk))
        self.assertAlmostEqual(worked_on(self.person, bench).process.minutes, 30)

    def test_card_and_story_tell_the_minutes_that_the_hair_had_it_on(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        begin_section(self.person, clock_id=self.clock.pk, now=after(12))
        rinse_section(self.person, clock_id=self.clock.pk)
        rinse(self.person, clock_id=self.clock.pk, now=after(42))
        formula = save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        self.assertAlmostEqual(formula.process_min, 30)
        story = self.client.get(reverse("result:story", args=[self.visit.pk]))
        self.assertContains(story, "rinsed after 30 min, the last of 2 sections")

    def test_a_section_whose_begin_was_not_noted_counts_since_the_one_before(self) -> None:
        rinse_section(self.person, clock_id=self.clock.pk)
        self.assertEqual(self.seen(31).called_words, "rinse")
        begin_section(self.person, clock_id=self.clock.pk, now=after(25))
        self.assertEqual(self.seen(31).minutes, 6)

    def test_a_begin_that_is_set_right_moves_no_later_section(self) -> None:
        begin_section(self.person, clock_id=self.clock.pk, now=after(12))
        rinse_section(self.person, clock_id=self.clock.pk)
        moment = {"moment": "applied_at", "at": after(-5), "now": after(20)}
        set_moment(self.person, clock_id=self.clock.pk, **moment)
        self.assertEqual(self.seen(32).minutes, 20)

    def test_a_check_tells_the_minute_of_the_section_that_is_looked_at(self) -> None:
        begin_section(self.person, clock_id=self.clock.pk, now=after(12))
        rinse_section(self.person, clock_id=self.clock.pk)
        found = note_check(self.person, clock_id=self.clock.pk, depth="under", is_going=False, now=after(20))
        self.assertEqual(found.minute, 8)

    def test_there_is_no_section_more_than_the_zone_has(self) -> None:
        rinse_section(self.person, clock_id=self.clock.pk)
        begin_section(self.person, clock_id=self.clock.pk, now=after(1))
        for code, act in (
            ("section_last", lambda: rinse_section(self.person, clock_id=self.clock.pk)),
            ("sections_all_on", lambda: begin_section(self.person, clock_id=self.clock.pk, now=after(2))),
        ):
            with self.subTest(code=code), self.assertRaises(Refusal) as refused:
                act()
            self.assertEqual(refused.exception.code, code)
        stranger = make_person("elsewhere", "The Other Room")
        with self.assertRaises(ZoneClock.DoesNotExist):
            rinse_section(stranger, clock_id=self.clock.pk)

    def test_the_page_offers_the_next_section_and_no_other(self) -> None:
        def offered() -> list[str]:
            answer = self.client.get(self.at("clock"))
            return [name for name in ("section_on", "section_off") if f'name="{name}"' in answer.content.decode()]

        self.assertEqual(offered(), ["section_on", "section_off"])
        self.client.post(self.at("act"), {"clock": self.clock.pk, "section_on": "1"})
        self.assertEqual(offered(), ["section_off"])
        self.client.post(self.at("act"), {"clock": self.clock.pk, "section_off": "1"})
        self.assertEqual(offered(), [])
        self.clock.refresh_from_db()
        self.assertEqual((len(self.clock.sections_on), self.clock.sections_off), (1, 1))

    def test_what_is_in_no_sections_says_nothing_of_them(self) -> None:
        crown = add_zone(self.person, like_zone_id=self.zone.pk, part="crown", name="crown")
        put_on_hair(self.person, zone_id=crown.pk, kind="direct", planned_min=30, now=NOW)
        by_zone = {each.clock.zone_id: each for each in running_clocks(self.person, [self.visit.pk], after(5))}
        self.assertEqual(by_zone[crown.pk].section, "")
