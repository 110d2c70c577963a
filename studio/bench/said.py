"""What the Bench says of the bowl in words."""

import numpy as np

from engine.bowl.predict import Aim
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.words import colour_word, difference_words
from engine.language import begun, counted, decimals, say
from engine.practice.guessing import AS_EXPECTED
from studio.bench.lifting import lift_said
from studio.guesses.models import Guess
from studio.head.engine_adapter import BenchForecast, partings_of
from studio.head.selectors import Bench
from studio.head.sight import LIGHT_WORDS, Sight


def words_of(bench: Bench, seen: BenchForecast, aim: Aim | None, sight: Sight) -> str:
    """The bowl's headline: what it gives, against the aim, after so many washes."""
    if bench.coat.lifts:
        return lift_said(bench, seen)
    if not bench.pours:
        return say("The bowl is empty: pour a shade") + ("" if aim else say(", or choose an aim"))
    washes = counted("after {count} wash: ", "after {count} washes: ", sight.washes) if sight.washes else ""
    said = aim.words if aim else say("{colour_word}; no aim yet", colour_word=colour_word(seen.forecast.lab))
    said = washes + said
    return begun(said)


def notices_of(bench: Bench, seen: BenchForecast) -> list[str]:
    """What should be known: zones that part in another light, and the forecast's own cautions and stops."""
    names = [each.bench.zone.name for each in seen.zones]
    said = [
        say(
            "{names} and {names2} match in {light_words} and part in {light_words2} ({delta_e00:.1f} apart).",
            names=begun(names[parting.one]),
            names2=names[parting.other],
            light_words=LIGHT_WORDS[parting.match_in],
            light_words2=LIGHT_WORDS[parting.part_in],
            delta_e00=parting.delta_e00,
        )
        for parting in partings_of(seen)[:1]
    ]
    quiet = {"estimate", "developer_assumed", "screen_cannot_show"}
    said += [warning.sentence for warning in seen.forecast.warnings if warning.code not in quiet]
    return said[:2]


def guessed_words(guess: Guess) -> str:
    """How near what was expected comes to the forecast."""
    forecast, expected = np.array(guess.forecast_lab), np.array(guess.expected_lab)
    off = decimals(f"{float(delta_e00(forecast, expected)):.1f}")
    return say("You expected it {words}: {off} off.", words=difference_words(forecast, expected, AS_EXPECTED), off=off)
