"""A tube's strands."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from engine.language import decimals, say
from studio.accounts.services.once import made_once
from studio.shelf.services.strands import forget_strand, read_strand
from studio.shelf.strand_form import StrandForm
from studio.shelf.strand_page import strand_page
from studio.ui.http import page_and_change, signed_in
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@page_and_change
def strands(request: HttpRequest, shade_id: int) -> HttpResponse:
    """Which strands to make; a strand that was read is noted here."""
    if request.method != "POST":
        return _show(request, shade_id)
    person, form = signed_in(request), StrandForm(request.POST)
    if not form.is_valid():
        return _show(request, shade_id, form=form)
    given = form.cleaned_data
    try:
        made_once(
            person,
            request.POST.get("token", ""),
            lambda: read_strand(
                person,
                shade_id=shade_id,
                level=given["level"],
                share=given["share"],
                lab=(given["lightness"], given["a"], given["b"]),
                source=given["source"],
            ),
        )
    except Refusal as refusal:
        return _show(request, shade_id, form=form, refusal=refusal)
    messages.success(request, say("The strand is noted."))
    return redirect("shelf:strands", shade_id)


@require_POST
def forget(request: HttpRequest, strand_id: int) -> HttpResponse:
    """Take a strand out."""
    shade = forget_strand(signed_in(request), strand_id=strand_id)
    return redirect("shelf:strands", shade.pk)


def _show(
    request: HttpRequest, shade_id: int, *, form: StrandForm | None = None, refusal: Refusal | None = None
) -> HttpResponse:
    page = strand_page(signed_in(request), shade_id)
    first = page.planned[0] if page.planned else None
    start = {"level": decimals(f"{first.level:g}"), "share": decimals(f"{first.share:g}")} if first else {}
    context = {
        "page": page,
        "form": form or StrandForm(initial=start),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "shelf/strands.html", context, status=422 if form else 200)
