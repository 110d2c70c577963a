"""The coats of a zone on the Bench: add, order, copy, remove, and how each is worked."""

from collections.abc import Callable
from typing import Final

from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_POST

from studio.bench.views import act
from studio.head.services.coats import add_coat, copy_coat, move_coat, remove_coat, set_coat
from studio.ui.numbers import typed_number, whole_number
from studio.ui.refusal import Refusal
from studio.visits.acting import Sent
from studio.visits.selectors import Hand

EXAMPLES: Final = {"to_level": "8.5", "minutes": "20", "vol": "20", "parts": "2"}
STAYS: Final = frozenset({"set", "level"})  # ways that are taken in the middle or the panel, and leave it open


def _set(sent: Sent) -> Hand:
    """What of a coat's working is typed; an empty field leaves it as it is."""
    given = {
        name: typed_number(sent.text(name), name, example=example)
        for name, example in EXAMPLES.items()
        if sent.text(name).strip()
    }
    return set_coat(sent.person, **sent.hand, **given)


WAYS: Final[dict[str, Callable[[Sent], Hand]]] = {
    "add": lambda sent: add_coat(sent.person, **sent.hand, purpose=sent.text("purpose")),
    "earlier": lambda sent: move_coat(sent.person, **sent.hand, by=-1),
    "later": lambda sent: move_coat(sent.person, **sent.hand, by=1),
    "remove": lambda sent: remove_coat(sent.person, **sent.hand),
    "copy": lambda sent: copy_coat(sent.person, **sent.hand, to_zone_id=whole_number(sent.text("to_zone"), "zone")),
    "level": _set,
    "set": _set,
}


@require_POST
def change_coats(request: HttpRequest, visit_id: int) -> HttpResponse:
    """One change of a zone's coats. A coat that was added is in hand, and its bowl is what is shown."""

    def change(sent: Sent) -> Hand:
        way = WAYS.get(sent.text("way"))
        if way is None:
            raise Refusal("purpose_unknown", "purpose")
        return way(sent)

    panel = "" if request.POST.get("way") in ("add", "copy", "level") else "coats"
    return act(request, visit_id, change, panel=panel, zones_change=True)
