"""Set the house's own rules, and what the packs of its lines ask for."""

from collections.abc import Mapping
from dataclasses import asdict
from typing import Final

from django.db import transaction

from studio.accounts.models import Person, Studio
from studio.shelf.models import ShadeLine
from studio.shelf.own_ladder import typed_ladder
from studio.shelf.services.holding import held_line, line_changed
from studio.ui.refusal import Refusal

HELD_BY_LINES: Final = (
    "deposit_on",
    "fill_with",
    "pre_tone",
    "carrier",
    "bowl_min",
    "clean_up",
    "over_tone",
    "root_look",
)  # lines are kept with the house they work in


@transaction.atomic
def set_rules(person: Person, *, rules: Mapping[str, object]) -> Studio:
    """Set the studio's schools and stops. Raises Refusal not_licensed: a rule of safety is a licensed hand's."""
    _check_licensed(person)
    studio = Studio.objects.select_for_update().get(pk=person.studio_id)
    works_otherwise = any(rules.get(name, getattr(studio, name)) != getattr(studio, name) for name in HELD_BY_LINES)
    for name, given in rules.items():
        setattr(studio, name, given)
    studio.save(update_fields=list(rules))
    if works_otherwise:
        for line in ShadeLine.objects.filter(studio=studio):
            line_changed(line.pk)
    return studio


@transaction.atomic
def set_ladder(person: Person, *, typed: Mapping[str, str]) -> Studio:
    """Keep the house's own ladder of undertones, and read by it from now on: readings keep their numbers.

    Raises Refusal not_licensed, not_a_number, out_of_range, rung_word.
    """
    _check_licensed(person)
    studio = Studio.objects.select_for_update().get(pk=person.studio_id)
    ladder = typed_ladder(tuple(rung.level for rung in studio.ladder.rungs), typed)
    studio.own_ladder = [asdict(rung) for rung in ladder.rungs]
    studio.school = Studio.SchoolChoice.OWN
    studio.save(update_fields=["own_ladder", "school"])
    return studio


@transaction.atomic
def set_line(person: Person, *, line_id: int, says: Mapping[str, object]) -> ShadeLine:
    """Set what a line's pack asks for. Raises Refusal not_licensed, vol_without_developer; ShadeLine.DoesNotExist."""
    _check_licensed(person)
    line = held_line(person, line_id)
    if bool(line.developer_parts) != bool(says["developer_vol"]):
        raise Refusal("vol_without_developer", "developer_vol")
    for name, given in says.items():
        setattr(line, name, given)
    line.save(update_fields=list(says))
    line_changed(line.pk)
    return line


def _check_licensed(person: Person) -> None:
    if not person.licensed:
        raise Refusal("house_not_licensed")
