"""Every page of a house that weighs in ounces: each weight of it is that of grams, and none is left in grams."""

import re
import time
from decimal import Decimal
from unittest.mock import patch

from django.urls import reverse
from django.utils import timezone

from engine.weights import GRAMS_PER_OUNCE, Measure
from studio.accounts.models import Studio
from studio.head.models import Portion
from tests.laws.addresses import addresses
from tests.laws.test_languages import OF_BUILDERS, PANELS
from tests.studio.made import StudioCase
from tests.studio.made_far import bring_far, rows_of

UNSEEN = re.compile(r"<script.*?</script>|<style.*?</style>|<!--.*?-->", re.S)
BESIDE = re.compile(r'<li class="bowl-measures">.*?</li>|title="[^"]*drops[^"]*"', re.S)  # other units, on purpose
SENT = re.compile(r'\b(value|data-[\w-]+)="[^"]*"')  # what programs read, and fields
OF_GRAMS = re.compile(r", g\b|\bgrams?\b", re.I)
TAG = re.compile(r"<[^>]*>")
TOLD = re.compile(r'\b(?:aria-label|title)="([^"]*)"')
WEIGHT = re.compile(r"(?<![\w.#-])([+−-]?\d+(?:\.\d+)?) ?(g|oz|ml)\b(?! of water)")
STEPS = {(0.1, 0.005), (0.5, 0.02), (1, 0.05), (10, 0.5)}  # what a hand pours at a time is handy in either
NAMES_UNITS = {"/shelf/supplies/", "/new-studio/", "/house/"}  # where units are chosen
OWN_UNITS = {"/shelf/supplies/"}  # each supply is counted in a unit of its own


def told_by(page: str) -> str:
    """All that a page says: its text, and what is said of its controls."""
    seen = SENT.sub("", BESIDE.sub("", UNSEEN.sub("", page)))
    told = " ".join(TOLD.findall(seen))
    text = re.sub(r"\s+", " ", TAG.sub("", TAG.sub("", re.sub(r"</?(?:b|span|small)\b[^>]*>", "", seen))))
    return f"{text} | {told}"


def weights(page: str) -> list[tuple[float, str]]:
    """The weights that a page tells, in their order, each with its unit."""
    return [(float(number.replace("−", "-")), unit) for number, unit in WEIGHT.findall(told_by(page))]


class Ounces(StudioCase):
    maxDiff = None

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        bring_far(cls.person, cls.visit)

    def read(self, unit: Measure) -> dict[str, str]:
        Studio.objects.update(unit=unit)
        bench = reverse("bench:bench", args=[self.visit.pk])
        given = rows_of(self.person, self.visit)
        paths = [each.path for each in addresses(given) if each.name not in OF_BUILDERS | {":sign-out"}]
        found = {}
        for path in (*paths, *(f"{bench}?{panel}" for panel in PANELS if panel != "answers=1")):  # made of other steps
            answer = self.client.get(path, follow=True)
            if answer.headers.get("Content-Type", "").startswith("text/html"):
                found[path] = answer.content.decode()
        return found

    def test_every_weight_is_told_in_the_house_s_unit_and_is_the_same_weight(self) -> None:
        with (
            patch("django.utils.timezone.now", return_value=timezone.now()),
            patch("time.clock_gettime", return_value=time.clock_gettime(time.CLOCK_BOOTTIME)),
        ):
            grams, ounces = self.read(Measure.GRAM), self.read(Measure.OUNCE)
        seen, wrong = 0, []
        for path, page in grams.items():
            if path in OWN_UNITS:
                continue
            before, after = weights(page), weights(ounces[path])
            seen += len(before)
            if len(before) != len(after):
                wrong.append(f"{path}: {before} as {after}")
                continue
            for (weight, _), (number, unit) in zip(before, after, strict=True):
                is_step = (abs(weight), abs(number)) in STEPS
                if unit != "oz" or (abs(weight / GRAMS_PER_OUNCE - number) > 0.0051 and not is_step):
                    wrong.append(f"{path}: {weight} g as {number} {unit}")
        self.assertEqual(wrong, [])
        self.assertGreater(seen, 100)
        left = [(path, unit) for path, page in ounces.items() for _, unit in weights(page) if unit != "oz"]
        self.assertEqual([(path, unit) for path, unit in left if path not in OWN_UNITS], [])
        of_grams = [(path, OF_GRAMS.findall(told_by(page))) for path, page in ounces.items() if path not in NAMES_UNITS]
        self.assertEqual([each for each in of_grams if each[1]], [])

    def test_fields_say_their_unit_and_take_it(self) -> None:
        Studio.objects.update(unit=Measure.OUNCE)
        weld = self.shade("Weld")
        tube = reverse("shelf:tube", args=[weld.pk])
        self.assertContains(self.client.get(tube), "Ordered at, oz")
        self.client.post(reverse("shelf:count", args=[weld.pk]), {"open_g": "2", "full_tubes": "0", "token": "1"})
        weld.refresh_from_db()
        self.assertEqual(weld.stock_g, Decimal("56.7"))
        answer = self.client.post(tube, {"name": "Weld", "reorder_g": "heavy", "tube_price": "7"})
        self.assertContains(answer, "Type a weight, for example 2.12 oz.", status_code=422)
        self.assertContains(answer, 'value="heavy"', status_code=422)  # what was typed stays

    def test_the_bowl_takes_a_plain_number_as_ounces_and_grams_where_it_says_so(self) -> None:
        Studio.objects.update(unit=Measure.OUNCE)
        self.pour_typed("0.1")
        self.assertEqual(self.poured()["Weld"], Decimal("2.83"))
        self.pour_typed("3 g")
        self.assertEqual(self.poured()["Weld"], Decimal(3))
        self.send("wanted", total_grams="2")
        self.bowl.refresh_from_db()
        self.assertEqual(self.bowl.wanted_g, Decimal("56.7"))
        Studio.objects.update(unit=Measure.MILLILITRE)
        self.pour_typed("4")
        held = Portion.objects.get(bowl=self.bowl, shade__name="Weld")
        self.assertEqual((held.grams, held.doubt_g), (Decimal(4), Decimal("0.2")))  # poured by eye, not weighed

    def test_a_page_that_is_still_in_grams_pours_grams(self) -> None:
        """The house weighs in ounces since it was opened: its +1 stays a gram."""
        Studio.objects.update(unit=Measure.OUNCE)
        weld = self.shade("Weld").pk
        self.send("pour", shade=weld, by="1", measured_in="g")
        self.assertEqual(self.poured()["Weld"], Decimal("0.99"))  # in thousandths of an ounce
        self.send("pour", shade=weld, grams="3", measured_in="g")
        self.assertEqual(self.poured()["Weld"], Decimal(3))
        self.send("pour", shade=weld, grams="3", measured_in="stone")
        self.assertEqual(self.poured()["Weld"], Decimal("85.05"))
        bench = self.client.get(self.on_bench("bench")).content.decode()
        self.assertIn('name="measured_in" value="oz"', bench)

    def pour_typed(self, amount: str) -> None:
        """Of Weld, as it is typed."""
        self.send("pour", shade=self.shade("Weld").pk, grams=amount)
