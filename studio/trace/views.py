"""What was changed: of a client, and of the house."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from studio.clients.models import Client
from studio.trace.selectors import traces_of_client, traces_of_house
from studio.trace.services.bring_back import bring_back
from studio.ui.http import signed_in
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@require_safe
def of_client(request: HttpRequest, client_id: int) -> HttpResponse:
    """Everything that was changed of a client's card and visits."""
    return _show(request, client_id)


@require_POST
def back(request: HttpRequest, client_id: int) -> HttpResponse:
    """Bring back earlier work that was deleted."""
    try:
        bring_back(
            signed_in(request), client_id=client_id, number=whole_number(request.POST.get("number", ""), "number")
        )
    except Refusal as refusal:
        return _show(request, client_id, refusal)
    return redirect("trace:client", client_id)


@require_safe
def of_house(request: HttpRequest) -> HttpResponse:
    """Everything that was changed of the rules, the people and the shelf; for an owner."""
    return render(request, "trace/house.html", {"traces": traces_of_house(signed_in(request))})


def _show(request: HttpRequest, client_id: int, refusal: Refusal | None = None) -> HttpResponse:
    person = signed_in(request)
    told = {
        "client": Client.objects.visible_to(person).get(pk=client_id),
        "traces": traces_of_client(person, client_id),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "trace/client.html", told, status=422 if refusal else 200)
