"""The house's own ladder of undertones: what its eyes see at each level, in place of a school's."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from engine.hair.ladder import School
from engine.language import say
from studio.shelf.own_ladder import ladder_page
from studio.shelf.services.set_house import set_ladder
from studio.ui.http import page_and_change, signed_in
from studio.ui.refusal import Refusal


@page_and_change
def ladder(request: HttpRequest) -> HttpResponse:
    """Its rungs; changed by a licensed hand. ?from= begins again from a school."""
    person = signed_in(request)
    if request.method != "POST":
        school = request.GET.get("from", "")
        page = ladder_page(person.studio, School(school) if school in set(School) else None)
        return render(request, "shelf/ladder.html", {"page": page})
    try:
        set_ladder(person, typed=request.POST.dict())
    except Refusal as refusal:
        page = ladder_page(person.studio, typed=request.POST.dict(), refusal=refusal)
        return render(request, "shelf/ladder.html", {"page": page}, status=422)
    messages.success(request, say("From now on the house reads by its own ladder."))
    return redirect("shelf:ladder")
