"""New clients, and what is set right of them."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from engine.language import say
from studio.clients.forms import ClientForm
from studio.clients.models import Client
from studio.clients.services.add_client import add_client
from studio.clients.services.edit_client import FIELDS, edit_client
from studio.ui.http import page_and_change, signed_in
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@page_and_change
def new(request: HttpRequest) -> HttpResponse:
    """Add a client and open the card."""
    form = ClientForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            client = add_client(signed_in(request), **form.cleaned_data)
            return redirect("cards:card", client.pk)
        except Refusal as refusal:
            form.add_error(refusal.field, refusal_words(refusal))
    return render(request, "clients/new.html", {"form": form}, status=422 if form.errors else 200)


@page_and_change
def edit(request: HttpRequest, client_id: int) -> HttpResponse:
    """Set right a name, a line about them, and notes. What somebody else has changed meanwhile is told first."""
    person = signed_in(request)
    client = Client.objects.visible_to(person).get(pk=client_id)
    form = ClientForm(request.POST) if request.method == "POST" else ClientForm(instance=client)
    if form.is_valid():
        seen = {name: request.POST.get(f"seen-{name}", "").replace("\r\n", "\n") for name in FIELDS}
        try:
            edit_client(person, client_id=client_id, seen=seen, given=form.cleaned_data)
        except Refusal as refusal:
            form.add_error(refusal.field, refusal_words(refusal))
        else:
            messages.success(request, say("Kept on the card."))
            return redirect("cards:card", client_id)
    shown = {"form": form, "client": client, "seen": [(name, getattr(client, name)) for name in FIELDS]}
    return render(request, "clients/new.html", shown, status=422 if form.errors else 200)
