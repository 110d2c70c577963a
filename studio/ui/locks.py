"""Drawn locks of hair: how the engine's tones run along the strands."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.grid import BANDS
from engine.colorimetry.lab import lab_from_lch, lch_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.screen import decode, encode, hexes_of, screen_colour
from engine.colorimetry.words import colour_word
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.lock import BODY, lock_tones, tones_of_colour
from engine.hair.tress import Seam, Stretch, seam_weights, tress_tones
from engine.language import kept_by_language, say

# Where along a lock light falls: share of the length, and how many tones lighter or darker than the strand's own.
LIGHT_ALONG: Final = ((0.0, -2), (0.08, -1), (0.2, 0), (0.26, 2), (0.36, 2), (0.43, 0), (0.75, 0), (0.9, -1), (1.0, -1))
# By how much of the length light lies lower on the strands of each tone, so that they break the edge of the shine.
LIGHT_LOWER: Final = (0.0, 0.05, -0.03, 0.02, -0.05, 0.04, 0.0)
# What each tone gives to the light of a whole drawing, flanks included: a lock, and a slip. Measured in the browser
# with one tone white and the others black, as its test does.
LOCK_SHARES: Final = frozen([0.005, 0.044, 0.203, 0.207, 0.165, 0.135, 0.155])
SLIP_SHARES: Final = frozen([0.0, 0.159, 0.166, 0.461, 0.102, 0.047, 0.0])
EVENED_MOST: Final = 1.5  # by how much a tone is lit up or down for the whole to have the lock's colour

Aimed = tuple[float, ...]


@dataclass(frozen=True, kw_only=True)
class Stop:
    """A gradient stop: offset in percent and a colour."""

    offset: str
    hex: str


@dataclass(frozen=True, kw_only=True)
class Lock:
    """A lock ready to draw: one gradient for each tone of strand, and words for those who can't see it.

    Gradients, and hexes for a slip, are lit so that the drawing as a whole has the lock's colour, which is hex.
    share: of the strands, if others lie among them. beside: how those look.
    """

    gradients: tuple[tuple[Stop, ...], ...]
    hexes: tuple[str, ...]
    hex: str
    words: str
    lightness: float
    chroma: float
    hue_deg: float
    share: float = 1.0
    beside: "Lock | None" = None

    @property
    def depth(self) -> str:
        """The lightness as shown."""
        return f"{self.lightness:.0f}"

    @property
    def lab(self) -> FloatArray:
        """The colour in L*a*b* (3,)."""
        return lab_from_lch(np.array([self.lightness, self.chroma, self.hue_deg]))

    @property
    def said(self) -> str:
        """The colour in words and numbers."""
        own = say(
            "{words}, depth {lightness:.0f}, strength {chroma:.0f}, hue {hue_deg:.0f}°",
            words=self.words,
            lightness=self.lightness,
            chroma=self.chroma,
            hue_deg=self.hue_deg,
        )
        return (
            own
            if self.beside is None
            else say(
                "{own}, {share:.0%} of the strands among {words}", own=own, share=self.share, words=self.beside.words
            )
        )


def woven(lock: Lock, beside: Lock, share: float) -> Lock:
    """A lock of which a share of the strands is one colour, and the rest another; its numbers are of the first."""
    return replace(lock, share=share, beside=beside)


def lock_of(tones: FloatArray, lab: FloatArray) -> Lock:
    """A lock that is alike all along. tones (tones, 3): encoded sRGB, shadow to shine; lab (3,): its colour."""
    places = np.array([share for share, _ in LIGHT_ALONG])
    return _lock_along(places, np.broadcast_to(tones, (len(places), *tones.shape)), tones, lab)


def evened(tones: FloatArray, shares: FloatArray) -> FloatArray:
    """Tones (..., tones, 3), encoded sRGB, lit so that a drawing of such shares (tones,) has the body's colour.

    Hair is judged from afar, as a whole: most strands in shade would make it too deep, and a wide shine too light.
    """
    light = decode(tones)
    whole = np.maximum(np.tensordot(light, shares, axes=(-2, 0)), 1e-6)
    up = np.clip(light[..., BODY, :] / whole, 1 / EVENED_MOST, EVENED_MOST)
    lit: FloatArray = encode(np.clip(light * up[..., None, :], 0.0, 1.0))
    return lit


def tress_lock(stretches: Sequence[Stretch], light: Light = Light.DAYLIGHT, *, words_of: int = 0) -> Lock:
    """A lock from root to end over several zones, as seen in a light; its words are those of one of them."""
    places = _places(stretches)
    tones = tress_tones(stretches, places, light)
    seen = screen_colour(tones, viewing(light).white_xyz).srgb
    if len(stretches) == 1:  # the same all along
        return _lock_along(places, seen, seen[0], tones[0, BODY])
    one = stretches[words_of]
    lab = tress_tones([one], np.zeros(1), light)[0]
    return _lock_along(places, seen, screen_colour(lab, viewing(light).white_xyz).srgb, lab[BODY])


@kept_by_language(maxsize=256)
def aim_tress_lock(aims: tuple[tuple[Aimed | None, float, float], ...], *, words_of: int = 0) -> Lock:
    """A lock from root to end in the colours aimed at, with each zone's length and seam; a zone without aim is grey."""
    labs = np.array([aim if aim else (75.0, 0.0, 0.0) for aim, _, _ in aims])
    tones = tones_of_colour(labs)
    shapes = [Seam(length=length, blend=blend) for _, length, blend in aims]
    places = _places(shapes)
    mixed = np.tensordot(seam_weights(shapes, places), tones, axes=1)
    return _lock_along(places, mixed, tones[words_of], labs[words_of])


