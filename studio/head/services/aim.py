"""Set what the bowl aims at: its colour, and how much of it is wanted."""

from decimal import Decimal

import numpy as np
from django.db import transaction

from engine.arrays import FloatArray
from engine.colorimetry.lab import lab_from_lch
from engine.colorimetry.screen import fits_screen, largest_chroma
from engine.language import say
from studio.accounts.models import Person
from studio.head.models import WANTED_LEAST_G, WANTED_MOST_G, Bowl, Coat
from studio.head.services.changing import LockedCoat, locked_bowl, locked_coat, remember
from studio.head.state import TARGET_NAMES, set_target
from studio.ui.numbers import within
from studio.ui.refusal import Refusal


def aim(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    lightness: Decimal,
    chroma: Decimal,
    hue: Decimal,
    nearest: bool = False,
    everywhere: bool = False,
) -> Bowl:
    """Aim at a colour by lightness L*, chroma, and hue in degrees, under daylight.

    everywhere: for every zone that the bowl serves, not only the one in hand. nearest: a tapped colour that no screen
    shows becomes the strongest one of its hue that can be shown.
    Raises Refusal out_of_range with the field, aim_not_showable with the largest chroma that a screen shows;
    Stale; Bowl.DoesNotExist.
    """
    lab, chroma = showable(lightness, chroma, hue, nearest=nearest)
    words = say(
        "aim at depth {lightness:.0f}, strength {chroma:.0f}, hue {hue:.0f}°",
        lightness=lightness,
        chroma=chroma,
        hue=hue,
    )
    parts = [Decimal(str(float(part))) for part in lab]
    with transaction.atomic():
        held = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=words)
        return _aimed(
            person,
            held,
            parts,
            words if not everywhere else say("{words}, all zones", words=words),
            everywhere=everywhere,
        )


def showable(lightness: Decimal, chroma: Decimal, hue: Decimal, *, nearest: bool = False) -> tuple[FloatArray, Decimal]:
    """A colour by lightness L*, chroma, and hue in degrees, under daylight: its L*a*b* (3,), and the chroma it has.

    nearest: one that no screen shows becomes the strongest of its hue that can be shown.
    Raises Refusal out_of_range with the field, aim_not_showable with the largest chroma that a screen shows.
    """
    within(lightness, "lightness", 0, 100)
    within(chroma, "chroma", 0, 150)
    within(hue, "hue", 0, 360, "°")
    lab = lab_from_lch(np.array([float(lightness), float(chroma), float(hue)]))
    if fits_screen(lab):
        return lab, chroma
    most = float(np.floor(largest_chroma(lab)))
    if not nearest:
        raise Refusal("aim_not_showable", "chroma", most=most)
    return lab_from_lch(np.array([float(lightness), most, float(hue)])), Decimal(most)


def clear_aim(person: Person, *, zone_id: int, coat_id: int | None = None, version: int) -> Bowl:
    """Aim at nothing any more: neither a coat by itself nor its bowl; undo brings the aim back.

    Raises Refusal coat_plain; Stale; Bowl.DoesNotExist.
    """
    words = say("the aim taken away")
    with transaction.atomic():
        held = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=words)
        return _aimed(person, held, None, words, everywhere=True)


def _aimed(person: Person, held: LockedCoat, parts: list[Decimal] | None, words: str, *, everywhere: bool) -> Bowl:
    """An aim belongs to its zone, unless it is asked for all that the bowl serves, or the bowl serves no other."""
    coat, bowl = held.coat, held.coat.bowl
    if bowl is None:
        raise Refusal("coat_plain")
    served = Coat.objects.filter(bowl=bowl, removed=False, zone__removed=False)
    if everywhere or served.exclude(zone=coat.zone_id).count() == 0:
        served.update(**dict.fromkeys(TARGET_NAMES))
        set_target(bowl, parts)
        bowl.save()
    else:
        set_target(coat, parts)
        coat.save(update_fields=list(TARGET_NAMES))
    remember(person, held.worktop, words)
    return bowl


def want(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, total_g: Decimal) -> Bowl:
    """Say how many grams of colour and clear are wanted. Raises Refusal out_of_range; Stale; Bowl.DoesNotExist."""
    within(total_g, "total_grams", float(WANTED_LEAST_G), float(WANTED_MOST_G), " g")
    wanted_g = round(total_g, 1)
    words = say("{wanted_g:weight} wanted", wanted_g=wanted_g)
    with transaction.atomic():
        bowl = locked_bowl(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=words)
        # Leaving the field and pressing Enter both send it: the second time there is nothing to remember.
        if bowl.wanted_g != wanted_g:
            bowl.wanted_g = wanted_g
            bowl.save()
            remember(person, bowl.worktop, words)
    return bowl
