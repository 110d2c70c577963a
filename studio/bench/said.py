"""What the Bench says of the bowl in words."""

from engine.bowl.predict import Aim
from engine.colorimetry.words import colour_word
from studio.bench.lifting import lift_said
from studio.head.engine_adapter import BenchForecast, partings_of
from studio.head.selectors import Bench
from studio.head.sight import LIGHT_WORDS, Sight


def words_of(bench: Bench, seen: BenchForecast, aim: Aim | None, sight: Sight) -> str:
    """The bowl's headline: what it gives, against the aim, after so many washes."""
    if bench.coat.lifts:
        return lift_said(bench, seen)
    if not bench.pours:
        return "The bowl is empty: pour a shade" + ("" if aim else ", or choose an aim")
    washes = f"after {sight.washes} wash{'' if sight.washes == 1 else 'es'}: " if sight.washes else ""
    said = aim.words if aim else f"{colour_word(seen.forecast.lab)}; no aim yet"
    said = washes + said
    return said[0].upper() + said[1:]


def notices_of(bench: Bench, seen: BenchForecast) -> list[str]:
    """What should be known: zones that part in another light, and the forecast's own cautions and stops."""
    names = [each.bench.zone.name for each in seen.zones]
    said = [
        f"{names[parting.one].capitalize()} and {names[parting.other]} match in {LIGHT_WORDS[parting.match_in]} "
        f"and part in {LIGHT_WORDS[parting.part_in]} ({parting.delta_e00:.1f} apart)."
        for parting in partings_of(seen)[:1]
    ]
    quiet = {"estimate", "developer_assumed", "screen_cannot_show"}
    said += [warning.sentence for warning in seen.forecast.warnings if warning.code not in quiet]
    return said[:2]
