"""The parts of the Bench's drawings that never change, drawn once."""

from collections.abc import Sequence
from functools import lru_cache

from django import template
from django.template import Context
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.html import escape, format_html, format_html_join
from django.utils.safestring import SafeString, mark_safe

from engine.language import kept_by_language, say
from engine.weights import Measure, brief_of, measure_of
from studio.bench import plane
from studio.bench.page import BenchPage
from studio.bench.poured import RailRow
from studio.bench.quick_fixes import Corrections
from studio.bench.wheel import EDGE_WORDS, WheelButton
from studio.ui.speaking import MEASURED_IN
from studio.ui.templatetags.ui import ladder

register = template.Library()


WHOLE = 'hx-target="#main" hx-swap="morph:outerHTML"'
PIECES = 'hx-swap="none"'


@register.simple_tag(takes_context=True)
def carried(context: Context, page: BenchPage | Corrections) -> SafeString:
    """What every form of the Bench carries: the request's token, the version seen, the coat in hand and the unit."""
    return _carried(str(context["csrf_token"]), page.version, page.bench.zone.pk, page.bench.coat.pk, measure_of())


@lru_cache(maxsize=64)
def _carried(token: str, version: str, zone_id: int, coat_id: int, measure: Measure) -> SafeString:
    """Half a dozen forms of a page carry the same."""
    hidden = '<input type="hidden" name="{}" value="{}">'
    fields = {"csrfmiddlewaretoken": token, "version": version, "zone": zone_id, "coat_id": coat_id}
    fields[MEASURED_IN] = measure
    return format_html_join("", hidden, fields.items())


@register.simple_tag
def sends(name: str, page: BenchPage | Corrections, swap: str = WHOLE) -> SafeString:
    """A form's attributes: with script its answer is swapped in, without it the POST ends in a redirect."""
    return _sent_to(f"bench:{name}", page.bench.visit.pk, swap)


@lru_cache(maxsize=1024)
def _sent_to(name: str, visit_id: int, swap: str) -> SafeString:
    address = reverse(name, args=[visit_id])
    return format_html('method="post" action="{0}" hx-post="{0}" {1}', address, mark_safe(swap))  # noqa: S308 - ours


@register.simple_tag
def sends_pieces(name: str, page: BenchPage | Corrections) -> SafeString:
    """The same for a form whose answer comes in pieces, each for its own place."""
    return sends(name, page, PIECES)


@register.simple_tag
def shows(page: BenchPage, query: str = "") -> SafeString:
    """A link's attributes: the Bench with a panel, or without; it works without script too."""
    address = reverse("bench:bench", args=[page.bench.visit.pk])
    asked, zone = f"?{query}" if query else "", page.bench.query
    plain = f"{address}{asked}&{zone}" if query else f"{address}?{zone}"
    return format_html('href="{}" hx-get="{}" {}', plain, address + asked, mark_safe(WHOLE))  # noqa: S308 - ours


# A pour draws a dozen buttons of a dozen values each, and a rail has up to two hundred rows: more than a template's
# loop should take under a thumb.


@register.simple_tag
@kept_by_language(maxsize=4096)
def rail_row(row: RailRow) -> SafeString:
    """A shade on the rail, drawn once for all that it says: of 192 a pour changes one."""
    drawn = (
        '<label class="rail-row" id="rail-{0}"{1}{2}>'
        '<input type="radio" name="shade" form="pour-form" value="{0}" class="sr-only"'
        ' data-key="{3}" data-name="{4}" data-code="{5}"{6}>'
        '<kbd class="rail-key">{3}</kbd>'
        '<span class="min-w-0 grow leading-none"><span class="rail-name">{4}</span>{7}</span>{8}</label>'
    )
    marks = (" data-favourite" * row.favourite, " data-out" * row.is_out)
    said = (row.key, row.name, row.code, " checked" * row.chosen)
    return format_html(drawn, row.pk, *marks, *said, in_bowl(row), ladder(row.ladder))


