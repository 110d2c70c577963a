"""Whatever is sent to a page, it answers: with words for what is wrong, never with a fault of ours."""

import csv
import io
import json
from collections.abc import Callable
from functools import partial

from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from django.urls import reverse
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from studio.cards.models import Formula
from studio.formats.card_json import card_document, read_card
from studio.formats.logbook_csv import COLUMNS, read_logbook
from studio.visits.selectors import open_zone
from tests.studio.made import StudioCase, put_on_hair

TYPED = st.one_of(
    st.sampled_from(["", "0", "1", "-1", "1e9", "1e-9", "NaN", "inf", "²", "5,5", " 7 ", "9" * 40, "developer", "‮"]),
    st.integers(-(10**12), 10**12).map(str),
    st.text(st.characters(codec="utf-8", exclude_categories=("Cs",), exclude_characters="\x00"), max_size=30),
    st.floats().map(str),
    st.dates().map(str),
    st.times().map(str),
)
POSTS = {
    "pour:weigh": ("line", "grams", "lot", "token", "by_scale"),
    "pour:line": ("line", "take_back", "enough"),
    "pour:keep": ("shade_id", "weight", "factor"),
    "pour:mix": ("next", "token"),
    "pour:pan": ("put", "fault", "tare"),
    "clocks:start": ("kind", "minutes", "batches", "damp"),
    "clocks:act": ("clock", "answer", "more", "forget"),
    "result:judge": ("place", "reader", "fault"),
    "result:tweak": ("words", "aim"),
    "result:care": ("washes_a_week", "given", "next_on", "pool"),
    "result:photo": ("at.x", "at.y", "picking", "from_file"),
    "result:keep": ("token",),
    "result:aim-at": ("trouble",),
    "route:begin": ("begins_at",),
    "route:step": ("of_zone", "kind", "apply_min", "process_min", "first", "forget"),
}
GETS = ("pour:pour", "pour:scale", "clocks:clock", "result:result", "result:correct", "result:care", "route:plan")


def many(check: Callable[..., None], *, examples: int = 15, **sent: st.SearchStrategy) -> None:
    """Check against many examples of what is sent; what they leave in the database stays until the test is over."""

    @settings(max_examples=examples, deadline=None, suppress_health_check=[HealthCheck.too_slow])
    @given(drawn=st.fixed_dictionaries(sent))
    def run(drawn: dict[str, object]) -> None:
        check(**drawn)

    run()


def fields_of(names: tuple[str, ...]) -> st.SearchStrategy[dict[str, str]]:
    return st.dictionaries(st.sampled_from([*names, "zone", "version"]), TYPED, max_size=len(names) + 1)


