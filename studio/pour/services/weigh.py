"""Pour one line of a recipe into its bowl, take a note back, or call it enough."""

import datetime
from decimal import Decimal

from django.utils import timezone

from engine.language import say
from studio.accounts.models import Person
from studio.head.models import POUR_MOST_G, Bowl, Portion, Worktop
from studio.head.services.changing import changing
from studio.head.services.pot import check_pot
from studio.head.services.take_recipe import check_gates
from studio.pour.models import MEANWHILE_LONGEST, Batch, Weighing
from studio.pour.selectors import NEAR_G
from studio.shelf.models import LOT_LONGEST
from studio.shelf.selectors import stocked_line
from studio.shelf.services.stock import use
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.coats import AS_USUAL, How


def weigh(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    shade_id: int | None,
    grams: Decimal,
    doubt_g: Decimal = Decimal(0),
    source: str = Weighing.Source.TYPED,
    lot: str = "",
    late_from: datetime.datetime | None = None,
) -> Batch:
    """Note that grams of a shade, or of developer (None), went into the bowl: from then on they are mixed in.

    doubt_g: how far off the grams may be, when they were squeezed or dropped. What is poured is the truth: a line that
    got more than it should is that much. late_from: when it was poured, where the tablet could not tell of it then: it
    is in the bowl whatever was planned, mixed, or shut since, and is taken in. Raises Refusal nothing_poured,
    too_many_grams, pot_full, not_in_recipe, batch_mixed, gate_shut; Stale; Bowl.DoesNotExist.
    """
    grams = round(grams, 2)
    if grams <= 0:
        raise Refusal("nothing_poured", "grams")
    if grams > POUR_MOST_G:
        raise Refusal("too_many_grams", "grams", most=POUR_MOST_G, given=grams)

    def words(bowl: Bowl) -> str:
        shade = stocked_line(bowl.line).shade(shade_id) if shade_id else "developer"
        return say("poured {grams:weight} {shade}", grams=grams, shade=shade)

    at_version = None if late_from else version
    with changing(person, zone_id=zone_id, coat_id=coat_id, version=at_version, words=words) as bowl:
        pours = {pour.shade_id: pour for pour in bowl.pours.all()}
        if late_from:
            batch = _batch_at(bowl, late_from)
            planned = _put_in_late(person, bowl, pours, shade_id, grams, doubt_g, batch)
        else:
            batch = open_batch(bowl)
            if not batch.weighings.filter(taken_back=False).exists():
                check_gates(person, zone_id, coat_id, mixed_how(batch))
            planned = _put_in(bowl, pours, shade_id, grams, doubt_g, batch)
        Weighing.objects.create(
            batch=batch,
            shade_id=shade_id,
            planned_g=planned,
            poured_g=grams,
            lot=lot.strip()[:LOT_LONGEST],
            source=source,
            weighed_by=person,
            weighed_at=late_from or timezone.now(),
            meanwhile=changes_since(bowl.worktop, version) if late_from else "",
        )
    return batch


def mixed_how(batch: Batch | None) -> How:
    """How a batch is mixed, as far as gates ask."""
    return How(in_metal=batch.in_metal, other_developer=batch.other_developer) if batch else AS_USUAL


def set_mixing(
    person: Person, *, zone_id: int, coat_id: int | None = None, version: int, in_metal: bool, other_developer: bool
) -> Batch:
    """Note how the batch in hand is mixed: in metal, with another line's developer. Raises Refusal batch_mixed."""
    with changing(
        person, zone_id=zone_id, coat_id=coat_id, version=version, words=say("how it is mixed was noted")
    ) as bowl:
        batch = open_batch(bowl)
        batch.in_metal, batch.other_developer = in_metal, other_developer
        batch.save(update_fields=["in_metal", "other_developer"])
    return batch


def open_batch(bowl: Bowl) -> Batch:
    """The batch that is being poured, the first one if there is none. Raises Refusal batch_mixed once it is mixed."""
    batch = bowl.batches.order_by("-number").first() or bowl.batches.create(number=1)
    if batch.mixed_at:
        raise Refusal("batch_mixed")
    return batch


def _put_in(
    bowl: Bowl, pours: dict[int, Portion], shade_id: int | None, grams: Decimal, doubt_g: Decimal, batch: Batch
) -> Decimal:
    """Put grams in; returns what was still planned of it."""
    if shade_id is None:
        if not bowl.parts:
            raise Refusal("not_in_recipe")
        poured = sum((each.poured_g for each in batch.weighings.filter(shade=None, taken_back=False)), Decimal(0))
        total = sum((pour.grams for pour in pours.values()), Decimal(0))
        return max(round(total * bowl.parts - poured, 2), Decimal(0))
    if shade_id not in pours:
        raise Refusal("not_in_recipe")
    pour = pours[shade_id]
    planned = pour.grams - pour.mixed_g
    pour.doubt_g = round(doubt_g if not pour.mixed_g else pour.doubt_g + doubt_g, 2)
    pour.mixed_g += grams
    pour.weighed_g += grams
    if pour.grams - pour.mixed_g <= NEAR_G:
        pour.grams = pour.mixed_g
    if pour.grams > POUR_MOST_G:
        raise Refusal("too_many_grams", "grams", most=POUR_MOST_G, given=pour.grams)
    check_pot(sum((each.grams for each in pours.values()), Decimal(0)))
    pour.save()
    return planned


