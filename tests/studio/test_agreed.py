"""What the client agrees to before the work starts, and the price of a change."""

from django.urls import reverse

from studio.route.models import Agreement
from tests.studio.made import StudioCase


class Agreeing(StudioCase):
    def agree(self, **sent: object):
        headers = {"HX-Request": "true", "HX-Target": "main"}
        seen = {"version": self.bowl.version, **sent}
        return self.client.post(reverse("route:agree", args=[self.visit.pk]), seen, headers=headers)

    def plan(self):
        return self.client.get(reverse("route:plan", args=[self.visit.pk]))

    def test_the_work_is_agreed_at_a_price_and_a_change_is_told_with_what_it_costs(self) -> None:
        self.assertContains(self.plan(), "Not agreed yet")
        self.send("pour", shade=self.shade("Orchil").pk, grams="6")
        self.assertContains(self.agree(price="85"), "Agreed</b> at")
        self.assertFalse(self.plan().context["page"].agreed.is_stale)
        added = self.send("coats", way="add", purpose="glaze")
        self.assertEqual(added.status_code, 200)
        glaze = self.visit.zones.get().coats.get(purpose="glaze")
        self.send("pour", shade=self.shade("Orchil").pk, grams="10", coat_id=glaze.pk)
        colour = self.visit.zones.get().coats.get(purpose="colour")
        self.send("pour", shade=self.shade("Orchil").pk, grams="20", coat_id=colour.pk)  # agreed to already
        agreed = self.plan().context["page"].agreed
        self.assertTrue(agreed.is_stale)
        self.assertEqual((agreed.added, agreed.left_out), (("whole head: glaze",), ()))
        self.assertEqual(agreed.added_cost, f"{10 * 6.9 / 60:.2f}")
        self.assertContains(self.plan(), "Changed since it was agreed")
        self.agree(price="95,5")
        self.assertFalse(self.plan().context["page"].agreed.is_stale)
        story = self.client.get(reverse("result:story", args=[self.visit.pk]))
        self.assertContains(story, "for 85: whole head: colour")
        self.assertContains(story, "for 95.5: whole head: colour, whole head: glaze")

    def test_a_price_may_be_left_out_and_a_wrong_one_is_told(self) -> None:
        for wrong, said in (("many", "Price needs a number"), ("-3", "Price: 0 to"), ("1e9", "Price")):
            with self.subTest(wrong=wrong):
                self.assertContains(self.agree(price=wrong), said, status_code=422)
        self.assertFalse(Agreement.objects.exists())
        self.assertEqual(self.agree().status_code, 200)
        self.assertIsNone(Agreement.objects.get().price)

    def test_what_was_typed_stays_and_the_last_price_stands_in_the_field(self) -> None:
        self.assertContains(self.agree(price="8o"), 'value="8o"', status_code=422)
        self.agree(price="85")
        self.assertEqual(self.plan().context["page"].price, "85")

    def test_nobody_agrees_to_work_that_another_window_has_changed(self) -> None:
        seen = self.bowl.version
        self.send("pour", shade=self.shade("Orchil").pk, grams="6")
        self.assertEqual(self.agree(price="85", version=seen).status_code, 409)
        self.assertFalse(Agreement.objects.exists())

    def test_a_head_that_is_left_alone_has_nothing_to_agree_to(self) -> None:
        self.visit.zones.update(left_alone=True)
        self.assertContains(self.agree(price="5"), "no coat to agree to", status_code=422)
