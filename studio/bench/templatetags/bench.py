"""The parts of the Bench's drawings that never change, drawn once."""

from functools import cache

from django import template
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from studio.bench import plane
from studio.bench.page import BenchPage
from studio.bench.quick_fixes import Corrections

register = template.Library()


WHOLE = 'hx-target="#main" hx-swap="morph:outerHTML"'
PIECES = 'hx-swap="none"'


@register.simple_tag
def sends(name: str, page: BenchPage | Corrections, swap: str = WHOLE) -> SafeString:
    """A form's attributes: with script its answer is swapped in, without it the POST ends in a redirect."""
    address = reverse(f"bench:{name}", args=[page.bench.visit.pk])
    return format_html('method="post" action="{0}" hx-post="{0}" {1}', address, mark_safe(swap))  # noqa: S308 - ours


@register.simple_tag
def sends_pieces(name: str, page: BenchPage | Corrections) -> SafeString:
    """The same for a form whose answer comes in pieces, each for its own place."""
    return sends(name, page, PIECES)


@register.simple_tag
def shows(page: BenchPage, query: str = "") -> SafeString:
    """A link's attributes: the Bench with a panel, or without; it works without script too."""
    address = reverse("bench:bench", args=[page.bench.visit.pk])
    asked, zone = f"?{query}" if query else "", f"zone={page.bench.zone.pk}"
    plain = f"{address}{asked}&{zone}" if query else f"{address}?{zone}"
    return format_html('href="{}" hx-get="{}" {}', plain, address + asked, mark_safe(WHOLE))  # noqa: S308 - ours


@register.simple_tag
@cache
def plane_frame() -> SafeString:
    """The rim of the plane and the hue names round it."""
    radius = plane.RIM_CHROMA * plane.UNITS_PER_CHROMA
    context = {"centre": f"{plane.CENTRE:g}", "radius": f"{radius:.1f}", "rim": plane.rim_words()}
    return render_to_string("bench/_plane_frame.html", context)


@register.simple_tag
@cache
def depth_scale() -> SafeString:
    """The rungs of the depth ladder."""
    ticks = [(str(lightness), plane.ladder_y(lightness)) for lightness in range(90, 0, -10)]
    return render_to_string("bench/_depth_scale.html", {"ticks": ticks})
