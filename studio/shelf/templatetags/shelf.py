"""The rows of the shelf."""

from django import template
from django.template.loader import render_to_string
from django.utils.safestring import SafeString

from engine.language import kept_by_language
from studio.shelf.page import TubeRow

register = template.Library()


@register.simple_tag
@kept_by_language(maxsize=4096)
def shelf_row(row: TubeRow) -> SafeString:
    """A tube on the shelf, drawn once for all that it says: of 192 hardly one changes between two looks."""
    return render_to_string("shelf/_tube.html", {"row": row})
