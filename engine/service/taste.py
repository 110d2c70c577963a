"""What many would say of a colour beside a skin and eyes: taste, and no rule, and said as such.

Common practice, no published source; whoever has the hair may like the very opposite.
"""

from enum import Enum
from typing import Final

from engine.arrays import FloatArray
from engine.colorimetry.lab import lch_of
from engine.colorimetry.words import hue_word
from engine.language import begun, later, say

WARM_DEG: Final = (0.0, 110.0)  # hues from red to yellow
LOUD_FROM: Final = 30.0  # strength from which a colour is loud beside a face


class Skin(Enum):
    """What a skin leans to."""

    COOL = "cool"
    NEUTRAL = "neutral"
    WARM = "warm"
    DEEP = "deep"

    @property
    def words(self) -> str:
        """As a choice."""
        return SKINS[self]


class Eyes(Enum):
    """What colour eyes are."""

    LIGHT = "light"
    GREEN = "green"
    BROWN = "brown"

    @property
    def words(self) -> str:
        """As a choice."""
        return EYES[self]


SKINS: Final = {
    Skin.COOL: later("cool skin"),
    Skin.NEUTRAL: later("neutral skin"),
    Skin.WARM: later("warm skin"),
    Skin.DEEP: later("deep skin"),
}
EYES: Final = {Eyes.LIGHT: later("light eyes"), Eyes.GREEN: later("green eyes"), Eyes.BROWN: later("brown eyes")}
OF_EYES: Final = {  # beside a warm colour, and beside a cool one
    Eyes.GREEN: (later("Reds and coppers make green eyes greener."), later("Violets make green eyes stand out.")),
    Eyes.LIGHT: (later("Beside light eyes copper and gold glow."), later("Cool colours take up light eyes.")),
    Eyes.BROWN: (later("Reds and golds warm brown eyes."), later("Beside brown eyes a cool colour is all contrast.")),
}


def taste_of(lab: FloatArray, skin: Skin | None, eyes: Eyes | None) -> tuple[str, ...]:
    """Sentences on a colour (3,); none before skin or eyes are told."""
    _, chroma, hue = lch_of(lab).tolist()
    is_warm = WARM_DEG[0] <= hue <= WARM_DEG[1]
    told = [] if skin is None else [_of_skin(hue, skin, is_warm=is_warm)]
    if eyes is not None:
        told.append(str(OF_EYES[eyes][0 if is_warm else 1]))
    if told and chroma > LOUD_FROM:
        told.append(say("It is a strong colour: the nearer to the face, the louder."))
    return tuple(told)


def _of_skin(hue: float, skin: Skin, *, is_warm: bool) -> str:
    if skin is Skin.DEEP:
        return say("Deep skin carries strong colours well; pale pastels want a deep root beside them.")
    if skin is Skin.NEUTRAL:
        return say("Neutral skin takes warm and cool alike.")
    words = {"hue": begun(hue_word(hue)), "skin": str(skin.words)}
    if (skin is Skin.WARM) is is_warm:
        return say("{hue} goes along with {skin}.", **words)
    return say("{hue} stands against {skin}: that is its charm, or too much.", **words)
