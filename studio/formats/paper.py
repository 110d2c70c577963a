"""A card and a hand-out as PDF on the studio's paper: tagged, in the language and with the letters that words have."""

import io
import threading
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import Any, Final

from django.template.loader import render_to_string
from weasyprint import CSS, HTML
from weasyprint.text.fonts import FontConfiguration
from weasyprint.urls import URLFetcher, URLFetcherResponse

from engine.language import say
from studio.accounts.models import Person, Studio
from studio.cards.models import Tweak
from studio.cards.selectors import KeptFormula
from studio.clients.models import Client, SkinTest
from studio.result.care_page import CarePage
from studio.result.story import story_of
from studio.visits.models import Visit

HERE: Final = Path(__file__).parent
FONTS: Final = HERE / "fonts"
OWN: Final = "own:"

_printing = threading.Lock()  # letters are shaped by a library that one thread may use at a time


class OwnFiles(URLFetcher):  # type: ignore[misc] # WeasyPrint is not typed
    """What a page on paper may load: this application's own fonts, and pictures that it drew itself."""

    def fetch(self, url: str, headers: dict[str, str] | None = None) -> Any:
        """A font by its name, or what the address itself holds. Raises ValueError for anything else."""
        if url.startswith(OWN):
            name = Path(url.removeprefix(OWN)).name
            return URLFetcherResponse(url, (FONTS / name).read_bytes(), {"Content-Type": "font/ttf"})
        if url.startswith(("data:image/svg+xml;base64,", "data:image/jpeg;base64,")):
            return super().fetch(url, headers)
        raise ValueError(say("paper loads nothing from elsewhere: {url}", url=url[:40]))


@cache
def _style() -> tuple[CSS, FontConfiguration]:
    fonts = FontConfiguration()
    text = (HERE / "paper.css").read_text(encoding="utf-8")
    return CSS(string=text, font_config=fonts, url_fetcher=OwnFiles(), base_url=OWN), fonts


def card_pdf(person: Person, client: Client, formulas: Sequence[KeptFormula], tweaks: Sequence[Tweak]) -> bytes:
    """A client's card: the facts that safety hangs on, visits, and formulas, newest first. A few queries."""
    visits = Visit.objects.visible_to(person).filter(client=client).select_related("client", "consult")
    context = {
        "client": client,
        "formulas": formulas,
        "tweaks": tweaks,
        "past": client.past.all(),
        "skin_tests": client.skin_tests.select_related("line"),
        "strand_tests": client.strand_tests.select_related("line"),
        "visits": visits.prefetch_related("signatures__signed_by", "incidents__zone"),
    }
    return _printed("formats/paper/card.html", context, client.studio)


def handout_pdf(page: CarePage) -> bytes:
    """What the client takes home: the colour with its range, how it goes, cautions, the mask, the next visit."""
    return _printed("formats/paper/hand_out.html", {"page": page}, page.bench.visit.client.studio)


def labels_pdf(page: CarePage) -> bytes:
    """A label for every bowl of the head of which something may be left, and for the mask: to cut out and stick on."""
    return _printed("formats/paper/labels.html", {"page": page}, page.bench.visit.client.studio)


def next_colourist_pdf(person: Person, visit: Visit, formulas: Sequence[KeptFormula], tweaks: Sequence[Tweak]) -> bytes:
    """What whoever colours this head next should know, on a sheet: what was done, seen, signed, and is to change."""
    story = story_of(person, visit)
    context = {"visit": visit, "client": visit.client, "formulas": formulas, "tweaks": tweaks, "story": story}
    return _printed("formats/paper/next_colourist.html", context, visit.client.studio)


def skin_test_pdf(client: Client) -> bytes:
    """A card for the client to take home after a sensitivity test: of what, when, and what to look for."""
    newest: dict[str, SkinTest] = {}
    for test in client.skin_tests.select_related("line").order_by("-tested_at"):
        newest.setdefault(test.of, test)
    return _printed("formats/paper/skin_test.html", {"client": client, "tests": list(newest.values())}, client.studio)


def _printed(template: str, context: dict[str, Any], studio: Studio) -> bytes:
    text, kept = render_to_string(template, context), io.BytesIO()
    with _printing:
        style, fonts = _style()
        page = HTML(string=text, url_fetcher=OwnFiles())
        size = CSS(string=f"@page {{ size: {studio.paper} }}")
        laid_out = page.render(stylesheets=[style, size], font_config=fonts, pdf_variant="pdf/ua-1")
        laid_out.metadata.title = " ".join((laid_out.metadata.title or "").split())
        laid_out.write_pdf(kept, pdf_variant="pdf/ua-1")
    return kept.getvalue()
