"""Lines and tubes that are held while they are changed: lines before tubes, each in one order for every hand, so that
none waits for another that waits for it.
"""

from collections.abc import Iterable

from django.db.models import F

from studio.accounts.models import Person
from studio.shelf.models import Shade, ShadeLine


def held_line(person: Person, line_id: int) -> ShadeLine:
    """A line of the studio. Raises ShadeLine.DoesNotExist."""
    return ShadeLine.objects.visible_to(person).select_for_update().get(pk=line_id)


def held_shades(person: Person, ids: Iterable[int]) -> list[Shade]:
    """Tubes of the studio with their lines. Raises Shade.DoesNotExist when one of them is not there."""
    wanted = set(ids)
    lines = ShadeLine.objects.visible_to(person).filter(pk__in=Shade.objects.filter(pk__in=wanted).values("line"))
    by_id = {line.pk: line for line in lines.order_by("pk").select_for_update()}
    shades = list(Shade.objects.visible_to(person).filter(pk__in=wanted).order_by("pk").select_for_update(of=("self",)))
    if len(shades) != len(wanted):
        raise Shade.DoesNotExist
    for shade in shades:
        shade.line = by_id[shade.line_id]
    return shades


def held_shade(person: Person, shade_id: int) -> Shade:
    """A tube of the studio with its line. Raises Shade.DoesNotExist."""
    return held_shades(person, [shade_id])[0]


def line_changed(line_id: int) -> None:
    """Every change of a line counts its version up; what is reckoned from a version is kept under it."""
    ShadeLine.objects.filter(pk=line_id).update(version=F("version") + 1)
