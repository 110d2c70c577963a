"""A difference of colour in the words of the trade."""

from typing import Final

from engine.arrays import FloatArray
from engine.colorimetry.difference import difference
from engine.colorimetry.lab import lch_of

# Hue landmarks in CIELAB degrees: chosen by the founders from the hues of the demo shelf.
HUE_LANDMARKS: Final = (
    (5.0, "pink"),
    (32.0, "red"),
    (62.0, "orange"),
    (92.0, "yellow"),
    (145.0, "green"),
    (200.0, "turquoise"),
    (262.0, "blue"),
    (310.0, "violet"),
    (345.0, "magenta"),
)
# Upper limits of lightness and chroma for a word: chosen by the founders.
DEPTHS: Final = ((20.0, "very deep"), (38.0, "deep"), (58.0, "mid"), (74.0, "light"), (101.0, "pale"))
STRENGTHS: Final = ((14.0, "muted"), (38.0, ""), (200.0, "vivid"))
GREY_CHROMA: Final = 4.0  # below this, an eye names no hue
WHITE_LIGHTNESS: Final = 82.0  # from here up, and below the chroma that follows, hair is called white
WHITE_CHROMA: Final = 8.0
NOTHING: Final = 0.7  # weighted parts below this are not worth a word
ON_AIM: Final = 1.0  # a difference that side by side is just visible
A_LITTLE: Final = 2.0
FAR: Final = 6.0


def hue_word(hue_deg: float) -> str:
    """The name of a hue angle."""
    return min(HUE_LANDMARKS, key=lambda mark: abs((hue_deg - mark[0] + 180) % 360 - 180))[1]


def colour_word(lab: FloatArray) -> str:
    """A colour in two or three words: its depth, its strength and its hue."""
    lightness, chroma, hue_deg = (float(v) for v in lch_of(lab))
    depth = next(word for limit, word in DEPTHS if lightness <= limit)
    if lightness >= WHITE_LIGHTNESS and chroma < WHITE_CHROMA:
        return "near white"
    if chroma < GREY_CHROMA:
        return f"{depth} grey"
    strength = next(word for limit, word in STRENGTHS if chroma <= limit)
    return " ".join(word for word in (depth, strength, hue_word(hue_deg)) if word)


def turn_word(reference_hue_deg: float, turn_deg: float) -> str:
    """The hue that a turn from the reference leads towards: the next landmark that way, at least 12 degrees on."""
    step = 1 if turn_deg > 0 else -1
    ahead = [(((mark - reference_hue_deg) * step) % 360, word) for mark, word in HUE_LANDMARKS]
    return min(pair for pair in ahead if pair[0] >= 12)[1]


def difference_words(reference_lab: FloatArray, sample_lab: FloatArray) -> str:
    """What a colourist would say of the sample against what was aimed at: both (3,).

    Parts are named from the largest down; 'on the aim' when the whole is hardly visible.
    """
    found = difference(reference_lab, sample_lab)
    if float(found.delta_e00) < ON_AIM:
        return "on the aim"
    reference, sample = lch_of(reference_lab), lch_of(sample_lab)
    depth, strength = float(found.lightness_part), float(found.chroma_part)
    phrases = [(abs(depth), _sized(abs(depth), "too light" if depth > 0 else "too deep"))]
    if reference[1] < GREY_CHROMA <= sample[1]:
        phrases.append((abs(strength), f"tinged with {hue_word(float(sample[2]))}"))
    else:
        phrases.append((abs(strength), _sized(abs(strength), "too bright" if strength > 0 else "too muted")))
    if min(reference[1], sample[1]) >= GREY_CHROMA:
        turn_deg = float((sample[2] - reference[2] + 180) % 360 - 180)
        towards = turn_word(float(reference[2]), turn_deg)
        phrases.append((abs(float(found.hue_part)), f"{abs(turn_deg):.0f}° too {towards}"))
    told = [phrase for size, phrase in sorted(phrases, key=lambda pair: -pair[0]) if size >= NOTHING]
    return ", ".join(told) if told else "a touch off"


def _sized(size: float, words: str) -> str:
    if size < A_LITTLE:
        return f"a little {words}"
    return f"far {words}" if size > FAR else words
