"""Template tags and filters of every page."""

from decimal import Decimal
from typing import Final

from django import template
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from engine.language import amid, decimals, kept_by_language, say
from engine.service.measures import PLAIN_WORDS
from engine.weights import brief_of, grams_of, handy_g, measure_of
from studio.ui.locks import Lock, Stop
from studio.ui.numbers import brief_number, brief_weight, shown_grams, shown_weight
from studio.ui.places import places_of
from studio.ui.speaking import MEASURED_IN

register = template.Library()
STEP_FITS: Final = 2  # characters of a step that its button takes in large figures

# Back to front: which strands are drawn, and in which of the engine's tones. Their shapes: tools/make_strands.py.
STRAND_LAYERS = tuple(enumerate((0, 1, 2, 1, 2, 3, 1, 3, 4, 3, 2, 5)))


# Locks and ladders are drawn anew with every pour, yet most stay as they were: each drawing is kept a while.


@register.simple_tag
@kept_by_language(maxsize=512)
def lock(drawn: Lock, name: str, title: str = "") -> SafeString:
    """A large lock; `name` must be unique on the page, as its gradients carry it."""
    return render_to_string(
        "ui/_lock.html",
        {
            "gradients": [
                (f"{mark}{tone}", _stops(stops))
                for mark, each in (("", drawn), ("b", drawn.beside))
                for tone, stops in enumerate(each.gradients if each else ())
            ],
            "layers": _strands(drawn),
            "name": name,
            "said": f"{title}: {drawn.said}" if title else drawn.said,
        },
    )


def _strands(drawn: Lock) -> list[tuple[int, str]]:
    """The strands back to front, each with its gradient: those of another colour lie evenly among the lock's own."""
    own = drawn.share if drawn.beside else 1.0
    return [
        (strands, f"{tone}" if int((strands + 1) * own + 1e-9) > int(strands * own + 1e-9) else f"b{tone}")
        for strands, tone in STRAND_LAYERS
    ]


def _stops(stops: tuple[Stop, ...]) -> SafeString:
    """The stops of one gradient: a hundred of them make a lock, too many for a template to loop over, or to escape."""
    drawn = "".join(f'<stop offset="{stop.offset}" stop-color="{stop.hex}" />' for stop in stops)
    return SafeString(drawn)  # percentages and colours' codes, made from numbers in studio.ui.locks


@register.simple_tag
@kept_by_language(maxsize=1024)
def slip(drawn: Lock, title: str = "") -> SafeString:
    """A small lock in flat tones."""
    context = {"hexes": drawn.hexes, "said": f"{title}: {drawn.said}" if title else ""}
    return render_to_string("ui/_slip.html", context)


LOCK_WIDE: Final = 60  # of a lock in a ladder, in its drawing's units


@register.simple_tag
@kept_by_language(maxsize=1024)
def ladder(dilutions: tuple[tuple[str, str, str], ...]) -> SafeString:
    """Short locks of one shade side by side, strong to diluted: shadow, body and shine of each."""
    lock = (
        '<g transform="translate({} 0)"><use href="#slip-body" fill="{}" />'
        '<use href="#slip-deep" stroke="{}" /><use href="#slip-shine" stroke="{}" /></g>'
    )
    locks = ((LOCK_WIDE * each, body, deep, shine) for each, (deep, body, shine) in enumerate(dilutions))
    drawn = '<svg class="rail-ladder" viewBox="0 0 {} 26" aria-hidden="true">{}</svg>'
    return format_html(drawn, LOCK_WIDE * len(dilutions), format_html_join("", lock, locks))


@register.simple_tag(takes_context=True)
def places(context: template.Context) -> list[dict[str, object]]:
    """The places of the masthead; a page of a visit is none of them."""
    met = context["request"].resolver_match
    within = met.app_name if met and "visit_id" not in met.kwargs else ""
    found = places_of(context["request"])
    return [{"words": words, "href": reverse(page), "is_here": within in apps} for words, page, apps in found]


@register.simple_tag
def posts(name: str, row_id: int) -> SafeString:
    """A form's attributes: with script its answer takes the page's place, without it the POST ends in a redirect."""
    address = reverse(name, args=[row_id])
    return format_html('method="post" action="{0}" hx-post="{0}" hx-target="#main" hx-swap="morph:outerHTML"', address)


register.filter("grams", shown_grams)


@register.filter
def weight(grams: Decimal | float, powder: bool = False) -> str:
    """A weight with the house's unit; powder: it has no millilitres."""
    return brief_weight(grams, powder=powder)


@register.filter
def weight_full(grams: Decimal | float, powder: bool = False) -> str:
    """The same, to what a scale shows."""
    return shown_weight(grams, powder=powder)


register.filter("weight_number", brief_number)


@register.simple_tag
def weight_sign(powder: bool = False) -> str:
    """What stands behind a weight: the house's unit."""
    return measure_of(powder=powder).value


@register.simple_tag
def typed_in() -> str:
    """How an amount may be typed."""
    return say("{unit}; or 3 drops, 2 squeezes, 0.1 oz, 5 ml", unit=say(PLAIN_WORDS[measure_of()]))


@register.simple_tag
def measured_in() -> SafeString:
    """Tells with a form in what its weights are typed."""
    return format_html('<input type="hidden" name="{}" value="{}">', MEASURED_IN, measure_of())


@register.simple_tag
def grams_a_unit() -> str:
    """Grams of the house's unit, as scripts read numbers."""
    return f"{grams_of(1.0):g}"


@register.simple_tag
def hand_step(name: str, grams: float, way: str, place: int) -> SafeString:
    """A button that pours a step more or less ("+" or "−"): grams as the next handy step of the house's unit.

    place: its place in the row.
    """
    step_g = handy_g(grams)
    number, weight = brief_of(step_g), brief_weight(step_g)
    shown = decimals(number.removeprefix("0"))
    said = say("{weight} more", weight=weight) if way == "+" else say("{weight} less", weight=weight)
    sent = number if way == "+" else f"-{number}"
    long = " step-long" if len(shown) > STEP_FITS else ""
    drawn = '<button class="step order-{}{}" name="by" value="{}" id="{}" aria-label="{}">{}{}</button>'
    return format_html(drawn, place, long, sent, name, said, way, shown)


register.filter("amid", amid)


@register.filter
def plain(number: Decimal | float | str | None) -> str:
    """A number without needless zeros; nothing for none."""
    return "" if number in (None, "") else decimals(f"{float(number or 0):g}")


@register.filter
def said(text: object) -> str:
    """A text of ours that was kept in English, in the language of now; any other as it stands."""
    return say(str(text))


@register.filter
def at(mapping: dict[object, object], key: object) -> object:
    """What a mapping holds under a key, or nothing."""
    return mapping.get(key, "") if mapping else ""


@register.filter
def money(amount: object, currency: str) -> str:
    """An amount with what the studio's prices are in, where it says so."""
    return decimals(f"{amount} {currency}".strip())
