"""Colours and differences of colour in the words of the trade."""

from dataclasses import dataclass
from functools import cache
from typing import Final, NamedTuple

import numpy as np

from engine.arrays import BoolArray, FloatArray, frozen
from engine.colorimetry.difference import delta_e00, difference
from engine.colorimetry.lab import lch_of
from engine.language import later, say
from engine.tables.load import load_table

# Hue landmarks in CIELAB degrees: chosen by the founders from the hues of the demo shelf.
HUE_LANDMARKS: Final = (
    (5.0, later("pink")),
    (32.0, later("red")),
    (62.0, later("orange")),
    (92.0, later("yellow")),
    (145.0, later("green")),
    (200.0, later("turquoise")),
    (262.0, later("blue")),
    (310.0, later("violet")),
    (345.0, later("magenta")),
)
# Upper limits of lightness and chroma for a word: chosen by the founders.
DEPTHS: Final = (
    (20.0, later("very deep")),
    (38.0, later("deep")),
    (58.0, later("mid")),
    (74.0, later("light")),
    (101.0, later("pale")),
)
STRENGTHS: Final = ((14.0, later("muted")), (38.0, ""), (200.0, later("vivid")))
GREY_CHROMA: Final = 4.0  # below this, an eye names no hue
NOTHING: Final = 0.7  # weighted parts below this are not worth a word
ON_AIM: Final = 1.0  # a difference that side by side is just visible
A_LITTLE: Final = 2.0
FAR: Final = 6.0
ANOTHER_HUE_DEG: Final = 60.0  # past this a colour is no shade of the other: its own hue is named


class Region(NamedTuple):
    """What a name covers, from each low limit up to its high one: lightness, chroma, and degrees of hue, which may pass
    over 360."""

    name: str
    lightness: tuple[float, float]
    chroma: tuple[float, float]
    hue_deg: tuple[float, float]


@dataclass(frozen=True, kw_only=True)
class Saying:
    """The words in which a sample is held against a reference."""

    alike: str
    lighter: str
    deeper: str
    brighter: str
    softer: str
    towards: str


AGAINST_AIM: Final = Saying(
    alike=later("on the aim"),
    lighter=later("too light"),
    deeper=later("too deep"),
    brighter=later("too bright"),
    softer=later("too muted"),
    towards=later("too"),
)

# What a change does to a colour, by itself and not against an aim.
AS_A_CHANGE: Final = Saying(
    alike=later("hardly any change"),
    lighter=later("lighter"),
    deeper=later("deeper"),
    brighter=later("brighter"),
    softer=later("more muted"),
    towards=later("towards"),
)


@cache
def named_regions() -> tuple[Region, ...]:
    """The names that colourists use; where two overlap, the first counts. Source: tables/colour_names."""
    table = load_table("colour_names")
    limits = [
        list(zip(table.numbers(f"{part}_from").tolist(), table.numbers(f"{part}_to").tolist(), strict=True))
        for part in ("lightness", "chroma", "hue")
    ]
    return tuple(Region(later(name), *row) for name, *row in zip(table.texts("name"), *limits, strict=True))


def hue_word(hue_deg: float) -> str:
    """The name of a hue angle."""
    return str(min(HUE_LANDMARKS, key=lambda mark: abs((hue_deg - mark[0] + 180) % 360 - 180))[1])


def colour_word(lab: FloatArray) -> str:
    """A colour (3,) by its name, else in two or three words: its depth, its strength and its hue."""
    return colour_words(lab[None])[0]


def colour_words(labs: FloatArray) -> list[str]:
    """`colour_word` of each of several colours (n, 3)."""
    lchs = lch_of(labs)
    held = _in_regions(lchs)
    regions = named_regions()
    return [
        str(regions[int(first)].name) if found else _plain_words(*lch)
        for first, found, lch in zip(held.argmax(axis=1), held.max(axis=1), lchs.tolist(), strict=True)
    ]


