"""Every component of the screens with all its states on one page, for those who build them; only while debugging."""

from types import SimpleNamespace
from typing import Final

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from engine.bowl.cautions import Severity
from engine.service.safety import Gate
from studio.ui.locks import Lock, lock_of_colour
from studio.visits.forms import ConsultForm
from studio.visits.models import Consult

HAIR: Final = {  # L*, a*, b* from the deepest to the palest hair that is drawn
    "deepest": (12.0, 3.0, 4.0),
    "deep": (28.0, 30.0, 12.0),
    "middle": (52.0, 14.0, 34.0),
    "light": (78.0, 18.0, -6.0),
    "palest": (95.0, 1.0, 4.0),
}
GATES: Final = (
    (Severity.STOP, "sensitivity_test", "No clear sensitivity test of this line, at least 48 hours old.", ""),
    (Severity.STOP, "lift_much", "More than four levels in one go.", "the strand held twice"),
    (Severity.CAUTION, "strand_looks", "Strand test before a mix that is new to this head.", ""),
    (Severity.NOTE, "after", "Chlorine, copper and irons afterwards: wait as the pack says.", ""),
)


@require_safe
def looks(request: HttpRequest) -> HttpResponse:
    """The components; nothing of it is anybody's record, and outside of debugging there is no such page."""
    if not settings.DEBUG:
        raise Http404
    asked, unasked = (ConsultForm(instance=Consult(answered=made)).choices[4] for made in (["length"], []))
    context = {
        "asked": asked,
        "unasked": unasked,
        "choices": _choices(),
        "locks": _locks(),
        "gates": [_gate(*each) for each in GATES],
        "visit": SimpleNamespace(pk=0),
        "zone": SimpleNamespace(pk=0),
    }
    return render(request, "looks/looks.html", context)


def _choices() -> list[tuple[str, bool]]:
    return [("daylight", True), ("salon", False), ("evening", False)]


def _locks() -> list[tuple[str, Lock]]:
    return [(name, lock_of_colour(lab)) for name, lab in HAIR.items()]


def _gate(severity: Severity, code: str, sentence: str, reason: str) -> SimpleNamespace:
    """A gate as the pages take it; with a reason it is signed."""
    signature = SimpleNamespace(signed_by="A licensed hand", reason=reason) if reason else None
    gate = Gate(code=code, severity=severity, sentence=sentence, final=False, given={})
    return SimpleNamespace(gate=gate, coat=SimpleNamespace(words="direct", key="direct:"), signature=signature)
