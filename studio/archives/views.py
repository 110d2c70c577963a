"""The page of archives: have one made, see how far it is, fetch it, bring one."""

import json

from django.contrib import messages
from django.core.files.storage import default_storage
from django.http import FileResponse, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe
from django_htmx.http import HttpResponseClientRefresh

from studio.archives.models import Transfer
from studio.archives.places import PIECE_BYTES, whole_name
from studio.archives.schema import archive_schema
from studio.archives.selectors import is_bare, transfers_of
from studio.archives.services.asking import ask_for_archive, begin_bringing, bring_part, drop
from studio.ui.files import a_file, named
from studio.ui.http import page_and_change, signed_in
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@page_and_change
def archive(request: HttpRequest) -> HttpResponse:
    """The page; a change asks for an archive."""
    person, error_words = signed_in(request), ""
    if request.method == "POST":
        try:
            ask_for_archive(person, now=timezone.now())
        except Refusal as refusal:
            error_words = refusal_words(refusal)
        else:
            return redirect("archives:archive")
    context = {
        "transfers": transfers_of(person),
        "is_bare": is_bare(person.studio_id),
        "piece_bytes": PIECE_BYTES,
        "error_words": error_words,
    }
    return render(request, "archives/archive.html", context, status=422 if error_words else 200)


@require_safe
def transfer(request: HttpRequest, transfer_id: int) -> HttpResponse:
    """How far one is: a part of the page."""
    found = get_object_or_404(Transfer.objects.visible_to(signed_in(request)), pk=transfer_id)
    if found.is_done:  # and with it what the page offers
        return HttpResponseClientRefresh()
    return render(request, "archives/_transfer.html", {"transfer": found})


@require_safe
def fetch(request: HttpRequest, transfer_id: int) -> FileResponse:
    """The file, as the storage hands it over piece by piece."""
    person = signed_in(request)
    found = get_object_or_404(Transfer.objects.visible_to(person), pk=transfer_id)
    if not found.is_here:
        raise Transfer.DoesNotExist
    try:
        file = default_storage.open(whole_name(found.uid))
    except FileNotFoundError:
        raise Transfer.DoesNotExist from None
    name = f"{named(person.studio.name)}-{timezone.localdate(found.asked_at):%Y-%m-%d}.zip"
    return FileResponse(file, as_attachment=True, filename=name, content_type="application/zip")


@require_safe
def schema(request: HttpRequest) -> HttpResponse:
    """The schema of an archive."""
    return a_file(json.dumps(archive_schema(), indent=1), "application/schema+json", "studio.schema.json")


@require_POST
def bring(request: HttpRequest) -> JsonResponse:
    """An archive of so many bytes is brought: where its pieces go."""
    given = request.POST.get("size", "")
    try:
        begun = begin_bringing(signed_in(request), size=int(given) if given.isdecimal() and len(given) < 15 else 0)
    except Refusal as refusal:
        return JsonResponse({"refused": refusal_words(refusal)}, status=422)
    return JsonResponse({"transfer": begun.pk})


@require_POST
def part(request: HttpRequest, transfer_id: int, number: int) -> JsonResponse:
    """A piece of an archive."""
    sent = request.FILES.get("part")
    body = sent.read() if sent and sent.size and sent.size <= PIECE_BYTES else b""
    try:
        found = bring_part(signed_in(request), transfer_id=transfer_id, number=number, body=body, now=timezone.now())
    except Refusal as refusal:
        return JsonResponse({"refused": refusal_words(refusal)}, status=422)
    return JsonResponse({"parts": found.parts})


@require_POST
def let_go(request: HttpRequest, transfer_id: int) -> HttpResponse:
    """Let go of an archive."""
    try:
        drop(signed_in(request), transfer_id=transfer_id)
    except Refusal as refusal:
        messages.error(request, refusal_words(refusal))
    return redirect("archives:archive")
