"""New clients."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from studio.clients.forms import ClientForm
from studio.clients.services.add_client import add_client
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
