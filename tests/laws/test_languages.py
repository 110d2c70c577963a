"""Every page in both languages: the same for machines, and nothing of it left in English for who reads German."""

import gettext
import re
import time
from string import Formatter
from unittest.mock import patch

from django.apps import apps
from django.conf import settings
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

from engine.colorimetry.words import named_regions
from engine.dye.families import families
from engine.dye.guess import CARRIERS, tone_words
from engine.hair.ladder import School, school_ladder
from engine.tables.said import TABLE_WORDS, TONE_WORDS
from studio.formats.templatetags.paper import CONSULT_FIELDS
from studio.shelf.models import Shade, ShadeLine
from studio.trace.fields import FIELD_WORDS
from studio.trace.selectors import OF_CLIENT, OF_HOUSE
from tests.laws.addresses import addresses
from tests.laws.alike import WORD, compare
from tests.studio.made import StudioCase
from tests.studio.made_far import bring_far, rows_of

PANELS = ("mode=aim", "mode=list", "answers=1", "adjust=1", "warmth=1", "pastels=1", "meanwhile=1", "zones=1")
PANELS += ("coats=1", "heads=1", "photo=1", "instead=1", "light=LED-B3&washes=3")
# What is said alike in both languages, or is the studio's own, written in whatever language it likes.
ALIKE = {"Rainshade", "English", "Deutsch", "CGATS", "JSON", "Ropery", "Lane", "ropery", "Pim", "Harrow", "cymbals"}
ALIKE |= {
    "fringe",
    "Fringe",
    "Foils",
    "drop",
    "less",
    "held",
    "ash",
    "gold",
    "copper",
    "min",
    "Esc",
    "vol",
    "nobody",
    "UTC",
    "Europe",
    "Lisbon",
}
ALIKE |= {"whole", "dye"}  # of what was agreed and signed, as it was said in English then
OF_BUILDERS = {"looks:looks", "looks:swatch"}  # for those who build, and no page of a studio
PLACES = re.compile(r"%\((\w+)\)s")
CATALOGUE = settings.LOCALE_PATHS[0] / "de" / "LC_MESSAGES" / "django.mo"


def catalogue() -> dict[str, str]:
    """The German texts by their English ones; plurals by their form's number."""
    with CATALOGUE.open("rb") as file:
        held = gettext.GNUTranslations(file)._catalog  # type: ignore[attr-defined]
    return {f"{key[0]}#{key[1]}" if isinstance(key, tuple) else key: text for key, text in held.items() if key}


