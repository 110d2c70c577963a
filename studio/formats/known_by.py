"""What a card's document says of who read hair, and of the tubes that its formulas name."""

import datetime
from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from engine.dye.fingerprint import fingerprint
from studio.accounts.models import Person
from studio.cards.models import Formula
from studio.cards.selectors import KeptFormula
from studio.shelf.models import Shade, ShadeLine
from studio.shelf.selectors import stocked_line
from studio.visits.models import Reading


@dataclass(frozen=True, kw_only=True)
class Readers:
    """Who read which zone of which visit when, the newest first, by visit and by the zone's name."""

    by_zone: Mapping[tuple[int, str], list[tuple[datetime.datetime, str]]]

    def of(self, formula: Formula) -> str:
        """Who had read a formula's hair when it was saved, if anybody had."""
        read = self.by_zone.get((formula.visit_id, formula.zone_name), [])
        return next((reader for at, reader in read if at <= formula.saved_at), "")


def readers_of(person: Person, *, visits: Collection[int]) -> Readers:
    """Who read the hair of some visits. One query."""
    found: dict[tuple[int, str], list[tuple[datetime.datetime, str]]] = defaultdict(list)
    read = Reading.objects.filter(zone__visit__in=visits, zone__visit__client__studio=person.studio_id)
    for each in read.select_related("zone", "read_by__same_as").order_by("-read_at", "-id"):
        found[each.zone.visit_id, each.zone.name].append((each.read_at, str(each.read_by)))
    return Readers(by_zone=found)


def layers_of(formula: Formula) -> list[Mapping[str, Any]]:
    """What lay on the hair of this studio's shades, beneath the formula: each a row of the shelf with its K/S."""
    old = formula.old_shade if formula.old_shade.isdecimal() and formula.old_k_s else ""
    return [*([{"shade": old, "k_s": formula.old_k_s}] if old else []), *formula.laid]


def shelf_of(formulas: Iterable[KeptFormula], laid: Mapping[int, Shade]) -> list[dict[str, Any]]:
    """The lines and tubes that formulas name: what each is known by, and the fingerprint of what it does.

    laid: shades beneath the formulas, by row. The shelves of the lines are looked up once a version.
    """
    wanted: dict[int, tuple[ShadeLine, dict[str, int]]] = {}
    for kept in formulas:
        line = kept.formula.line
        named = wanted.setdefault(line.pk, (line, {}))[1]
        named.update({pour.shade_name: pour.shade_id for pour in kept.pours})
    for shade in laid.values():
        wanted.setdefault(shade.line_id, (shade.line, {}))[1][shade.name] = shade.pk
    return [_line(line, named) for line, named in sorted(wanted.values(), key=lambda each: each[0].name)]


def _line(line: ShadeLine, named: Mapping[str, int]) -> dict[str, Any]:
    stocked = stocked_line(line)
    uids = {shade.pk: str(shade.uid) for shade in stocked.shades}
    shades = [
        {"name": name, "uid": uids[pk], "fingerprint": fingerprint(stocked.plain[pk])}
        for name, pk in sorted(named.items())
        if pk in uids
    ]
    return {"name": line.name, "uid": str(line.uid), "kind": line.kind, "shades": shades}
