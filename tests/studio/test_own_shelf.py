"""A studio puts its own tubes on its shelf, mixes with them, and takes them off again."""

from decimal import Decimal

from django.urls import reverse

from studio.accounts.models import Person, Studio
from studio.head.models import Bowl
from studio.shelf.models import Shade, ShadeLine, TubeList
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit
from tests.studio.made import LEVEL_TEN, TODAY, StudioCase, add_client, make_person

LIST = "Sea Pink\tP1\t\tpink\t100\t5.20\nHarbour Mint\tP2\t\tmint\t100\t5.20\nBeacon\tP3\nRope Clear\tP0"
NEW = {"line": "", "line_name": "Quayside", "kind": "direct", "tube_g": "60", "tone_letters": "", "tubes": LIST}
PERMANENT = NEW | {
    "line_name": "Sluice",
    "kind": "permanent",
    "developer_parts": "1",
    "developer_vol": "20",
    "tone_letters": "3 gold, 4 copper, 0 natural",
    "tubes": "Dune\t7.43\nLoam\t5.0\nSluice clear",
}


class OwnShelf(StudioCase):
    def add(self, **fields: object):
        return self.client.post(reverse("shelf:add"), {**NEW, **fields})

    def shelf(self, **query: object):
        return self.client.get(reverse("shelf:shelf"), query)

    def take(self, **fields: object):
        return self.client.post(reverse("shelf:add"), {**NEW, "take": "1", **fields})

    def tube(self, name: str = "Sea Pink") -> Shade:
        return Shade.objects.get(line__studio=self.person.studio, name=name)


class Lists(OwnShelf):
    def test_a_list_is_shown_before_it_is_taken_and_nothing_is_kept_by_that(self) -> None:
        answer = self.add()
        self.assertContains(answer, "4 tubes read")
        self.assertContains(answer, "it may be anything")
        self.assertContains(answer, "Put 4 on the shelf")
        self.assertFalse(ShadeLine.objects.filter(name="Quayside").exists())

    def test_a_list_is_taken_as_one_with_full_tubes_that_are_guessed(self) -> None:
        answer = self.take()
        self.assertEqual(answer.status_code, 302)
        self.assertContains(self.client.get(answer.url), "Take them off again")
        pink, clear = self.tube(), self.tube("Rope Clear")
        self.assertEqual((pink.code, pink.stock_g, pink.tube_price), ("P1", Decimal(100), Decimal("5.20")))
        self.assertEqual((pink.known, pink.tones, pink.keyboard_key), ("named", "pink", "1"))
        self.assertEqual((clear.known, clear.samples, clear.stock_g), ("", None, Decimal(100)))
        self.assertEqual(self.tube("Beacon").tones, "")

    def test_a_list_is_taken_back_as_one_with_the_line_that_came_with_it(self) -> None:
        self.take()
        made = TubeList.objects.get()
        for _ in range(2):  # a second press finds it done
            answer = self.client.post(reverse("shelf:undo", args=[made.pk]), {"token": "once"}, follow=True)
            self.assertContains(answer, "off the shelf again")
        self.assertFalse(ShadeLine.objects.filter(name="Quayside").exists())
        demi = ShadeLine.objects.get(studio=self.person.studio, kind="demi")
        before = demi.shades.count()
        self.take(line=demi.pk, tubes="Foam\tF1\t\tsilver")
        self.client.post(reverse("shelf:undo", args=[TubeList.objects.get().pk]))
        self.assertEqual(demi.shades.count(), before)

    def test_a_list_that_a_bowl_holds_stays_and_says_which(self) -> None:
        self.take()
        bowl, pink = Bowl.objects.get(), self.tube()
        self.send("line", line=pink.line_id)
        self.send("pour", shade=pink.pk, grams="5")
        answer = self.client.post(reverse("shelf:undo", args=[TubeList.objects.get().pk]))
        self.assertContains(answer, "Sea Pink", status_code=422)
        self.assertContains(answer, "the list stays", status_code=422)
        self.assertTrue(Shade.objects.filter(pk=pink.pk).exists())
        self.assertEqual(bowl.pours.get().shade, pink)

    def test_with_a_wrong_row_nothing_is_taken_unless_it_is_left_out(self) -> None:
        bad = LIST + "\nLoud\tP4\t\tnoise\nAgain\tP1"
        answer = self.take(tubes=bad)
        self.assertContains(answer, "2 rows with something wrong", status_code=422)
        self.assertContains(answer, "noise", status_code=422)
        self.assertContains(answer, "leave them out", status_code=422)
        self.assertFalse(ShadeLine.objects.filter(name="Quayside").exists())
        self.assertEqual(self.take(tubes=bad, leave_out="1").status_code, 302)
        self.assertEqual(ShadeLine.objects.get(name="Quayside").shades.count(), 4)

    def test_a_list_that_is_sent_twice_is_taken_once(self) -> None:
        for _ in range(2):
            self.assertEqual(self.take(token="one").status_code, 302)
        self.assertEqual(TubeList.objects.count(), 1)
        self.assertContains(self.take(token="two"), "on the shelf already", status_code=422)

    def test_what_is_typed_wrong_is_told_at_its_field_and_stays(self) -> None:
        for fields, said in (
            ({"line_name": ""}, "needs a name"),
            ({"tube_g": "0"}, "1 g to 2000 g can be taken"),
            ({"tubes": ""}, "at least one tube"),
            ({"tubes": "  \n "}, "at least one tube"),
            ({"tone_letters": "1 loud"}, "no tone"),
            ({"line": "99999"}, "not one of the available"),
            ({"developer_parts": "1", "take": "1"}, "needs its strength"),
            ({"tubes": "\n".join(f"Tube {n}" for n in range(5000))}, "5000 rows"),
        ):
            with self.subTest(fields=fields):
                answer = self.add(**fields)
                self.assertContains(answer, said, status_code=422)
                self.assertContains(answer, "Quayside" if "line_name" not in fields else "Sea Pink", status_code=422)

    def test_an_oxidative_line_has_levels_and_tones_by_its_letters(self) -> None:
        self.assertEqual(self.client.post(reverse("shelf:add"), PERMANENT | {"take": "1"}).status_code, 302)
        dune, loam = self.tube("Dune"), self.tube("Loam")
        self.assertEqual((dune.level, dune.tones, loam.tones), (Decimal(7), "copper, gold", "natural"))
        self.assertEqual((loam.known, loam.doubt_factors), ("named", None))
        self.assertEqual(dune.line.developer_vol, Decimal(20))
        self.send("line", line=dune.line_id)
        self.send("pour", shade=dune.pk, grams="30")
        self.assertContains(self.client.get(self.on_bench("bench")), "Dune guessed by name")


