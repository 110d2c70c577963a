"""Template tags and filters of every page."""

from decimal import Decimal

from django import template

from studio.ui.locks import Lock
from studio.ui.numbers import shown_grams

register = template.Library()

# Back to front: which strands are drawn, and in which of the engine's tones. Their shapes: tools/make_strands.py.
STRAND_LAYERS = tuple(enumerate((0, 1, 2, 1, 3, 4, 2, 3, 5, 4, 3, 6)))


@register.inclusion_tag("ui/_lock.html")
def lock(drawn: Lock, name: str, title: str = "") -> dict[str, object]:
    """A large lock; `name` must be unique on the page, as its gradients carry it."""
    return {
        "gradients": list(enumerate(drawn.gradients)),
        "layers": STRAND_LAYERS,
        "name": name,
        "said": f"{title}: {drawn.said}" if title else drawn.said,
    }


@register.inclusion_tag("ui/_slip.html")
def slip(drawn: Lock, title: str = "") -> dict[str, object]:
    """A small lock in flat tones."""
    return {"hexes": drawn.hexes, "said": f"{title}: {drawn.said}" if title else ""}


register.filter("grams", shown_grams)


@register.filter
def plain(number: Decimal | float) -> str:
    """A number without needless zeros."""
    return f"{float(number):g}"


@register.filter
def at(mapping: dict[object, object], key: object) -> object:
    """What a mapping holds under a key, or nothing."""
    return mapping.get(key, "")