@register.simple_tag
def in_bowl(row: RailRow, swap: str = "") -> SafeString:
    """Under a shade's name on the rail: what is poured of it, or what is left. swap: when it is sent by itself."""
    swapped = format_html(' hx-swap-oob="{}"', swap) if swap else ""
    code = f"{row.code}, " if row.code else ""
    words = (
        say("{weight} in", weight=row.weight)
        if row.grams
        else code
        + (say("{stock}, guessed", stock=row.stock) if row.is_guessed else say("{stock} left", stock=row.stock))
    )
    kind = "rail-grams" if row.grams else "rail-stock"
    span = '<span id="in-{}" data-grams="{}" class="{}"{}>{}</span>'
    return format_html(span, row.pk, row.grams, kind, swapped, words)


@register.simple_tag
def wheel_marks(buttons: Sequence[WheelButton]) -> SafeString:
    """The wheel's buttons as they are seen: each in the colour that it would give, with its name beside it.

    All but the names are numbers and codes of our own, which need no escaping.
    """
    last_best = sorted(buttons, key=lambda button: button.is_best)
    drawn = (
        f'<path class="wheel-hairline" d="{each.hairline}" />'
        f'<circle class="wheel-button{" wheel-best" * each.is_best}" cx="{each.x}" cy="{each.y}" r="{each.radius}"'
        f' fill="{each.hex}" stroke="{each.ring}" />'
        f'<text class="wheel-label" x="{each.label_x}" y="{each.label_y}" text-anchor="{each.anchor}">'
        f"{escape(each.shade.name)}{_left(each)}</text>"
        for each in last_best
    )
    return mark_safe("".join(drawn))  # noqa: S308 - see above


def _left(button: WheelButton) -> str:
    """What is left to the aim, under the name of a shade that brings it nearer."""
    if button.off is None or not button.is_nearer:
        return ""
    words = escape(say("{left} left", left=button.left))
    return f'<tspan class="wheel-left" x="{button.label_x}" dy="1.15em">{words}</tspan>'


@register.simple_tag
@kept_by_language(maxsize=8)
def edge_words() -> SafeString:
    """Which way is which on the wheel."""
    return format_html_join("", '<text class="wheel-edge" x="{1}" y="{2}" text-anchor="{3}">{0}</text>', EDGE_WORDS)


@register.simple_tag
def wheel_taps(buttons: Sequence[WheelButton]) -> SafeString:
    """The wheel's buttons as they are pressed, over those that are seen; see `wheel_marks`."""
    return mark_safe("".join(map(_tap, buttons)))  # noqa: S308 - see there


def _tap(button: WheelButton) -> str:
    mark, words = escape(button.mark), escape(button.words)
    kind = " wheel-tap-light" * button.dark + " wheel-tap-small" * (not button.is_nearer)
    return (
        f'<foreignObject x="{float(button.x) - 27:.1f}" y="{float(button.y) - 27:.1f}" width="54" height="54">'
        f'<button class="wheel-tap{kind}" name="tap" value="{button.shade.pk}:{brief_of(button.add_g)}"'
        f' aria-label="{mark}, {words}" title="{words}">{mark}</button>'
        "</foreignObject>"
    )


@register.simple_tag
@lru_cache(maxsize=256)
def rim(dots: tuple[plane.Place, ...]) -> SafeString:
    """The strongest colours in reach round the inset, which hang on the hair and the line and on no pour."""
    circle = '<circle cx="{}" cy="{}" r="17" fill="{}" />'
    return format_html_join("", circle, ((dot.x, dot.y, dot.hex) for dot in dots))


@register.simple_tag
@kept_by_language(maxsize=8)
def plane_frame() -> SafeString:
    """The rim of the plane and the hue names round it."""
    radius = plane.RIM_CHROMA * plane.UNITS_PER_CHROMA
    context = {"centre": f"{plane.CENTRE:g}", "radius": f"{radius:.1f}", "rim": plane.rim_words()}
    return render_to_string("bench/_plane_frame.html", context)


@register.simple_tag
@kept_by_language(maxsize=8)
def depth_scale() -> SafeString:
    """The rungs of the depth ladder."""
    ticks = [(str(lightness), plane.ladder_y(lightness)) for lightness in range(100, 0, -10)]
    return render_to_string("bench/_depth_scale.html", {"ticks": ticks})
