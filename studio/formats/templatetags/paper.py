"""What only paper needs: locks drawn as pictures of their own, and a consult in words."""

import base64
from typing import Final

from django import template
from django.utils.html import format_html
from django.utils.safestring import SafeString

from engine.language import say
from studio.formats.history_json import CONSULT_FIELDS
from studio.ui.locks import Lock
from studio.visits.head import HeadView
from studio.visits.models import Visit

register = template.Library()

WIDTH, HEIGHT = 52, 124
FACE: Final = ("#d9d9d9", "#d9d9d9", "none")  # of shoulders, face and features
# Where strands lie in a drawn lock, as shares of its width, and which of its tones each has.
STRANDS: Final = tuple((0.08 + 0.84 * place / 13, (1, 3, 2, 3, 1, 4)[place % 6]) for place in range(14))


@register.simple_tag
def drawn(lock: Lock, title: str = "") -> SafeString:
    """A lock hanging from a clip, with its colour in words for who can't see it."""
    picture = base64.b64encode(printed_svg(lock).encode()).decode()
    said = f"{title}: {lock.said}" if title else lock.said
    return format_html('<img class="lock" src="data:image/svg+xml;base64,{}" alt="{}">', picture, said)


def printed_svg(lock: Lock) -> str:
    """Strands in the engine's tones, from the clip down, drawn together towards their ends."""
    paths = []
    for share, tone in STRANDS:
        x, middle = share * WIDTH, WIDTH / 2
        end = middle + (x - middle) * 0.45
        foot = HEIGHT - abs(share - 0.5) * HEIGHT * 0.25 - 4
        colour = lock.hexes[min(tone, len(lock.hexes) - 1)]
        bend = f"{x:.1f} {HEIGHT * 0.5:.1f} {x:.1f} {HEIGHT * 0.75:.1f}"
        paths.append(f'<path d="M{x:.1f} 6C{bend} {end:.1f} {foot:.1f}" stroke="{colour}"/>')
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {HEIGHT}" fill="none" stroke-linecap="round" '
        f'stroke-width="{WIDTH / 12:.2f}">{"".join(paths)}<rect width="{WIDTH}" height="8" fill="#111"/></svg>'
    )


@register.simple_tag
def printed_head(view: HeadView) -> SafeString:
    """A head from one side."""
    picture = base64.b64encode(printed_head_svg(view).encode()).decode()
    return format_html('<img src="data:image/svg+xml;base64,{}" alt="{}">', picture, view.name)


def printed_head_svg(view: HeadView) -> str:
    """The drawing of a side of a head, as a picture of its own."""
    lines = "".join(
        f'<path d="{line}" fill="{fill}" stroke="#767676"/>' for line, fill in zip(view.face, FACE, strict=True)
    )
    strands = "".join(
        f'<path d="{each.d}" stroke="{each.hex}" stroke-width="{each.width}" fill="none"/>' for each in view.strokes
    )
    turned = ' transform="translate(106 0) scale(-1 1)"' if view.mirrored else ""
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="10 2 86 118" stroke-linejoin="round"><g{turned}>'
        f'<g stroke-width="0.8">{lines}</g><g transform="scale(.1)">{strands}</g></g></svg>'
    )


@register.filter
def consult_said(visit: Visit) -> list[str]:
    """What a consult found, other than what every consult begins with."""
    consult = getattr(visit, "consult", None)
    if consult is None:
        return []
    lines = []
    for name, field in CONSULT_FIELDS.items():
        value, title = getattr(consult, name), say(str(field.help_text or field.verbose_name))
        if value == field.get_default():
            continue
        shown = dict(field.flatchoices).get(value, value)
        lines.append(title if value is True else f"{say(str(field.verbose_name))}: {shown}")
    return lines
