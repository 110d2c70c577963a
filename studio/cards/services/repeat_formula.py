"""Repeat a formula of the card for today's hair."""

import datetime
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Final

from django.db import transaction

from engine.language import say
from studio.accounts.models import Person
from studio.cards.models import Formula, Tweak
from studio.cards.services.judge import use_tweak
from studio.cards.services.next_time import NextTime, acting_tweaks, otherwise, take_up
from studio.cards.services.save_formula import TARGET
from studio.head.models import Coat
from studio.head.services.open_bowl import open_bowl
from studio.head.services.set_bench import CoatSetting, ZoneSetting, set_head
from studio.head.state import BowlState
from studio.ui.days import day_words
from studio.visits.models import HAIR_NAMES, Visit, Zone
from studio.visits.selectors import open_zone
from studio.visits.services.start_visit import start_visit

LIES: Final = ("pattern", "strand_share", "from_cm", "to_cm", "sections", "rinsed_apart")
PLAIN_AGAIN: Final = (Coat.Purpose.EQUALISE, Coat.Purpose.MASK, Coat.Purpose.SEAL)


@dataclass(frozen=True, kw_only=True)
class Changed:
    """What is taken in place of a formula's own grams: grams by shade id, and what they aim at."""

    grams: Mapping[int, Decimal]
    aim_lab: tuple[Decimal, ...] | None = None


@transaction.atomic
def repeat_formula(
    person: Person,
    *,
    formula_id: int,
    day: datetime.date,
    changed: Changed | None = None,
    tweak_id: int | None = None,
) -> Visit:
    """Set a day's bench as the formula has it, with the zones and coats that were saved together, one undo away.

    Lightener and fill are not repeated but on roots: what is light or filled stays so. Nor is remover; equaliser, seal
    and a mask that was not mixed come with the coat that they went on beside.

    changed: another bowl for the formula's own zone. tweak_id: of the change that is made by that, and called for no
    more. Hair that was read that day stays; else the formula's hair is
    the start, to be looked at again.
    Raises Formula.DoesNotExist for another studio's formula.
    """
    formula = Formula.objects.visible_to(person).get(pk=formula_id)
    together = Formula.objects.visible_to(person).filter(visit=formula.visit_id, saved_at=formula.saved_at)
    visit = start_visit(person, client_id=formula.client_id, day=day)
    opened = open_zone(person, visit.pk)
    bowl = open_bowl(person, zone_id=opened.zone.pk)
    others = {formula.pk: changed}
    kept = (
        together.order_by("zone_position", "zone_name", "coat_number", "pk")
        .select_related("line")
        .prefetch_related("pours")
    )
    repeated = [each for each in kept if each.pk == formula.pk or _is_repeated(each)]
    tweaks = acting_tweaks(person, formula.client_id, visit)
    names = list(dict.fromkeys(each.zone_name for each in repeated))
    zones = [
        _setting([each for each in repeated if each.zone_name == name], others, tweaks.get(name)) for name in names
    ]
    words = say("the formula of {day}", day=day_words(formula.saved_at))
    set_head(person, zone_id=opened.zone.pk, version=bowl.version, zones=zones, words=words)
    for name in names:
        if name in tweaks:
            take_up(tweaks[name], visit)
    if tweak_id is not None:
        use_tweak(person, tweak_id=tweak_id, visit=visit)
    return visit


def _is_repeated(formula: Formula) -> bool:
    """Whether a coat goes on again of itself: hair that is light or filled stays so, but for what has grown since."""
    once = (Coat.Purpose.LIFT, Coat.Purpose.FILL)
    return formula.purpose not in once or formula.zone_part == Zone.Part.ROOTS


def _setting(formulas: list[Formula], changed: Mapping[int, Changed | None], tweak: Tweak | None) -> ZoneSetting:
    """A zone with the coats of one day, in their order. tweak: what is done otherwise, on the last that colours."""
    first = formulas[0]
    told: set[int] = set()  # what two recipes of one coat both tell goes on once
    colours = [each for each in formulas if each.purpose == Coat.Purpose.COLOUR] or formulas
    return ZoneSetting(
        name=first.zone_name,
        part=first.zone_part,
        position=first.zone_position,
        blend_percent=first.blend_percent,
        hair={name: getattr(first, name) for name in HAIR_NAMES},
        lies={name: getattr(first, name) for name in LIES},
        coats=tuple(
            coat
            for each in formulas
            for coat in (
                *_plain(each, told, after=False),
                _coat(each, changed.get(each.pk), otherwise(each, tweak if each is colours[-1] else None)),
                *_plain(each, told, after=True),
            )
        ),
    )


def _plain(formula: Formula, told: set[int], *, after: bool) -> Iterator[CoatSetting]:
    """The coats that nothing was mixed for and that went on before a formula's own, or after it.

    told: the places of those that were given already, to which these are added.
    """
    for each in formula.beside:
        is_new = each["coat"] not in told and (each["coat"] > formula.coat_number) is after
        if is_new and each["purpose"] in PLAIN_AGAIN:
            told.add(each["coat"])
            numbers = {name: each.get(name) for name in ("grams", "vol", "minutes")}
            grams, vol, minutes = (None if each is None else round(Decimal(each), 1) for each in numbers.values())
            plain = {"product": each.get("product", ""), "grams": grams, "own_vol": vol}
            yield CoatSetting(purpose=each["purpose"], minutes=minutes, plain=plain)


def _coat(formula: Formula, changed: Changed | None, change: NextTime) -> CoatSetting:
    target = [getattr(formula, name) for name in TARGET]
    grams = {poured.shade_id: poured.grams for poured in formula.pours.all()}
    if changed is not None:
        target = list(changed.aim_lab) if changed.aim_lab else target
        grams = dict(changed.grams)
    own = [change.vol or formula.developer_vol, formula.developer_parts]
    usual = [formula.line.developer_vol, formula.line.developer_parts]
    bowl = BowlState(
        line=formula.line_id,
        wanted_g=str(formula.wanted_g),
        target=None if None in target else [str(part) for part in target],
        grams={str(shade): str(weight) for shade, weight in grams.items()},
    )
    if None not in own and own != usual:
        bowl["developer"] = [str(part) for part in own]
    return CoatSetting(
        purpose=formula.purpose,
        to_level=formula.to_level,
        minutes=change.minutes,
        bowl_number=formula.bowl_number,
        bowl=bowl,
    )
