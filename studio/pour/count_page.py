"""A tube that is counted on the scale, ready to show."""

import secrets
from dataclasses import dataclass, field
from functools import cached_property

from studio.accounts.models import Person
from studio.shelf.models import Shade
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@dataclass(frozen=True, kw_only=True)
class CountPage:
    """What stands by the scale: the tube, what the record says, and the next tube."""

    shade: Shade
    error_words: str
    token: str = field(default_factory=lambda: secrets.token_hex(8))

    @cached_property
    def following(self) -> Shade | None:
        """The next tube of the line in shelf order, asked for only where it is shown."""
        after = self.shade.line.shades.filter(off_shelf=False, position__gte=self.shade.position)
        return next((each for each in after if (each.position, each.pk) > (self.shade.position, self.shade.pk)), None)


def count_page(person: Person, shade_id: int, *, refusal: Refusal | None = None) -> CountPage:
    """Gather it. Raises Shade.DoesNotExist."""
    shade = Shade.objects.visible_to(person).select_related("line").get(pk=shade_id)
    return CountPage(
        shade=shade,
        error_words=refusal_words(refusal) if refusal else "",
    )