class Mixing(OwnShelf):
    def test_a_forecast_with_a_guess_says_so_and_is_wider(self) -> None:
        wander = []
        orchil = Shade.objects.get(line__studio=self.person.studio, name="Orchil")
        self.take()
        for shade in (orchil, self.tube()):
            self.send("aim", lightness="70", chroma="20", hue="0")
            self.send("line", line=shade.line_id)
            self.send("pour", shade=shade.pk, grams="6")
            clear = shade.line.shades.filter(name__endswith="Clear").get()
            self.send("pour", shade=clear.pk, grams="54")
            answer = self.client.get(self.on_bench("bench"))
            wander.append(float(answer.context["page"].wander))
        self.assertLess(wander[0] * 1.2, wander[1])
        self.assertContains(answer, "Sea Pink guessed by name")
        self.assertContains(answer, "P2, 100 g, guessed")
        self.assertContains(answer, ">Quayside<")  # two lines are direct now: each is called by its name

    def test_what_was_read_and_booked_of_a_tube_is_not_thrown_away_with_it(self) -> None:
        self.take()
        pink, listed = self.tube(), TubeList.objects.get()
        self.client.post(reverse("shelf:delivery", args=[pink.pk]), {"tubes": "1"})
        answer = self.client.post(reverse("shelf:undo", args=[listed.pk]))
        self.assertContains(answer, "More hangs on Sea Pink", status_code=422)
        self.client.post(reverse("shelf:off", args=[pink.pk]))
        pink.refresh_from_db()
        self.assertEqual((pink.off_shelf, pink.stock_g), (True, 0))
        move = pink.moves.first()  # the newest
        self.assertEqual((move.kind, move.grams, move.left_g), ("counted", -200, 0))

    def test_the_letters_of_a_line_are_kept_for_its_next_list(self) -> None:
        self.take()
        line = self.tube().line_id
        self.take(line=line, tubes="Dune\tX-7", tone_letters="7 copper")
        self.assertEqual(self.take(line=line, tubes="Dell\tY-7").status_code, 302)
        self.assertEqual(ShadeLine.objects.get(pk=line).tone_letters, "7 copper")

    def test_a_step_back_onto_a_line_that_is_gone_is_told(self) -> None:
        self.take()
        bowl = self.bowl
        self.send("line", line=self.tube().line_id)
        self.send("line", line=bowl.line_id)
        self.client.post(reverse("shelf:undo", args=[TubeList.objects.get().pk]))
        self.assertContains(self.send("walk", way="undo"), "no longer on the shelf", status_code=422)
        self.assertEqual(self.bowl.line_id, bowl.line_id)

    def test_a_tube_that_is_used_is_taken_off_and_kept_for_its_bowl(self) -> None:
        self.take()
        pink = self.tube()
        self.send("line", line=pink.line_id)
        self.send("pour", shade=pink.pk, grams="5")
        answer = self.client.post(reverse("shelf:off", args=[pink.pk]), follow=True)
        self.assertContains(answer, "bowls and cards keep it")
        self.assertNotContains(self.shelf(), "Sea Pink")
        self.assertContains(self.shelf(show="off"), "Sea Pink")
        self.assertContains(self.client.get(self.on_bench("bench")), "Sea Pink")
        self.send("pour", shade=pink.pk, grams="0")
        self.assertNotContains(self.client.get(self.on_bench("bench")), "Sea Pink")
        self.client.post(reverse("shelf:off", args=[pink.pk]), {"back": "1"})
        self.assertContains(self.shelf(), "Sea Pink")
        self.client.post(reverse("shelf:off", args=[self.tube("Beacon").pk]))
        self.assertFalse(Shade.objects.filter(name="Beacon").exists())


