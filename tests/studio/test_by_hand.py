"""A route laid out by hand: shown before it is chosen, its coats on the zone, its gates asked."""

from decimal import Decimal

from django.urls import reverse

from studio.head.models import Coat
from studio.route.models import ChosenRoute
from tests.studio.made import TODAY, clear_skin
from tests.studio.test_route_page import RouteCase

HTMX = {"HX-Request": "true"}


class ByHand(RouteCase):
    def setUp(self) -> None:
        super().setUp()
        clear_skin(self.person, self.visit.client_id, now=TODAY)
        self.read(6, family="natural")
        self.aim(74, 18, 300)

    def choose_hand(self, **fields: object):
        return self.client.post(
            reverse("route:choose", args=[self.visit.pk]),
            {"route": "by_hand", **fields},
            headers={"HX-Request": "true"},
        )

    def lift(self) -> Coat | None:
        return Coat.objects.filter(purpose="lift", removed=False, zone__visit=self.visit).first()

    def test_it_is_shown_beside_the_others_and_nothing_is_set_yet(self) -> None:
        page = self.route(lift_to="7.5", vol="20")
        self.assertContains(page, 'data-way="by_hand"')
        self.assertContains(page, "Lift")
        self.assertIsNone(self.lift())
        self.assertNotContains(self.route(), 'data-way="by_hand"')

    def test_chosen_it_puts_its_coats_on_the_zone_and_is_shown_again(self) -> None:
        self.assertEqual(self.choose_hand(lift_to="7.5", vol="15").status_code, 200)
        lift = self.lift()
        assert lift is not None and lift.bowl is not None
        self.assertEqual((lift.to_level, lift.bowl.vol), (Decimal("7.5"), 15))
        self.assertEqual(ChosenRoute.objects.get().kind, "by_hand")
        page = self.route()
        self.assertContains(page, 'data-way="by_hand"')
        self.assertContains(page, 'value="7.5"')
        self.assertContains(page, "In use")

    def test_once_its_lift_is_off_what_is_left_of_it_is_the_colour(self) -> None:
        self.choose_hand(lift_to="7.5", vol="15")
        Coat.objects.filter(purpose="lift").update(begun=True, worked_min=20)
        self.read(7.5, family="lightened", after_lift="1", after_coats="1")
        page = self.route().context["page"]
        self.assertIsNone(page.hand.wrong)
        self.assertEqual([step.kind.value for step in page.hand.route.steps], ["deposit"])

    def test_a_fill_after_a_lift_fills_the_lifted_hair(self) -> None:
        self.aim(32, 34, 20)
        self.assertEqual(self.choose_hand(lift_to="8", fill="1").status_code, 200)
        purposes = list(Coat.objects.filter(removed=False).order_by("order").values_list("purpose", flat=True))
        self.assertEqual((purposes[:2], purposes[-1]), (["lift", "fill"], "colour"))

    def test_past_the_cap_the_gates_are_asked_and_a_signature_opens_them(self) -> None:
        hand = {"lift_to": "10", "vol": "20"}
        tried = self.route(**hand).context["page"]
        self.assertIn("lift_much", {seen.gate.code for seen in tried.gates})
        self.assertIsNone(self.lift())
        self.read(6, family="natural", porosity="1.5")
        self.person.licensed = True
        self.person.save()
        refused = self.choose_hand(**hand)
        self.assertContains(refused, "A safety gate is shut", status_code=422)
        self.assertContains(refused, 'data-way="by_hand"', status_code=422)
        self.assertIsNone(self.lift())
        (shut,) = [seen for seen in refused.context["page"].gates if seen.is_shut]
        sign = {"coat": shut.coat.key, "gate": shut.gate.code, "reason": "strand held to 10, tested today", **hand}
        signed = self.client.post(reverse("route:gate", args=[self.visit.pk]), sign, headers=HTMX)
        self.assertEqual(signed.status_code, 200, signed.context["page"].error_words)
        self.assertContains(signed, "by_hand")
        self.assertEqual(self.choose_hand(**hand).status_code, 200)
        self.assertEqual(self.lift().to_level, 10)

    def test_what_can_not_be_is_told_and_kept(self) -> None:
        for fields, said in (
            ({"lift_to": "5"}, "that light already"),
            ({"lift_to": "14"}, "Lift to level: 1 to 11"),
            ({"lift_to": "x"}, "needs a number"),
            ({"fill": "1"}, "own warmth"),
            ({"vol": "20"}, "how far to lift"),
        ):
            with self.subTest(fields=fields):
                self.assertContains(self.route(**fields), said)
                self.assertContains(self.choose_hand(**fields), said, status_code=422)
        self.assertIsNone(self.lift())
