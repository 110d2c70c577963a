"""Write down what is expected of a bowl; then be shown its forecast."""

import datetime
from decimal import Decimal

from django.db import transaction

from engine.arrays import FloatArray
from engine.language import say
from studio.accounts.models import Person
from studio.guesses.models import Guess
from studio.head.services.aim import showable
from studio.head.services.changing import locked_bowl
from studio.ui.refusal import Refusal


@transaction.atomic
def write_down(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    lightness: Decimal,
    chroma: Decimal,
    hue: Decimal,
    level: Decimal,
    nearest: bool = False,
) -> Guess:
    """Expect a colour of the bowl in hand, by lightness L*, chroma, and hue in degrees.

    Until the forecast is shown, a new guess takes the earlier one's place. level: of the hair that the bowl goes on.
    nearest: see `showable`.
    Raises Refusal out_of_range, aim_not_showable; Stale; Bowl.DoesNotExist.
    """
    lab, _ = showable(lightness, chroma, hue, nearest=nearest)
    locked_bowl(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("a guess"))
    expected = dict(zip(("expected_l", "expected_a", "expected_b"), _decimals(lab), strict=True))
    guess, _ = Guess.objects.update_or_create(
        zone_id=zone_id, person=person, shown_at=None, defaults={"level": level, **expected}
    )
    return guess


@transaction.atomic
def show_forecast(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    forecast_lab: FloatArray,
    now: datetime.datetime,
) -> Guess:
    """Keep beside a guess the forecast (3,) that its person is shown with this; from here on it stays as it is.

    Raises Refusal guess_first, empty_bowl; Stale; Bowl.DoesNotExist.
    """
    bowl = locked_bowl(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("show the forecast"))
    guess = Guess.objects.visible_to(person).filter(zone=zone_id, person=person, shown_at=None).first()
    if guess is None:
        raise Refusal("guess_first", "hue")
    if not bowl.pours.exists():
        raise Refusal("empty_bowl", "hue")
    guess.forecast_l, guess.forecast_a, guess.forecast_b = _decimals(forecast_lab)
    guess.shown_at = now
    guess.save()
    return guess


def _decimals(lab: FloatArray) -> list[Decimal]:
    return [round(Decimal(float(part)), 3) for part in lab]
