"""Developer: strengths in volumes and percent, blends of two strengths, and grams for a ratio."""

from dataclasses import dataclass
from typing import Final

from engine.arrays import within

PERCENT_PER_VOL: Final = 0.3  # the trade's rule: 10 vol = 3 %; common practice, no published source
STRENGTHS_VOL: Final = (6.0, 7.0, 9.0, 10.0, 13.0, 20.0, 30.0, 40.0)  # what bottles hold
STRONGEST_PERCENT: Final = 12.0
COLOUR_LIMITS_G: Final = (0.1, 5000.0)
PARTS_LIMITS: Final = (0.25, 4.0)

# 2 H2O2 -> 2 H2O + O2. Molar mass from IUPAC's atomic weights (H 1.008, O 15.999), molar volume of an ideal gas at
# 0 degrees C and 101.325 kPa from CODATA 2018.
PEROXIDE_G_PER_MOL: Final = 34.014
MOLAR_VOLUME_L: Final = 22.414
WATER_G_PER_L: Final = 998.2  # at 20 degrees C
DENSITY_RISE: Final = 3.7  # g/L for each percent of peroxide in weak solutions; from memory


@dataclass(frozen=True, kw_only=True)
class DeveloperBlend:
    """Grams of the stronger and of the weaker developer that make one of a wanted strength."""

    strong_g: float
    weak_g: float
    percent: float

    @property
    def total_g(self) -> float:
        """Grams in all."""
        return self.strong_g + self.weak_g


def percent_of(vol: float) -> float:
    """Percent of peroxide by weight of a strength in volumes, by the trade's rule. Raises OutOfRange, WrongType."""
    return within("vol", vol, 0.0, STRONGEST_PERCENT / PERCENT_PER_VOL, "vol") * PERCENT_PER_VOL


def vol_of(percent: float) -> float:
    """Volumes of a strength in percent, by the trade's rule. Raises OutOfRange, WrongType."""
    return within("percent", percent, 0.0, STRONGEST_PERCENT, "%") / PERCENT_PER_VOL


def oxygen_volumes(percent: float) -> float:
    """Litres of oxygen, at 0 degrees C and one atmosphere, that a litre of peroxide of a percent by weight gives off.

    What "volumes" means by chemistry; the trade's rule is held against it in the tests.
    """
    within("percent", percent, 0.0, STRONGEST_PERCENT, "%")
    grams_per_litre = percent / 100 * (WATER_G_PER_L + DENSITY_RISE * percent)
    return grams_per_litre / PEROXIDE_G_PER_MOL / 2 * MOLAR_VOLUME_L


def blend(strong_percent: float, weak_percent: float, wanted_percent: float, total_g: float) -> DeveloperBlend:
    """Two strengths, or one and water (0 %), blended to a wanted strength, by the mass of the peroxide.

    Raises OutOfRange, WrongType; the wanted strength must lie between the two.
    """
    strong = within("strong_percent", strong_percent, 0.0, STRONGEST_PERCENT, "%")
    weak = within("weak_percent", weak_percent, 0.0, strong, "%")
    wanted = within("wanted_percent", wanted_percent, weak, strong, "%")
    total = within("total_grams", total_g, *COLOUR_LIMITS_G, "g")
    share = 1.0 if strong == weak else (wanted - weak) / (strong - weak)
    return DeveloperBlend(strong_g=share * total, weak_g=(1 - share) * total, percent=wanted)


def developer_for(colour_g: float, parts: float) -> float:
    """Grams of developer for grams of colour or lightener at a ratio of 1 to `parts`. Raises OutOfRange, WrongType."""
    return within("colour_grams", colour_g, *COLOUR_LIMITS_G, "g") * within("parts", parts, *PARTS_LIMITS)
