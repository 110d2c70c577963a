"""A tube read from one photo of its strands, from a swatch, and from a spectrum."""

from decimal import Decimal

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from engine.language import say
from studio.readings.page import ROWS, SHOWN_ON, STRENGTHS, like_locks, look_of, sheet_page
from studio.readings.services.sheets import Laid, read_photo
from studio.readings.spectrum import line_spectra, spectrum_in
from studio.shelf.models import Shade, StrandSheet
from studio.shelf.page import known_of
from studio.shelf.selectors import colour_lines, stocked_line
from studio.shelf.services.strands import forget_sheet, note_sheet
from studio.shelf.services.told import forget_told, take_look, take_spectrum
from studio.ui.files import a_file, named
from studio.ui.http import page_and_change, signed_in
from studio.ui.numbers import typed_number, within
from studio.ui.refusal import Refusal
from studio.ui.uploads import UPLOAD_MOST_BYTES, over_bound
from studio.ui.words import refusal_words


@page_and_change
def sheet(request: HttpRequest, shade_id: int) -> HttpResponse:
    """All strands of a tube from one photo: read, looked at, noted as one."""
    person = signed_in(request)
    if request.method != "POST":
        return render(request, "readings/sheet.html", {"page": sheet_page(person, shade_id)})
    try:
        if over_bound(request):
            raise Refusal("photo_too_large", "photo", most=UPLOAD_MOST_BYTES // 1_000_000)
        upload = request.FILES.get("photo")
        read_photo(person, shade_id=shade_id, upload=upload, laid=_laid(request), kind=StrandSheet.Kind.STRANDS)
    except Refusal as refusal:
        page = sheet_page(person, shade_id, request.POST.dict())
        context = {"page": page, "error_words": refusal_words(refusal)}
        return render(request, "readings/sheet.html", context, status=422)
    return redirect("readings:sheet", shade_id)


def _laid(request: HttpRequest) -> list[Laid]:
    """The strands that lie on the paper, by the rows that were filled. Raises Refusal."""
    laid = []
    for row in range(1, ROWS + 1):
        level, share = (request.POST.get(f"{name}_{row}", "").strip() for name in ("level", "share"))
        if level or share:
            laid.append(Laid(level=_level(level), share=_share(share)))
    if not laid:
        raise Refusal("sheet_no_rows", "photo")
    return laid


def _level(text: str) -> Decimal:
    return round(within(typed_number(text, "level", example="10"), "level", 1, 11), 1)


def _share(text: str) -> Decimal:
    return round(within(typed_number(text, "share", example="0.2"), "share", 0.001, 1), 3)


@require_POST
def note(request: HttpRequest, sheet_id: int) -> HttpResponse:
    """Note all strands of a photo; or take them out again, and the photo with them."""
    person = signed_in(request)
    try:
        if "forget" in request.POST:
            shade = forget_sheet(person, sheet_id=sheet_id)
            messages.success(request, say("The photo is gone, and what was read in it."))
            return redirect("readings:sheet", shade.pk)
        shade = note_sheet(person, sheet_id=sheet_id)
    except Refusal as refusal:
        messages.error(request, refusal_words(refusal))
        noted = StrandSheet.objects.visible_to(person).get(pk=sheet_id)
        return redirect("readings:sheet", noted.shade_id)
    messages.success(request, say("All strands of the photo are noted."))
    return redirect("shelf:strands", shade.pk)


@require_safe
def picture(request: HttpRequest, sheet_id: int) -> HttpResponse:
    """The photo itself, for people of its studio."""
    found = StrandSheet.objects.visible_to(signed_in(request)).get(pk=sheet_id)
    return HttpResponse(bytes(found.jpeg), content_type="image/jpeg")


@page_and_change
def swatch(request: HttpRequest, shade_id: int) -> HttpResponse:
    """A lock that the tube looks like, or the maker's swatch in a photo beside white paper."""
    if request.method != "POST":
        return _show(request, shade_id, "readings/swatch.html")
    try:
        if "like" in request.POST:
            _take_like(request, shade_id)
        elif "forget" in request.POST:
            forget_told(signed_in(request), shade_id=shade_id)
        else:
            _take_swatch(request, shade_id)
    except Refusal as refusal:
        return _show(request, shade_id, "readings/swatch.html", refusal_words(refusal))
    messages.success(request, say("The tube is taken for that. Strands tell more."))
    return redirect("shelf:tube", shade_id)


def _take_like(request: HttpRequest, shade_id: int) -> None:
    """Raises Refusal swatch_unknown for what is no lock of the page."""
    family, _, strength = request.POST["like"].rpartition(" ")
    known = {f"{each:g}": each for each, _ in STRENGTHS}
    if strength not in known or family not in {name for name, _ in like_locks()}:
        raise Refusal("swatch_unknown")
    lab = look_of(family, known[strength])
    take_look(signed_in(request), shade_id=shade_id, lab=lab, level=Decimal(SHOWN_ON), like=family)


def _take_swatch(request: HttpRequest, shade_id: int) -> None:
    person = signed_in(request)
    if over_bound(request):
        raise Refusal("photo_too_large", "photo", most=UPLOAD_MOST_BYTES // 1_000_000)
    laid = Laid(level=_level(request.POST.get("level", "")), share=_share(request.POST.get("share", "")))
    upload = request.FILES.get("photo")
    found = read_photo(person, shade_id=shade_id, upload=upload, laid=[laid], kind=StrandSheet.Kind.SWATCH)
    lab = found.strands[0]["lab"]
    take_look(person, shade_id=shade_id, lab=lab, level=laid.level, share=laid.share)
    found.noted = True
    found.save(update_fields=["noted"])


@page_and_change
def spectrum(request: HttpRequest, shade_id: int) -> HttpResponse:
    """A file of a spectrum: of a strand, or of what the tube absorbs."""
    if request.method != "POST":
        return _show(request, shade_id, "readings/spectrum.html")
    try:
        if "forget" in request.POST:
            forget_told(signed_in(request), shade_id=shade_id)
        else:
            is_strand = request.POST.get("of") != "k"
            values = spectrum_in(request, is_reflectance=is_strand)
            level = _level(request.POST.get("level", "")) if is_strand else None
            share = _share(request.POST.get("share", "")) if is_strand else Decimal(1)
            take_spectrum(signed_in(request), shade_id=shade_id, values=values, level=level, share=share)
    except Refusal as refusal:
        return _show(request, shade_id, "readings/spectrum.html", refusal_words(refusal))
    messages.success(request, say("The tube is taken for its spectrum."))
    return redirect("shelf:tube", shade_id)


@require_safe
def spectra(request: HttpRequest, line_id: int) -> HttpResponse:
    """What the tubes of a line absorb, as a data package."""
    stocked = stocked_line(colour_lines(signed_in(request)).get(pk=line_id))
    body = line_spectra(stocked, created=timezone.now())
    return a_file(body, "application/zip", f"{named(str(stocked.line))}.spectra.zip")


def _show(request: HttpRequest, shade_id: int, template: str, error_words: str = "") -> HttpResponse:
    shade = Shade.objects.visible_to(signed_in(request)).select_related("line").get(pk=shade_id)
    context = {
        "shade": shade,
        "known": known_of(shade, stocked_line(shade.line).plain[shade.pk]),
        "locks": like_locks(),
        "sent": request.POST,
        "error_words": error_words,
    }
    return render(request, template, context, status=422 if error_words else 200)
