"""The parts of the Bench's drawings that never change, drawn once."""

from functools import cache

from django import template
from django.template.loader import render_to_string
from django.utils.safestring import SafeString

from studio.bench import plane

register = template.Library()


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
