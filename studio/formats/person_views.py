"""What a client may ask for of what is kept about them: all of it, or that it is forgotten."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from engine.language import say
from studio.clients.models import Client
from studio.formats.archive import archive_of
from studio.formats.services.consent import give_consent, withdraw_consent
from studio.formats.services.erase import erase_client
from studio.ui.files import a_file, named
from studio.ui.http import page_and_change, signed_in
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@require_safe
def everything(request: HttpRequest, client_id: int) -> HttpResponse:
    """All that is kept about a client, as one archive."""
    person = signed_in(request)
    client = Client.objects.visible_to(person).get(pk=client_id)
    return a_file(archive_of(person, client_id), "application/zip", f"{named(client.name)}.zip")


@require_POST
def consent(request: HttpRequest, client_id: int) -> HttpResponse:
    """A client agrees to something being kept, or does not any more."""
    act = withdraw_consent if request.POST.get("way") == "withdraw" else give_consent
    act(signed_in(request), client_id=client_id, of=request.POST.get("of", ""), now=timezone.now())
    return redirect("cards:card", client_id)


@page_and_change
def erase(request: HttpRequest, client_id: int) -> HttpResponse:
    """What goes, and what may stay; done once the name is typed."""
    person = signed_in(request)
    client = Client.objects.visible_to(person).get(pk=client_id)
    typed, error_words = request.POST.get("typed", ""), ""
    if request.method == "POST":
        keeps_mixes = request.POST.get("keeps") == "mixes"
        try:
            left = erase_client(person, client_id=client_id, typed=typed, keeps_mixes=keeps_mixes)
        except Refusal as refusal:
            error_words = refusal_words(refusal)
        else:
            told = (
                say("Forgotten. What was mixed stays, as {left}.", left=left)
                if left
                else say("Forgotten, with all that was mixed.")
            )
            messages.success(request, told)
            return redirect("cards:list")
    context = {"client": client, "typed": typed, "error_words": error_words}
    return render(request, "formats/erase.html", context, status=422 if error_words else 200)
