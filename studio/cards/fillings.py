"""What was really mixed for a zone: every filling of every bowl, also of bowls that serve it no more."""

import datetime
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Final

from django.db.models import Q

from studio.accounts.models import Person
from studio.cards.worked import clocks_of
from studio.clocks.models import ZoneClock
from studio.head.models import Bowl, Coat
from studio.head.selectors import Bench
from studio.pour.models import Batch, Weighing
from studio.shelf.models import Shade, ShadeLine
from studio.shelf.selectors import stocked_line
from studio.visits.models import Zone

SAME_SHARE: Final = Decimal("0.02")  # fillings whose shades part by less are one recipe: a scale's step in a small bowl


@dataclass(frozen=True, kw_only=True)
class Filling:
    """One recipe as it was mixed, once or several times: grams by the shade's row of the last time.

    planned, lots: what was planned of each, and the tubes' numbers. developer_g: of the last time, poured, else as the
    line asks. used: grams of each over all times. clock: of the zone, while this was on it.
    """

    bowl: Bowl
    grams: Mapping[int, Decimal]
    planned: Mapping[int, Decimal]
    lots: Mapping[int, str]
    developer_g: Decimal
    used: Mapping[int, Decimal]
    batches: int
    mixed_at: datetime.datetime | None
    clock: ZoneClock | None

    @property
    def line(self) -> ShadeLine:
        """The line that it is of."""
        return self.bowl.line

    @property
    def poured(self) -> list[tuple[Shade, Decimal]]:
        """Its shades with their grams, in shelf order."""
        return [(shade, self.grams[shade.pk]) for shade in stocked_line(self.line).shades if shade.pk in self.grams]


def fillings_of(person: Person, bench: Bench, zone: Zone) -> list[Filling]:
    """What was mixed for a zone, in order; of a bowl that was not mixed yet what stands in it. A few queries."""
    served = {each.bowl.pk: each.bowl for each in bench.coats if each.zone.pk == zone.pk}
    filled = [each.bowl for each in bench.coats if each.zone.pk == zone.pk and each.pours]
    batches = _batches(person, bench, zone, frozenset(served))
    found = [_filling(group, clocks_of(person, zone, group[0].bowl)) for group in _groups(batches)]
    mixed = {batch.bowl_id for batch in batches}
    by_hand = [bowl for bowl in _mixed_by_hand(person, bench, zone) if bowl.pk not in mixed]
    by_hand += [bowl for bowl in dict.fromkeys(filled) if bowl.pk not in mixed]
    fillings = [*found, *(_by_hand(bowl, clocks_of(person, zone, bowl)) for bowl in by_hand)]
    places = {pk: place for place, pk in enumerate(served)}  # what serves it no more came first
    return sorted(fillings, key=lambda each: places.get(each.bowl.pk, -1))


def zones_worked(person: Person, bench: Bench) -> list[Zone]:
    """The zones of a visit that something was mixed for: those of the head, and removed ones whose bowl serves nobody.

    One query.
    """
    here = [each.zone for each in bench.zones if not each.zone.left_alone]
    serving = {each.bowl.pk for each in bench.coats}
    gone: set[int] = set()
    for batch in _all_batches(person, bench):
        if batch.bowl_id not in serving:
            gone.update(batch.served)
    lost = Zone.objects.visible_to(person).filter(pk__in=gone - {zone.pk for zone in here}, visit=bench.visit)
    return [*here, *lost.select_related("visit__client")]


def _all_batches(person: Person, bench: Bench) -> list[Batch]:
    """Batches that were mixed, or into which something was weighed, in order."""
    begun = Q(mixed_at__isnull=False) | Q(weighings__taken_back=False)
    batches = Batch.objects.visible_to(person).filter(begun, bowl__worktop=bench.worktop).distinct()
    return list(
        batches.select_related("bowl__line").prefetch_related("weighings", "bowl__pours").order_by("begun_at", "pk")
    )


def _batches(person: Person, bench: Bench, zone: Zone, own: frozenset[int]) -> list[Batch]:
    return [batch for batch in _all_batches(person, bench) if zone.pk in batch.served or batch.bowl_id in own]