class German(StudioCase):
    maxDiff = None

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        bring_far(cls.person, cls.visit)

    def pages(self) -> list[str]:
        """Every address that answers with a page, and the Bench with each of its panels."""
        bench = reverse("bench:bench", args=[self.visit.pk])
        given = rows_of(self.person, self.visit)
        found = [each.path for each in addresses(given) if each.name not in OF_BUILDERS | {":sign-out"}]
        return [*found, *(f"{bench}?{panel}" for panel in PANELS)]

    def read(self, language: str, *paths: str) -> dict[str, str]:
        """Each of them, or those that are named, as it is answered to who reads a language."""
        self.person.language = language
        self.person.save()
        found = {}
        for path in paths or self.pages():
            answer = self.client.get(path, follow=True)
            if answer.headers.get("Content-Type", "").startswith("text/html"):
                found[path] = answer.content.decode()
        return found

    def test_every_page_is_one_page_in_both_languages(self) -> None:
        with (  # what is on the hair would be on it longer from page to page
            patch("django.utils.timezone.now", return_value=timezone.now()),
            patch("time.clock_gettime", return_value=time.clock_gettime(time.CLOCK_BOOTTIME)),
        ):
            english, german, again = self.read("en-gb"), self.read("de"), self.read("")
        self.assertGreater(len(english), 70)
        own = ALIKE | {word for text in self.own_words() for word in WORD.findall(text)}
        own |= {word for text, other in catalogue().items() if text == other for word in WORD.findall(text)}
        texts = catalogue()
        german_words = {word for text in texts.values() for word in WORD.findall(text)}
        english_words = {word for text in texts for word in WORD.findall(text)} - german_words - own
        differs, kept, points, mixed = [], set(), set(), set()
        for path, page in english.items():
            found = compare(page, german[path])
            differs += [f"{path}: {each}" for each in found.differs]
            kept |= {(text, path) for text in found.kept if set(WORD.findall(text)) - own}
            points |= {(text, path) for text in found.points if "7.43" not in text}
            mixed |= {(word, path) for word in found.words & english_words}
            differs += [f"{path} again: {each}" for each in compare(page, again[path]).differs]
        self.assertEqual(differs, [])
        self.assertEqual(sorted(kept), [])
        self.assertEqual(sorted(points), [])
        self.assertEqual(sorted(mixed), [])  # in a sentence that is half said

    def own_words(self) -> list[str]:
        """What this studio has written itself."""
        return [*Shade.objects.values_list("name", flat=True), *ShadeLine.objects.values_list("name", flat=True)]

    def test_what_one_has_read_in_german_another_reads_in_english(self) -> None:
        """What is drawn once and kept holds words: it is kept for each language."""
        bench = reverse("bench:bench", args=[self.visit.pk])
        self.assertIn("Forecast", self.read("en-gb", bench)[bench])
        german = self.read("de", bench)[bench]
        self.assertIn("Vorhersage", german)
        self.assertNotIn("Forecast", german)
        self.assertNotIn("Vorhersage", self.read("en-gb", bench)[bench])

    def test_a_stranger_is_answered_as_their_browser_asks(self) -> None:
        door = reverse("sign-in")
        self.assertContains(Browser().get(door, headers={"Accept-Language": "de-AT,de;q=0.9"}), "Passwort")
        answer = Browser().get(door, headers={"Accept-Language": "fr"})
        self.assertContains(answer, "Password")
        self.assertIn("Accept-Language", answer.headers["Vary"])

    def test_the_studio_s_language_stands_until_a_person_chooses(self) -> None:
        studio = self.person.studio
        studio.language = "de"
        studio.save()
        chairs = reverse("chairs:chairs")
        self.assertContains(self.client.get(chairs), "Plätze")
        self.choose("en-gb")
        answer = self.client.get(chairs)
        self.assertContains(answer, "Chairs")
        self.assertEqual(answer.headers["Content-Language"], "en-gb")
        self.assertContains(self.choose("tlh", follow=False), "not spoken here", status_code=422)

    def choose(self, language: str, *, follow: bool = True):
        """Under You."""
        return self.client.post(reverse("you-act"), {"way": "language", "language": language}, follow=follow)

    def test_numbers_are_typed_with_a_comma_and_shown_with_one(self) -> None:
        self.choose("de")
        pour = {"shade": self.shade("Weld").pk, "grams": "2,5", "version": self.bowl.version}
        zone = self.visit.zones.first()
        answer = self.client.post(
            reverse("bench:pour", args=[self.visit.pk]), pour | {"zone": zone.pk, "seen": self.bowl.version}
        )
        self.assertIn(answer.status_code, (200, 302))
        self.assertEqual(float(self.poured()["Weld"]), 2.5)
        self.assertContains(self.client.get(reverse("bench:bench", args=[self.visit.pk])), "2,5")
        wrong = pour | {"grams": "viel", "version": self.bowl.version, "seen": self.bowl.version, "zone": zone.pk}
        self.assertContains(
            self.client.post(reverse("bench:pour", args=[self.visit.pk]), wrong), "braucht eine Zahl", status_code=422
        )

    def test_what_goes_out_to_programs_stays_as_it_was(self) -> None:
        logbook = reverse("formats:logbook")
        card = reverse("formats:card", args=[self.visit.client_id, "json"])
        english = [self.client.get(path).getvalue() for path in (logbook, card)]
        self.choose("de")
        german = [self.client.get(path).getvalue() for path in (logbook, card)]
        self.assertEqual(english[0], german[0])
        told = re.compile(rb'"(made_at|written_at|exported_at)": "[^"]*"')
        self.assertEqual(told.sub(b"", english[1]), told.sub(b"", german[1]))


class Catalogue(StudioCase):
    def test_every_translation_has_the_places_of_its_text(self) -> None:
        for text, german in catalogue().items():
            with self.subTest(text=text):
                english = text.partition("\x04")[2] or text.partition("#")[0]
                self.assertTrue(german.strip())
                if "#" not in text:
                    self.assertEqual(set(PLACES.findall(english)), set(PLACES.findall(german)))
                    self.assertEqual(_fields(english), _fields(german))
                self.assertEqual(english.startswith(" "), german.startswith(" "))
                self.assertEqual(english.endswith(" "), german.endswith(" "))

    def test_words_of_tables_and_fields_are_translated(self) -> None:
        shown = {region.name for region in named_regions()} | set(families())
        shown |= {rung.undertone for school in School for rung in school_ladder(school).rungs}
        self.assertEqual(shown, set(TABLE_WORDS))
        self.assertEqual(set(TONE_WORDS), set(tone_words()) | {word.capitalize() for word in CARRIERS})
        fields = {str(field.help_text or field.verbose_name) for field in CONSULT_FIELDS.values()}
        fields |= {str(field.verbose_name) for field in CONSULT_FIELDS.values()}
        for name in (*(name for name, _ in OF_CLIENT), *OF_HOUSE):
            event = apps.get_model(name)
            fields.add(str(event.pgh_tracked_model._meta.verbose_name))
            own = [each for each in event._meta.concrete_fields if not each.name.startswith("pgh_")]
            fields |= {str(each.verbose_name) for each in own if each.name != "id"}
        self.assertEqual(fields, set(FIELD_WORDS))


def _fields(text: str) -> set[str]:
    try:
        return {f"{name}:{spec}" for _, name, spec, _ in Formatter().parse(text) if name}
    except ValueError:  # a brace that is no place
        return set()
