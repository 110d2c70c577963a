"""Whatever is in a file that is taken in, it is taken or refused with words."""

import csv
import io
import json
from collections.abc import Callable

from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from django.urls import reverse
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from studio.formats.card_json import card_document
from studio.formats.logbook_csv import COLUMNS
from studio.formats.logbook_in import read_logbook
from studio.formats.read_card import read_card
from tests.studio.made import StudioCase

TYPED = st.one_of(
    st.sampled_from(["", "0", "1", "-1", "1e9", "1e-9", "NaN", "inf", "²", "5,5", " 7 ", "9" * 40, "developer", "‮"]),
    st.integers(-(10**12), 10**12).map(str),
    st.text(st.characters(codec="utf-8", exclude_categories=("Cs",), exclude_characters="\x00"), max_size=30),
    st.floats().map(str),
    st.dates().map(str),
    st.times().map(str),
)


def many(check: Callable[..., None], *, examples: int = 15, **sent: st.SearchStrategy) -> None:
    """Check against many examples of what is sent; what they leave in the database stays until the test is over."""

    @settings(max_examples=examples, deadline=None, suppress_health_check=[HealthCheck.too_slow])
    @given(drawn=st.fixed_dictionaries(sent))
    def run(drawn: dict[str, object]) -> None:
        check(**drawn)

    run()


class FuzzedFiles(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.client.post(reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version})

    def take(self, body: bytes, *, leave_out: bool = True) -> HttpResponse:
        fields = {"file": SimpleUploadedFile("sent", body)} | ({"leave_out": "1"} if leave_out else {})
        return self.client.post(reverse("formats:take"), fields, follow=True)

    def test_any_text_is_read_or_refused_with_words(self) -> None:
        many(self.read, text=st.text(max_size=400), examples=60)

    def read(self, text: str) -> None:
        logbook = read_logbook(text)
        for entries, faults in ((logbook.rows, logbook.faults), read_card(text)[1:]):
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
                self.assertEqual(self.take(body.encode(), leave_out=False).status_code, 422)