def _mixed_by_hand(person: Person, bench: Bench, zone: Zone) -> list[Bowl]:
    """Bowls that were marked as mixed on the Bench for a zone, and serve it no more."""
    bowls = Bowl.objects.visible_to(person).filter(worktop=bench.worktop, mixed_for__contains=zone.pk)
    others = (
        bowls.exclude(coats__in=Coat.objects.filter(zone=zone, removed=False))
        .select_related("line")
        .prefetch_related("pours")
        .order_by("pk")
    )
    return [bowl for bowl in others if bowl.pours.all()]


def _held(batch: Batch) -> dict[int, Decimal]:
    """What is in a batch, grams by the shade's row: as it was when it was mixed, else as it stands."""
    if batch.held:
        return {int(shade): Decimal(weight) for shade, weight in batch.held.items()}
    if batch.mixed_at is None:
        return {pour.shade_id: pour.mixed_g for pour in batch.bowl.pours.all() if pour.mixed_g}
    weighed: dict[int, Decimal] = {}
    for each in _weighings(batch):
        if each.shade_id is not None:
            weighed[each.shade_id] = weighed.get(each.shade_id, Decimal(0)) + each.poured_g
    return weighed or {pour.shade_id: pour.grams for pour in batch.bowl.pours.all()}


def _weighings(batch: Batch) -> list[Weighing]:
    return [each for each in batch.weighings.all() if not each.taken_back]


def _groups(batches: Iterable[Batch]) -> list[list[Batch]]:
    """Batches that follow one another and are of one recipe, together."""
    groups: list[list[Batch]] = []
    for batch in sorted(batches, key=lambda each: (each.bowl_id, each.number)):
        last = groups[-1][-1] if groups else None
        if last is not None and last.bowl_id == batch.bowl_id and _is_same(_held(last), _held(batch)):
            groups[-1].append(batch)
        else:
            groups.append([batch])
    return sorted(groups, key=lambda group: (group[0].begun_at, group[0].pk))


def _is_same(one: Mapping[int, Decimal], other: Mapping[int, Decimal]) -> bool:
    if set(one) != set(other) or not one:
        return set(one) == set(other)
    totals = sum(one.values()), sum(other.values())
    return all(abs(one[shade] / totals[0] - other[shade] / totals[1]) <= SAME_SHARE for shade in one)


def _filling(group: list[Batch], clocks: list[ZoneClock]) -> Filling:
    last = group[-1]
    held, weighed = _held(last), _weighings(last)
    used: dict[int, Decimal] = {}
    for batch in group:
        for shade, grams in _held(batch).items():
            used[shade] = used.get(shade, Decimal(0)) + grams
    poured = sum((each.poured_g for each in weighed if each.shade_id is None), Decimal(0))
    ids = {batch.pk for batch in group}
    return Filling(
        bowl=last.bowl,
        grams=held,
        planned={each.shade_id: each.planned_g for each in reversed(weighed) if each.shade_id},
        lots=_lots(weighed),
        developer_g=poured or sum(held.values(), Decimal(0)) * last.bowl.parts,
        used=used,
        batches=len(group),
        mixed_at=group[0].mixed_at,
        clock=_newest(clocks, ids),
    )


def _by_hand(bowl: Bowl, clocks: list[ZoneClock]) -> Filling:
    grams = {pour.shade_id: pour.grams for pour in bowl.pours.all()}
    return Filling(
        bowl=bowl,
        grams=grams,
        planned={},
        lots={},
        developer_g=sum(grams.values(), Decimal(0)) * bowl.parts,
        used=grams,
        batches=1,
        mixed_at=None,
        clock=clocks[-1] if clocks else None,
    )


def _newest(clocks: list[ZoneClock], batches: set[int]) -> ZoneClock | None:
    """The newest clock of these batches; where none names its batch, the newest of the bowl."""
    of_them = [clock for clock in clocks if clock.batch_id in batches or clock.batch_id is None]
    return of_them[-1] if of_them else None


def _lots(weighed: list[Weighing]) -> dict[int, str]:
    found: dict[int, list[str]] = {}
    for each in weighed:
        if each.shade_id and each.lot and each.lot not in found.setdefault(each.shade_id, []):
            found[each.shade_id].append(each.lot)
    return {shade: ", ".join(lots)[:62] for shade, lots in found.items()}
