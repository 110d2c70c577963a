"""A tube that is counted on the scale, ready to show."""

import secrets
from dataclasses import dataclass, field
from functools import cached_property

from django.utils import timezone

from studio.accounts.models import Person
from studio.pour.models import SimulatedPan
from studio.pour.services.pan import pan_of, weight_on
from studio.shelf.models import Shade
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@dataclass(frozen=True, kw_only=True)
class CountPage:
    """What stands by the scale: the tube, what the record says, what lies on the scale, and the next tube."""

    shade: Shade
    pan: SimulatedPan
    grams: str
    is_stable: bool
    fault: str
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
    pan = pan_of(person)
    grams, is_stable, fault = "", False, ""
    try:
        weight = weight_on(pan, now=timezone.now())
        grams, is_stable = f"{weight.grams:.1f}", weight.stable
    except Refusal as wrong:
        fault = refusal_words(wrong)
    return CountPage(
        shade=shade,
        pan=pan,
        grams=grams,
        is_stable=is_stable,
        fault=fault,
        error_words=refusal_words(refusal) if refusal else "",
    )