def _places(stretches: Sequence[Seam]) -> FloatArray:
    """Where along a tress its colour is wanted: where light falls, and at both edges and the middle of each seam."""
    lengths = np.array([stretch.length for stretch in stretches])
    seams = np.cumsum(lengths)[:-1] / lengths.sum()
    half = np.array([stretch.blend / 2 for stretch in stretches[:-1]])
    places = np.concatenate([[share for share, _ in LIGHT_ALONG], seams - half, seams, seams + half])
    return np.unique(np.clip(places, 0, 1).round(4))


def _lock_along(places: FloatArray, tones: FloatArray, own: FloatArray, lab: FloatArray) -> Lock:
    """A lock whose tones (places, tones, 3) change along its length; own, lab: of the zone that its words speak of."""
    last = tones.shape[1] - 1
    shares, steps = np.array(LIGHT_ALONG).T
    lower = np.array(LIGHT_LOWER[: last + 1])[:, None]
    change = np.rint(np.interp(places - lower, shares, steps)).astype(int)
    offsets = [f"{place:.0%}" for place in places.tolist()]
    steps_lit = np.clip(np.arange(last + 1)[:, None] + change, 0, last)
    hexes = np.array(hexes_of(evened(tones, LOCK_SHARES))).reshape(tones.shape[:2])
    codes = hexes[np.arange(len(places)), steps_lit].tolist()
    gradients = tuple(
        tuple(Stop(offset=offset, hex=code) for offset, code in zip(offsets, along, strict=True)) for along in codes
    )
    lightness, chroma, hue_deg = (float(part) for part in lch_of(lab))
    return Lock(
        gradients=gradients,
        hexes=tuple(hexes_of(evened(own, SLIP_SHARES))),
        hex=hexes_of(own[BODY])[0],
        words=colour_word(lab),
        lightness=lightness,
        chroma=chroma,
        hue_deg=hue_deg,
    )


def lock_from_tones(tones_lab: FloatArray) -> Lock:
    """A lock from the engine's tones (tones, 3) in L*a*b* under daylight."""
    return lock_of(screen_colour(tones_lab).srgb, tones_lab[BODY])


@kept_by_language(maxsize=512)
def bare_lock(canvas: Canvas) -> Lock:
    """Bare hair as a lock."""
    fibres = fibres_of(canvas)
    return lock_from_tones(lock_tones(fibres, np.zeros(BANDS)))


@kept_by_language(maxsize=512)
def lock_of_colour(lab: tuple[float, ...]) -> Lock:
    """A lock of which only the colour L*a*b* is known."""
    colour = np.array(lab)
    return lock_of(tones_of_colour(colour), colour)
