"""Texts that stand once in English and are said in the language of now."""

import copy
import json
from decimal import Decimal
from unittest import TestCase

from engine import language
from engine.language import Later, amid, begun, counted, decimals, kept_by_language, later, listed, say, speak

GERMAN = {
    "bowl": "Schale",
    "{grams:.1f} g in the {where}": "in der {where} {grams:.1f} g",
    "{count} day": "{count} Tag",
    "{count} days": "{count} Tage",
    "salt & rope": "Salz & Tau",
}


class Spoken(TestCase):
    def setUp(self) -> None:
        self.now = "de"
        before = dict(vars(language._catalogue))
        self.addCleanup(lambda: vars(language._catalogue).update(before))
        speak(
            lambda text: GERMAN.get(text, text) if self.now == "de" else text,
            lambda one, many, count: self.form(one if count == 1 else many),
            lambda: self.now,
            frozenset({"de"}),
            frozenset({"de"}),
        )

    def form(self, text: str) -> str:
        return GERMAN.get(text, text) if self.now == "de" else text

    def test_a_text_is_filled_in_with_the_decimals_of_its_language(self) -> None:
        told = {"grams": 2.5, "where": later("bowl")}
        self.assertEqual(say("{grams:.1f} g in the {where}", **told), "in der Schale 2,5 g")
        self.now = "en"
        self.assertEqual(say("{grams:.1f} g in the {where}", **told), "2.5 g in the bowl")

    def test_only_numbers_get_a_comma(self) -> None:
        self.assertEqual(say("{a} {b:g} {c}", a="7.43", b=7.43, c=True), "7.43 7,43 True")
        self.assertEqual(say("{a:.1f}", a=Decimal("2.50")), "2,5")
        self.assertEqual(decimals("-0.5"), "-0,5")

    def test_what_is_counted_has_two_forms(self) -> None:
        self.assertEqual(counted("{count} day", "{count} days", 1), "1 Tag")
        self.assertEqual(counted("{count} day", "{count} days", 2), "2 Tage")
        self.now = "en"
        self.assertEqual(counted("{count} day", "{count} days", 2), "2 days")

    def test_what_is_said_later_is_english_wherever_it_is_kept_or_compared(self) -> None:
        bowl = later("bowl")
        self.assertEqual((str(bowl), f"{bowl}", format(bowl, ">7")), ("Schale", "Schale", " Schale"))
        self.assertEqual((bowl, hash(bowl), {"bowl": 1}[bowl]), ("bowl", hash("bowl"), 1))
        self.assertEqual(json.dumps([bowl]), '["bowl"]')
        self.assertEqual(", ".join([bowl]), "bowl")
        self.assertEqual(listed([bowl, "rope"]), "Schale, rope")
        self.assertIsInstance(bowl, Later)

    def test_what_is_filled_in_is_said_later_too(self) -> None:
        told = Later("{grams:.1f} g in the {where}", grams=2.5, where=later("bowl"))
        self.assertEqual(told, "2.5 g in the bowl")
        self.assertEqual((str(told), f"{told}", told.__html__()), ("in der Schale 2,5 g",) * 3)
        self.assertEqual(json.loads(json.dumps([told])), ["2.5 g in the bowl"])
        self.assertEqual(say(told.text, **told.parts), str(told))
        self.assertEqual(str(copy.deepcopy(told)), str(told))
        self.now = "en"
        self.assertEqual(str(told), "2.5 g in the bowl")

    def test_it_is_safe_in_a_page(self) -> None:
        self.assertEqual(Later("salt & rope").__html__(), "Salz &amp; Tau")

    def test_a_text_at_the_head_of_a_sentence_and_within_one(self) -> None:
        self.assertEqual((begun(later("bowl")), begun("nur Farbe")), ("Schale", "Nur Farbe"))
        self.assertEqual(amid("Farbe"), "Farbe")
        self.now = "en"
        self.assertEqual((begun("colour only"), amid("Colour")), ("Colour only", "colour"))
        self.assertEqual((begun(""), amid("")), ("", ""))

    def test_what_holds_words_is_kept_for_each_language(self) -> None:
        made = []

        @kept_by_language(maxsize=8)
        def drawn(what: str) -> str:
            made.append(what)
            return say(what)

        self.assertEqual((drawn("bowl"), drawn("bowl")), ("Schale", "Schale"))
        self.now = "en"
        self.assertEqual((drawn("bowl"), drawn("bowl")), ("bowl", "bowl"))
        self.assertEqual(made, ["bowl", "bowl"])

    def test_by_itself_the_engine_speaks_english(self) -> None:
        speak(language._as_written, language._as_counted, language._english, frozenset(), frozenset())
        self.assertEqual(say("{grams:.1f} g in the {where}", grams=2.5, where=later("bowl")), "2.5 g in the bowl")
        self.assertEqual(counted("{count} day", "{count} days", 3), "3 days")