class Pages(OwnShelf):
    def test_the_shelf_is_narrowed_by_words_codes_tones_and_what_is_asked(self) -> None:
        self.take()
        for query, here, gone in (
            ({"q": "P2"}, "Harbour Mint", "Sea Pink"),
            ({"q": "pink"}, "Sea Pink", "Harbour Mint"),
            ({"q": "quayside sea"}, "Sea Pink", "Weld"),
            ({"show": "guessed"}, "Beacon", "Weld"),
            ({"show": "short"}, "Verdigris", "Orchil"),
            ({"on": "8"}, "Orchil", "No tube"),
        ):
            with self.subTest(query=query):
                answer = self.shelf(**query)
                self.assertContains(answer, here)
                self.assertNotContains(answer, gone)
        self.assertContains(self.shelf(q="nothing like it"), "No tube is like that")
        for wild in ({"on": "x", "show": "y", "taken": "9" * 40}, {"taken": "-1"}, {"q": "\u0131" * 500}):
            self.assertEqual(self.shelf(**wild).status_code, 200)

    def test_a_tube_shows_where_it_is_known_from_and_what_is_set_on_it_stays(self) -> None:
        self.take()
        pink = self.tube()
        address = reverse("shelf:tube", args=[pink.pk])
        self.assertContains(self.client.get(address), "Guessed by its name")
        self.assertContains(
            self.client.get(reverse("shelf:tube", args=[self.tube("Rope Clear").pk])), "colours nothing"
        )
        good = {"name": "Sea Pink", "code": "P9", "reorder_g": "80.5", "tube_price": "6", "keyboard_key": "5"}
        self.assertEqual(self.client.post(address, good).status_code, 302)
        pink.refresh_from_db()
        self.assertEqual((pink.code, pink.reorder_g, pink.keyboard_key), ("P9", Decimal("80.5"), "5"))
        for fields, said in (
            ({"reorder_g": "-1"}, "0 g to 9000 g can be taken"),
            ({"tube_price": "much"}, "number"),
            ({"code": "p2"}, "has the code"),
            ({"name": "Beacon"}, "is called"),
            ({"keyboard_key": "2"}, "pours another"),
            ({"keyboard_key": "h"}, "letters steer"),
            ({"name": ""}, "required"),
        ):
            with self.subTest(fields=fields):
                answer = self.client.post(address, good | fields)
                self.assertContains(answer, said, status_code=422)
        pink.refresh_from_db()
        self.assertEqual(pink.reorder_g, Decimal("80.5"))

    def test_another_studios_shelf_is_not_there(self) -> None:
        self.take()
        mine, listed = self.tube(), TubeList.objects.get()
        stranger = make_person("Salt Row", "salt")
        self.client.force_login(stranger)
        self.assertNotContains(self.shelf(), "Sea Pink")
        self.assertNotContains(self.shelf(taken=listed.pk), "Take them off")
        self.assertEqual(self.client.get(reverse("shelf:tube", args=[mine.pk])).status_code, 404)
        self.assertEqual(self.client.post(reverse("shelf:off", args=[mine.pk])).status_code, 404)
        self.assertEqual(self.client.post(reverse("shelf:undo", args=[listed.pk])).status_code, 404)
        self.assertContains(self.take(line=mine.line_id), "not one of the available", status_code=422)
        self.assertTrue(Shade.objects.filter(pk=mine.pk).exists())


class EmptyStudio(OwnShelf):
    def setUp(self) -> None:
        super().setUp()
        studio = Studio.objects.create(name="Bare Boards")
        self.person = Person.objects.create_user(username="bare", password="salt and rope", studio=studio)
        self.client.force_login(self.person)
        client = add_client(self.person, name="Nib Sallow", about="")
        self.visit = start_visit(self.person, client_id=client.pk, day=TODAY)
        self.zone = open_zone(self.person, self.visit.pk).zone
        read_hair(self.person, zone_id=self.zone.pk, after=0, hair=LEVEL_TEN)

    def test_the_way_to_the_first_line_is_told_and_hair_that_was_read_gets_its_bowl(self) -> None:
        self.assertContains(self.shelf(), "Nothing is on the shelf yet")
        for page in ("bench:bench", "route:route", "pour:pour", "route:plan"):
            answer = self.client.get(reverse(page, args=[self.visit.pk]), follow=True)
            self.assertContains(answer, "nothing to mix with yet")
        self.take()
        self.assertEqual(Bowl.objects.get(worktop__visit=self.visit).line.name, "Quayside")
        self.assertContains(self.client.get(reverse("bench:bench", args=[self.visit.pk])), "Sea Pink")
