"""Where one can be outside of a visit, and which of it is near when a page can't be shown."""

from typing import Final

from django.http import HttpRequest
from django.urls import reverse

from engine.language import later, say

# In words, its address, and the apps whose pages belong to it.
PLACES: Final = (
    (later("Chairs"), "chairs:chairs", ("chairs",)),
    (later("Cards"), "cards:list", ("cards", "clients", "formats", "archives")),
    (later("Shelf"), "shelf:shelf", ("shelf", "readings", "supplies")),
    (later("Learned"), "learning:learned", ("learning",)),
    (later("Practice"), "practice:practice", ("practice",)),
)
OF_DESK: Final = (later("Chairs"), later("Cards"))  # where those are who work at no chair
NEAREST: Final = {
    "visits": (later("Chairs"), later("Cards")),
    "shelf": (later("Shelf"), later("Cards")),
    "learned": (later("Learned"), later("Cards")),
    "practice": (later("Practice"), later("Cards")),
}
NEAR: Final = (later("Cards"), later("Chairs"))


def places_of(request: HttpRequest) -> list[tuple[str, str, tuple[str, ...]]]:
    """The places that are for who asks; all of them for a stranger."""
    return [each for each in PLACES if _works(request) or each[0] in OF_DESK]


def _works(request: HttpRequest) -> bool:
    return bool(getattr(getattr(request, "user", None), "works", True))


def near(request: HttpRequest, *, visit_stands: bool = False) -> list[tuple[str, str]]:
    """The two places that are nearest to an address, each in words and as an address.

    visit_stands: the visit of the address is there, so that its Bench is nearer than any place.
    """
    places = {words: reverse(page) for words, page, _ in places_of(request)}
    nearest = NEAREST.get(request.path_info.strip("/").partition("/")[0], NEAR) if _works(request) else OF_DESK
    found = [(words, places[words]) for words in nearest]
    met = request.resolver_match
    if visit_stands and _works(request) and met and "visit_id" in met.kwargs:
        found.insert(0, (say("Bench"), reverse("bench:bench", args=[met.kwargs["visit_id"]])))
    return found[:2]