def _in_regions(lchs: FloatArray) -> BoolArray:
    """Which regions hold which of several colours' lightness, chroma and hue (n, 3), (n, regions)."""
    limits = _limits()
    parts = lchs[:, None, :]
    over, under = parts >= limits[:, 0], parts < limits[:, 1]
    turned = np.where(limits[:, 0, 2] <= limits[:, 1, 2], over[..., 2] & under[..., 2], over[..., 2] | under[..., 2])
    held: BoolArray = turned & over[..., :2].all(axis=-1) & under[..., :2].all(axis=-1)
    return held


@cache
def _limits() -> FloatArray:
    """From and to of each region's lightness, chroma and hue, (regions, 2, 3)."""
    return frozen([[*zip(each.lightness, each.chroma, each.hue_deg, strict=True)] for each in named_regions()])


def _plain_words(lightness: float, chroma: float, hue_deg: float) -> str:
    depth = next(word for limit, word in DEPTHS if lightness <= limit)
    strength = next(word for limit, word in STRENGTHS if chroma <= limit)
    return " ".join(str(word) for word in (depth, strength, hue_word(hue_deg)) if word)


def turn_word(reference_hue_deg: float, turn_deg: float) -> str:
    """The hue that a turn from the reference leads towards: the next landmark that way, at least 12 degrees on."""
    step = 1 if turn_deg > 0 else -1
    ahead = [(((mark - reference_hue_deg) * step) % 360, word) for mark, word in HUE_LANDMARKS]
    return str(min(pair for pair in ahead if pair[0] >= 12)[1])


def are_alike(reference_lab: FloatArray, sample_lab: FloatArray) -> bool:
    """Whether two colours (3,) can hardly be told apart side by side."""
    return bool(delta_e00(reference_lab, sample_lab) < ON_AIM)


def difference_words(reference_lab: FloatArray, sample_lab: FloatArray, saying: Saying = AGAINST_AIM) -> str:
    """What a colourist would say of the sample against a reference, both (3,): by default what was aimed at.

    Parts are named from the largest down; alike when the whole is hardly visible.
    """
    found = difference(reference_lab, sample_lab)
    if found.delta_e00 < ON_AIM:
        return str(saying.alike)
    reference, sample = lch_of(reference_lab), lch_of(sample_lab)
    depth, strength = float(found.lightness_part), float(found.chroma_part)
    phrases = [(abs(depth), _sized(abs(depth), saying.lighter if depth > 0 else saying.deeper))]
    if reference[1] < GREY_CHROMA <= sample[1]:
        phrases.append((abs(strength), say("tinged with {hue_word}", hue_word=hue_word(float(sample[2])))))
    else:
        phrases.append((abs(strength), _sized(abs(strength), saying.brighter if strength > 0 else saying.softer)))
    if min(reference[1], sample[1]) >= GREY_CHROMA:
        phrases.append((abs(float(found.hue_part)), _turned(float(reference[2]), float(sample[2]), saying)))
    told = [phrase for size, phrase in sorted(phrases, key=lambda pair: -pair[0]) if size >= NOTHING]
    return ", ".join(told) if told else say("a touch off")


def _turned(reference_hue_deg: float, sample_hue_deg: float, saying: Saying) -> str:
    turn_deg = (sample_hue_deg - reference_hue_deg + 180) % 360 - 180
    if abs(turn_deg) > ANOTHER_HUE_DEG:
        return say(
            "{hue_word}, not {hue_word2}", hue_word=hue_word(sample_hue_deg), hue_word2=hue_word(reference_hue_deg)
        )
    return f"{abs(turn_deg):.0f}° {saying.towards} {turn_word(reference_hue_deg, turn_deg)}"


def _sized(size: float, words: str) -> str:
    if size < A_LITTLE:
        return say("a little {words}", words=words)
    return say("far {words}", words=words) if size > FAR else str(words)
