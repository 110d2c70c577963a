"""Starting a visit and reading the hair."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from engine.hair.canvas import RANGES
from engine.hair.residue import Family
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number, whole_number
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import moved_undertone
from studio.visits.page import read_page
from studio.visits.selectors import OpenZone, open_zone
from studio.visits.services.read_hair import read_hair, take_back_reading
from studio.visits.services.start_visit import start_visit


@require_POST
def start(request: HttpRequest, client_id: int) -> HttpResponse:
    """Start today's visit, or go on with it."""
    visit = start_visit(signed_in(request), client_id=client_id, day=timezone.localdate())
    return redirect("visits:consult", visit.pk)


@require_http_methods(["GET", "POST"])
def read(request: HttpRequest, visit_id: int) -> HttpResponse:
    """Read the hair of a zone: tap a lock or type a number; every change is kept at once."""
    opened, refusal = zone_in_hand(request, visit_id)
    if request.method == "POST" and not refusal:
        try:
            _read_or_take_back(request, opened.zone.pk)
        except Refusal as refused:
            refusal = refused
        if not refusal and not wants_fragment(request):
            return redirect(f"{reverse('visits:read', args=[visit_id])}?zone={opened.zone.pk}")
        opened, _ = zone_in_hand(request, visit_id)
    page = read_page(
        opened,
        typed=request.POST if refusal else {},
        refusal=refusal,
        part=request.GET.get("part", ""),
        after_lift=bool(request.GET.get("after_lift") or request.POST.get("after_lift")),
    )
    template = "visits/_read.html" if wants_fragment(request) else "visits/read.html"
    return render(request, template, {"page": page}, status=422 if refusal else 200)


def zone_in_hand(request: HttpRequest, visit_id: int) -> tuple[OpenZone, Refusal | None]:
    """The zone that the request names, or the first with a refusal if that one is gone."""
    named = request.POST.get("zone") or request.GET.get("zone") or ""
    try:
        zone_id = whole_number(named, "zone") if named else None
        return open_zone(signed_in(request), visit_id, zone_id), None
    except Refusal as gone:
        return open_zone(signed_in(request), visit_id), gone


def _read_or_take_back(request: HttpRequest, zone_id: int) -> None:
    form = request.POST
    if "take_back" in form:
        take_back_reading(signed_in(request), zone_id=zone_id)
        return
    # A tapped lock follows the typed fields in the form, so that the last of each name counts.
    hair = {name: typed_number(form.get(name, ""), name) for name in RANGES}
    levels = form.getlist("level")
    if len(levels) > 1 and levels[0] != levels[-1]:  # a lock of the ladder stands for its undertone too
        hair = moved_undertone(signed_in(request), hair, typed_number(levels[0], "level"))
    hair["old_k_s"] = typed_number(form.get("old_k_s") or "0", "old_k_s")
    after = form.get("after", "0")
    read_hair(
        signed_in(request),
        zone_id=zone_id,
        after=int(after) if after.isdigit() else 0,
        hair=hair,
        family=form.get("family") or Family.LIGHTENED.value,
        old_shade=form.get("old_shade", ""),
        source=form.get("source", ""),
        after_lift=bool(form.get("after_lift")),
    )