def changes_since(worktop: Worktop, version: int) -> str:
    """What was changed since a worktop was seen at a version, and by whom, the latest first; nothing for nothing."""
    steps = worktop.steps.filter(number__lte=worktop.cursor).select_related("made_by").order_by("-number")
    told = [f"{step.made_by}: {step.words}" for step in steps[: max(worktop.version - version, 0)]]
    return "; ".join(told)[:MEANWHILE_LONGEST]


def _batch_at(bowl: Bowl, at: datetime.datetime) -> Batch:
    """The batch that was being poured at a moment: the first that was mixed later, or not yet; else the newest."""
    batches = list(bowl.batches.order_by("number")) or [bowl.batches.create(number=1)]
    return next((each for each in batches if each.mixed_at is None or each.mixed_at >= at), batches[-1])


def _put_in_late(
    person: Person,
    bowl: Bowl,
    pours: dict[int, Portion],
    shade_id: int | None,
    grams: Decimal,
    doubt_g: Decimal,
    batch: Batch,
) -> Decimal:
    """`_put_in` for what was poured before the records knew; of a batch that is mixed, what it held follows."""
    if shade_id is None:
        return _put_in(bowl, pours, None, grams, doubt_g, batch) if bowl.parts else Decimal(0)
    if batch.mixed_at is not None:
        held = Decimal(batch.held.get(str(shade_id), "0")) + grams
        batch.held = {**batch.held, str(shade_id): str(held)}
        batch.save(update_fields=["held"])
        use(person, {shade_id: grams}, {})
    if batch.mixed_at is not None and bowl.batches.filter(number__gt=batch.number).exists():
        return Decimal(0)  # the bowl holds another filling by now
    pour = pours.get(shade_id)
    if pour is None:  # the plan that it was weighed by had it
        if stocked_line(bowl.line).shade(shade_id) is None:
            raise Refusal("not_in_recipe")
        pour = pours[shade_id] = Portion(bowl=bowl, shade_id=shade_id, grams=grams)
    planned = max(pour.grams - pour.mixed_g, Decimal(0))
    pour.doubt_g = round(pour.doubt_g + doubt_g, 2)
    pour.mixed_g += grams
    pour.weighed_g += grams
    if pour.grams - pour.mixed_g <= NEAR_G or batch.mixed_at is not None:
        pour.grams = pour.mixed_g
    if pour.grams > POUR_MOST_G:
        raise Refusal("too_many_grams", "grams", most=POUR_MOST_G, given=pour.grams)
    pour.save()
    return planned


def take_back(
    person: Person, *, zone_id: int, coat_id: int | None = None, version: int, shade_id: int | None, late: bool = False
) -> Batch:
    """Take back the newest note of a line that was made by mistake; what really went in stays in.

    late: as `weigh` has it.

    Raises Refusal nothing_poured, batch_mixed; Stale; Bowl.DoesNotExist.
    """
    with changing(
        person,
        zone_id=zone_id,
        coat_id=coat_id,
        version=None if late else version,
        words=say("a weighing was taken back"),
    ) as bowl:
        batch = open_batch(bowl)
        last = batch.weighings.filter(shade=shade_id, taken_back=False).order_by("-id").first()
        if last is None:
            raise Refusal("nothing_poured", "grams")
        last.taken_back = True
        last.save(update_fields=["taken_back"])
        if shade_id is not None:
            pour = bowl.pours.get(shade=shade_id)
            pour.mixed_g = max(pour.mixed_g - last.poured_g, Decimal(0))
            pour.weighed_g = min(max(pour.weighed_g - last.poured_g, Decimal(0)), pour.mixed_g)
            pour.grams = max(pour.mixed_g + last.planned_g, pour.mixed_g, NEAR_G)
            pour.save()
    return batch


def enough(
    person: Person, *, zone_id: int, coat_id: int | None = None, version: int, shade_id: int, late: bool = False
) -> Batch:
    """Leave a line at what is in of it. late: as `weigh` has it.

    Raises Refusal nothing_poured, not_in_recipe, batch_mixed; Stale.
    """
    with changing(
        person,
        zone_id=zone_id,
        coat_id=coat_id,
        version=None if late else version,
        words=say("a line was left as poured"),
    ) as bowl:
        batch = open_batch(bowl)
        pour = bowl.pours.filter(shade=shade_id).first()
        if pour is None:
            raise Refusal("not_in_recipe")
        if not pour.mixed_g:
            raise Refusal("nothing_poured", "grams")
        pour.grams = pour.mixed_g
        pour.save()
    return batch


def keep_recipe(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    grams: dict[int, Decimal],
    factor: Decimal,
) -> Batch:
    """Aim at more of everything, by shade id, so that an over-pour keeps the recipe. What is in stays in.

    factor: how many times of everything. Raises Refusal out_of_range, not_in_recipe, batch_mixed, pot_full; Stale;
    Bowl.DoesNotExist.
    """
    within(factor, "factor", 1, 100)
    with changing(
        person, zone_id=zone_id, coat_id=coat_id, version=version, words=say("made larger after an over-pour")
    ) as bowl:
        batch = open_batch(bowl)
        pours = {pour.shade_id: pour for pour in bowl.pours.all()}
        if set(grams) != set(pours):
            raise Refusal("not_in_recipe")
        check_pot(sum(grams.values(), Decimal(0)))
        for shade_id, pour in pours.items():
            pour.grams = max(round(grams[shade_id], 2), pour.mixed_g)
        Portion.objects.bulk_update(pours.values(), ["grams"])
        batch.factor = round(batch.factor * factor, 4)
        batch.save(update_fields=["factor"])
    return batch
