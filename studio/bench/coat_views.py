"""The coats of a zone on the Bench: add, order, copy, remove, and how each is worked."""

from collections.abc import Callable
from decimal import Decimal
from typing import Final

from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_POST

from studio.bench.views import act
from studio.head.services.coats import add_coat, copy_coat, move_coat, remove_coat, set_coat
from studio.head.services.plain import name_plain
from studio.ui.numbers import typed_number, typed_weight, whole_number
from studio.ui.refusal import Refusal
from studio.visits.acting import InHand, Sent
from studio.visits.selectors import Hand

EXAMPLES: Final = {"to_level": "8.5", "minutes": "20", "vol": "20", "parts": "2"}
PLAIN_EXAMPLES: Final = {"plain_grams": "30", "vol": "20", "minutes": "5"}


def _of(sent: Sent) -> InHand:
    """The coat that a change is made to: that of the line in the panel, else the one in hand.

    A line has a name of its own for it, since the coat in hand is sent along with every form of the Bench.
    """
    named = sent.text("of_coat")
    return sent.hand | {"coat_id": whole_number(named, "coat_id")} if named else sent.hand


def _set(sent: Sent) -> Hand:
    """What of a coat's working is typed; an empty field leaves it as it is."""
    given = {
        name: typed_number(sent.text(name), name, example=example)
        for name, example in EXAMPLES.items()
        if sent.text(name).strip()
    }
    return set_coat(sent.person, **sent.hand, **given)


def _name(sent: Sent) -> Hand:
    """What a coat is that nothing is mixed for; an empty field says nothing of it, or as usual."""

    def number(name: str) -> Decimal | None:
        typed = sent.text(name).strip()
        read = typed_weight if name == "plain_grams" else typed_number
        return read(typed, name, example=PLAIN_EXAMPLES[name]) if typed else None

    numbers = {name: number(name) for name in PLAIN_EXAMPLES}
    return name_plain(sent.person, **_of(sent), product=sent.text("product"), **numbers)


WAYS: Final[dict[str, Callable[[Sent], Hand]]] = {
    "add": lambda sent: add_coat(sent.person, **sent.hand, purpose=sent.text("purpose")),
    "earlier": lambda sent: move_coat(sent.person, **_of(sent), by=-1),
    "later": lambda sent: move_coat(sent.person, **_of(sent), by=1),
    "remove": lambda sent: remove_coat(sent.person, **_of(sent)),
    "copy": lambda sent: copy_coat(sent.person, **sent.hand, to_zone_id=whole_number(sent.text("to_zone"), "zone")),
    "level": _set,
    "set": _set,
    "name": _name,
}


@require_POST
def change_coats(request: HttpRequest, visit_id: int) -> HttpResponse:
    """One change of a zone's coats. A coat that was added is in hand, and its bowl is what is shown."""

    def change(sent: Sent) -> Hand:
        way = WAYS.get(sent.text("way"))
        if way is None:
            raise Refusal("purpose_unknown", "purpose")
        left, own = way(sent), sent.hand["coat_id"]
        is_of_another = own is not None and own != _of(sent)["coat_id"]
        return Hand(zone_id=left.zone_id, coat_id=own) if is_of_another and own else left

    panel = "" if request.POST.get("way") in ("add", "copy", "level") else "coats"
    return act(request, visit_id, change, panel=panel, zones_change=True)
