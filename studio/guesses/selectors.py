"""What was guessed at the bowl, and how well people foresee."""

from collections import defaultdict
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.difference import delta_e00
from engine.practice.guessing import Guess as Guessed
from engine.practice.guessing import is_same_forecast
from studio.accounts.models import Person
from studio.cards.models import ZoneResult
from studio.guesses.models import Guess, Lab

UNCHANGED: Final = 0.05  # delta E00 within which a forecast is still the one that was shown


def open_guess(person: Person, zone_id: int) -> Guess | None:
    """What a person has written down for a zone and not yet held against the forecast. One query."""
    return Guess.objects.visible_to(person).filter(zone=zone_id, person=person, shown_at=None).first()


def last_shown(person: Person, zone_id: int, forecast_lab: FloatArray) -> Guess | None:
    """A person's newest guess of a zone, as long as the forecast (3,) is the one it was held against. One query."""
    shown = Guess.objects.visible_to(person).filter(zone=zone_id, person=person, shown_at__isnull=False)
    guess = shown.order_by("shown_at", "pk").last()
    if guess is None or float(delta_e00(np.array(guess.forecast_lab), forecast_lab)) >= UNCHANGED:
        return None
    return guess


def held_against(person: Person, zone_id: int) -> list[Guess]:
    """The newest guess of each who guessed a zone and was shown its forecast, by name. One query."""
    rows = Guess.objects.visible_to(person).filter(zone=zone_id, shown_at__isnull=False).select_related("person")
    newest = {guess.person_id: guess for guess in rows.order_by("shown_at", "pk")}
    return sorted(newest.values(), key=lambda guess: str(guess.person))


def guesses_here(person: Person) -> dict[Person, list[Guessed]]:
    """Everybody's guesses of a studio that were held against a forecast, in their order. Two queries.

    What was seen counts for one where it was judged against about the same forecast: a bowl that was changed after the
    guess, or rinsed early, says nothing of it. Nor does one count of about a forecast that its person has seen there.
    """
    rows = Guess.objects.visible_to(person).filter(shown_at__isnull=False).select_related("person")
    judged = {result.zone_id: result for result in ZoneResult.objects.visible_to(person).filter(zone__guesses__in=rows)}
    found: dict[Person, list[Guessed]] = defaultdict(list)
    seen: dict[tuple[int, int], list[Lab]] = defaultdict(list)
    for guess in rows.order_by("shown_at", "pk"):
        known = seen[guess.person_id, guess.zone_id]
        if not any(is_same_forecast(np.array(guess.forecast_lab), np.array(each)) for each in known):
            found[guess.person].append(as_guessed(guess, judged.get(guess.zone_id)))
        known.append(guess.forecast_lab)
    return dict(found)


def as_guessed(guess: Guess, result: ZoneResult | None) -> Guessed:
    """A guess as the engine reads it, with what was seen where that was of the same forecast."""
    forecast = np.array(guess.forecast_lab)
    is_of_it = result is not None and is_same_forecast(forecast, np.array(result.forecast_lab))
    return Guessed(
        level=float(guess.level),
        expected_lab=np.array(guess.expected_lab),
        forecast_lab=forecast,
        seen_lab=np.array(result.lab) if result is not None and is_of_it else None,
    )
