"""Where one can be outside of a visit, and which of it is near when a page can't be shown."""

from typing import Final

from django.http import HttpRequest
from django.urls import reverse

# In words, its address, and the apps whose pages belong to it.
PLACES: Final = (
    ("Chairs", "chairs:chairs", ("chairs",)),
    ("Cards", "cards:list", ("cards", "clients", "formats")),
    ("Shelf", "shelf:shelf", ("shelf", "readings", "supplies")),
    ("Learned", "learning:learned", ("learning",)),
)
OF_DESK: Final = frozenset({"chairs:chairs", "cards:list"})  # where those are who work at no chair
NEAREST: Final = {"visits": ("Chairs", "Cards"), "shelf": ("Shelf", "Cards"), "learned": ("Learned", "Cards")}
NEAR: Final = ("Cards", "Chairs")


def near(request: HttpRequest, *, visit_stands: bool = False) -> list[tuple[str, str]]:
    """The two places that are nearest to an address, each in words and as an address.

    visit_stands: the visit of the address is there, so that its Bench is nearer than any place.
    """
    places = {words: reverse(page) for words, page, _ in PLACES}
    found = [(words, places[words]) for words in NEAREST.get(request.path_info.strip("/").partition("/")[0], NEAR)]
    met = request.resolver_match
    if visit_stands and met and "visit_id" in met.kwargs:
        found.insert(0, ("Bench", reverse("bench:bench", args=[met.kwargs["visit_id"]])))
    return found[:2]