class Fuzzed(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.send("aim", lightness="66", chroma="25", hue="0")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.send("pour", shade=self.shade("Clear").pk, grams="57")
        self.client.post(reverse("cards:save", args=[self.visit.pk]), {"version": self.bowl.version})
        self.client.raise_request_exception = True

    def answered(self, ask: Callable[[], HttpResponse]) -> None:
        answer = ask()
        self.assertLess(answer.status_code, 500)
        if answer.status_code == 422:
            self.assertIn(b'role="alert"', answer.content)

    def test_every_change_of_the_back_half(self) -> None:
        for name, names in POSTS.items():
            with self.subTest(post=name):
                check = partial(self.change, reverse(name, args=[self.visit.pk]))
                many(
                    check,
                    fields=fields_of(names),
                    current=st.booleans(),
                    htmx=st.booleans(),
                )

    def change(self, address: str, fields: dict[str, str], current: bool, htmx: bool) -> None:
        if current:
            fields = fields | {"version": str(self.bowl.version), "zone": str(self.zone_id)}
        headers = {"HX-Request": "true"} if htmx else {}
        self.answered(lambda: self.client.post(address, fields, headers=headers))

    @property
    def zone_id(self) -> int:
        return open_zone(self.person, self.visit.pk).zone.pk

    def test_every_page_of_the_back_half(self) -> None:
        moment = Formula.objects.first().saved_at
        put_on_hair(self.person, zone_id=self.zone_id, kind="direct", now=moment)
        for name in GETS:
            with self.subTest(get=name):
                show = partial(self.show, reverse(name, args=[self.visit.pk]))
                many(show, query=fields_of(("line", "trouble", "part")))

    def show(self, address: str, query: dict[str, object]) -> None:
        self.answered(lambda: self.client.get(address, query))

    def test_every_search(self) -> None:
        asked = fields_of(("q", "lightness", "chroma", "hue", "level", "since", "until"))
        many(lambda query: self.show(reverse("cards:list"), query), query=asked, examples=60)

    def test_comparing_and_repeating(self) -> None:
        repeat = reverse("cards:repeat", args=[Formula.objects.first().pk])
        many(lambda ids: self.show(reverse("cards:compare"), {"formula": ids}), ids=st.lists(TYPED, max_size=3))
        many(lambda option: self.answered(lambda: self.client.post(repeat, {"option": option})), option=TYPED)


class FuzzedFiles(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.client.post(reverse("cards:save", args=[self.visit.pk]), {"version": self.bowl.version})

    def take(self, body: bytes) -> HttpResponse:
        fields = {"file": SimpleUploadedFile("sent", body), "leave_out": "1"}
        return self.client.post(reverse("formats:take"), fields)

    def test_any_text_is_read_or_refused_with_words(self) -> None:
        many(self.read, text=st.text(max_size=400), examples=60)

    def read(self, text: str) -> None:
        for entries, faults in (read_logbook(text), read_card(text)[1:]):
            self.assertFalse(entries)
            self.assertTrue(all(fault.words for fault in faults))

    def test_a_logbook_with_any_cells_is_taken_or_refused(self) -> None:
        many(self.take_row, cells=st.dictionaries(st.sampled_from(COLUMNS), TYPED, max_size=8), examples=60)

    def take_row(self, cells: dict[str, str]) -> None:
        row = dict(zip(COLUMNS, [""] * len(COLUMNS), strict=True)) | {"client": "Pim Ashlar", "saved_at": "2026-11-01"}
        row |= {"line": "Ropewalk direct", "pours": "Weld 5", "level": "9"}
        kept = io.StringIO()
        writer = csv.DictWriter(kept, COLUMNS)
        writer.writeheader()
        writer.writerow(row | cells)
        self.assertIn(self.take(kept.getvalue().encode()).status_code, (200, 422))

    def test_a_card_changed_anywhere_is_taken_or_refused(self) -> None:
        many(self.take_changed, data=st.data(), examples=80)

    def take_changed(self, data: st.DataObject) -> None:
        document = card_document(self.person, self.visit.client_id)
        values = st.one_of(
            TYPED,
            st.integers(-(10**6), 10**6),
            st.floats(allow_nan=False, allow_infinity=False),
            st.none(),
            st.booleans(),
            st.just([]),
            st.just({}),
            st.just("2026-11-01T10:00:00+00:00"),
        )
        within = data.draw(st.sampled_from(["card", "client", "formula", "hair", "pour"]))
        formula = document["formulas"][0]
        place = {
            "card": document,
            "client": document["client"],
            "formula": formula,
            "hair": formula["hair"],
            "pour": formula["pours"][0],
        }[within]
        extra = ["rinsed_at", "applied_at", "mixed_at", "target_lab", "result", "change_next_time", "home_care"]
        key = data.draw(st.sampled_from([*place, *(extra if within in ("card", "formula") else [])]))
        place[key] = data.draw(values)
        self.assertIn(self.take(json.dumps(document).encode()).status_code, (200, 422))

    def test_a_card_that_no_database_could_hold_is_refused(self) -> None:
        document = json.dumps(card_document(self.person, self.visit.client_id))
        for body in (
            document.replace('"Pim Harrow"', '"\\ud800"'),
            document.replace('"Pim Harrow"', '"a\\u0000b"'),
            document.replace('"grams": 3.0', '"grams": NaN'),
            document.replace('"grams": 3.0', '"grams": Infinity'),
            document.replace('"damp": false', '"damp": false, "rinsed_at": "2026-11-01T10:00:00+00:00"'),
            "[" * 100_000,
        ):
            with self.subTest(body=body[:40]):
                self.assertEqual(self.take(body.encode()).status_code, 422)
