"""The steering wheel: where one gram more of each shade would take the colour, drawn round the forecast."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import cos, radians, sin
from types import MappingProxyType
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.steer import Pull
from engine.colorimetry.difference import delta_e00, ring
from engine.colorimetry.lab import lab_from_lch
from engine.colorimetry.screen import screen_colour
from engine.colorimetry.words import AS_A_CHANGE, ON_AIM, colour_words, difference_words
from engine.language import decimals, later, say
from studio.bench.plane import FAR_RING, NEAR_RING, ladder_y
from studio.shelf.models import Shade

WIDTH: Final = 540.0
HEIGHT: Final = 500.0
CENTRE: Final = (270.0, 246.0)
RADIUS: Final = 186.0  # of the wheel
BUTTON: Final = 26.0  # radius of a button
APART_DEG: Final = 16.4  # so that buttons on the wheel don't touch
SPOKE_FROM: Final = 26.0
SPOKE_TO: Final = RADIUS - BUTTON - 22
NEAR_SCALE: Final = 11.0  # drawing units for a unit of a* or b*, when the aim is close
FAR_SCALE: Final = 2.2  # and at the least
AIM_WITHIN: Final = 120.0  # units from the forecast within which the aim is drawn when the plane zooms
TRAIL_DOT: Final = 4.0
CHROMA_CIRCLES: Final = (10, 20, 30, 40, 50, 60, 70)
SMALL: Final = 17.0  # radius of a button whose pour leads away from the aim; a finger meets as much of it as of others
WITHIN_90: Final = 2.146  # standard deviations of two axes that hold nine cases of ten: sqrt(-2 ln 0.1)
EDGE_WORDS: Final = (
    (later("↑ yellower"), 560, 22, "end"),  # in two corners, where no shade's name comes
    (later("redder →"), 560, 42, "end"),
    (later("← greener"), -18, 430, "start"),
    (later("↓ bluer"), -18, 450, "start"),
)
LEANS: Final = {"start": 1, "end": -1, "middle": 0}  # which way from its disc a name stands
DEEPENS_FROM: Final = 0.4  # L* that a step must move
STEERS_FROM: Final = 0.6  # a pull that turns the colour less than this share of its whole deepens or lightens


@dataclass(frozen=True, kw_only=True)
class WheelButton:
    """One shade on the wheel: its place, the colour it would give, and words.

    off: delta E00 to the aim after it, if there is one; gain: by how much that is nearer. ring: the shade's own colour.
    way: what it does to the colour.
    """

    shade: Shade
    add_g: float
    off: float | None
    gain: float
    is_best: bool
    ring: str
    way: str
    radius: str
    hairline: str
    x: str
    y: str
    hex: str
    dark: bool
    label_x: str
    label_y: str
    anchor: str
    words: str

    @property
    def mark(self) -> str:
        """What stands on the button: the shade's key, else the start of its name."""
        return self.shade.keyboard_key or self.shade.name[:2]

    @property
    def is_nearer(self) -> bool:
        """Whether its pour leads nearer to the aim; without an aim every pour counts as much."""
        return self.off is None or self.gain > 0

    @property
    def left(self) -> str:
        """What is left to the aim after it, as a figure."""
        return "" if self.off is None else decimals(f"{self.off:.1f}")

    @property
    def gain_words(self) -> str:
        """Whether it leads nearer or farther, and by how much."""
        if self.off is None:
            return ""
        by = f"{abs(self.gain):.1f}"
        if by == "0.0":
            return say("as near")
        return say("nearer by {by}", by=decimals(by)) if self.gain > 0 else say("farther by {by}", by=decimals(by))


@dataclass(frozen=True, kw_only=True)
class DepthPull:
    """A shade that mostly deepens or lightens, as a mark beside the depth ladder."""

    key: str
    y: str


@dataclass(frozen=True, kw_only=True)
class Wheel:
    """Everything drawn in the middle of the Bench while steering; the forecast is always its centre."""

    buttons: tuple[WheelButton, ...]
    spokes: str
    hex: str
    aim: tuple[str, str] | None
    is_on_aim: bool
    rings: tuple[str, ...]
    trail: str
    trail_dots: str
    start: tuple[str, str]
    start_hex: str
    fade: str
    reach: str
    circles: str
    cloud: str
    depths: tuple[DepthPull, ...]

    @property
    def best_first(self) -> list[WheelButton]:
        """The same as a list: what leads nearest to the aim on top; without an aim as on the shelf."""
        return sorted(self.buttons, key=lambda button: (button.off is None, button.off or 0.0))


@dataclass(frozen=True, kw_only=True, eq=False)
class Marks:
    """What the wheel is drawn from, all L*a*b*: the forecast, the bare hair, and what there is of the rest."""

    now: FloatArray
    start: FloatArray
    aim: FloatArray | None
    trail: FloatArray
    fade: FloatArray | None
    spread: FloatArray | None
    reach: FloatArray


def wheel_of(
    by_key: Mapping[str, Pull],
    steps: Sequence[tuple[Shade, float]],
    marks: Marks,
    own: Mapping[int, str] = MappingProxyType({}),
) -> Wheel:
    """Lay the wheel out. by_key: the pulls by row id. steps: the shades, each with the grams that its pull is of.

    own: by row id, the colour in which a shade itself is known: its middle dilution.
    """
    scale = _scale(marks)
    shades = [shade for shade, _ in steps]
    pulls = [by_key[str(shade.pk)] for shade in shades]
    labs = np.array([pull.lab for pull in pulls]).reshape(-1, 3)
    deeper, redder, yellower = np.array([pull.d_lab for pull in pulls]).reshape(-1, 3).T
    turns, ways = np.hypot(redder, yellower), np.degrees(np.arctan2(yellower, redder)) % 360
    angles = _spread_angles(ways.tolist())
    hexes = screen_colour(np.vstack([labs, marks.now, marks.start])).hexes
    offs = [None] * len(shades) if marks.aim is None else delta_e00(marks.aim, labs).tolist()
    left = None if marks.aim is None else float(delta_e00(marks.aim, marks.now))
    best = min((off for off in offs if off is not None), default=None)
    ends = _spoke_ends(ways.tolist(), turns.tolist())
    buttons = tuple(
        _button(
            shade,
            add_g,
            angle,
            code,
            end,
            colour=colour,
            off=off,
            gain=0.0 if left is None or off is None else left - off,
            is_best=off is not None and off == best and left is not None and off < left,
            ring=own.get(shade.pk, code),
            way=difference_words(marks.now, lab, AS_A_CHANGE),
        )
        for (shade, add_g), angle, code, colour, off, end, lab in zip(
            steps, angles, hexes[:-2], colour_words(labs), offs, ends, labs, strict=True
        )
    )

    def places(labs: FloatArray) -> FloatArray:
        return np.array(CENTRE) + scale * np.array([1, -1]) * (labs - marks.now)[..., 1:]

    def at(lab: FloatArray) -> tuple[str, str]:
        x, y = places(lab)
        return f"{x:.1f}", f"{y:.1f}"

    def line(labs: FloatArray) -> str:
        return " ".join(f"{x:.1f},{y:.1f}" for x, y in places(labs).tolist())

    return Wheel(
        buttons=buttons,
        spokes="".join(f"M{start}L{end}" for start, end in ends),
        hex=hexes[-2],
        aim=None if marks.aim is None else at(marks.aim),
        is_on_aim=left is not None and left < ON_AIM,
        rings=()
        if marks.aim is None
        else tuple(line(_ring(tuple(marks.aim.tolist()), size)) for size in (NEAR_RING, FAR_RING)),
        trail=line(np.vstack([marks.start, marks.trail])) if len(marks.trail) else "",
        trail_dots=_circles(places(marks.trail[:-1]), TRAIL_DOT),
        start=at(marks.start),
        start_hex=hexes[-1],
        fade="" if marks.fade is None else line(marks.fade),
        reach=line(marks.reach) if len(marks.reach) > 2 else "",
        circles=_circles(np.tile(places(np.zeros(3)), (len(CHROMA_CIRCLES), 1)), *(scale * np.array(CHROMA_CIRCLES))),
        cloud="" if marks.spread is None else _ellipse(places(marks.spread)),
        depths=tuple(
            DepthPull(key=shades[row].keyboard_key or shades[row].name[:2], y=ladder_y(float(labs[row, 0])))
            for row in np.flatnonzero((turns < STEERS_FROM * np.abs(deeper)) & (np.abs(deeper) > DEEPENS_FROM))
        ),
    )


@lru_cache(maxsize=256)
def _ring(aim: tuple[float, ...], size: float) -> FloatArray:
    """The colours (36, 3) that differ from an aim by a size; depth does not matter where it is drawn."""
    return np.column_stack([np.zeros(36), ring(np.array(aim), size)])


def _circles(centres: FloatArray, *radii: float) -> str:
    """Circles round centres (circles, 2) as one SVG path: a hundred elements would take their time in the browser.

    radii: one for all, or one each.
    """
    wide = np.broadcast_to(np.array(radii), len(centres))
    return "".join(
        f"M{x - r:.1f} {y:.1f}a{r:.1f} {r:.1f} 0 1 0 {2 * r:.1f} 0a{r:.1f} {r:.1f} 0 1 0 {-2 * r:.1f} 0"
        for (x, y), r in zip(centres.tolist(), wide.tolist(), strict=True)
    )


def _scale(marks: Marks) -> float:
    """Drawing units for a unit of a* or b*: the aim, or else the bare hair, should lie well inside the wheel."""
    goal = marks.start if marks.aim is None else marks.aim
    far = float(np.hypot(*(goal - marks.now)[1:]))
    return float(np.clip(AIM_WITHIN / max(far, 1e-6), FAR_SCALE, NEAR_SCALE))


def _spread_angles(angles: list[float]) -> list[float]:
    """Angles moved apart as little as may be, in their order round the wheel, until no two buttons touch.

    Cut open at its widest gap, the wheel is a line: there the least moves, by the sum of squares, are an isotonic
    regression of the angles less their places in the row (pool adjacent violators).
    """
    count = len(angles)
    if count < 2:
        return angles
    apart = min(APART_DEG, 360 / count)
    order = np.argsort(angles, kind="stable")
    ring = np.array(angles)[order]
    first = (int(np.argmax(np.diff(np.append(ring, ring[0] + 360)))) + 1) % count
    order = np.roll(order, -first)
    row = np.array(angles)[order]
    row = row + 360 * (row < row[0])
    pools: list[tuple[float, int]] = []
    for place, angle in enumerate(row):
        mean, size = float(angle) - place * apart, 1
        while pools and pools[-1][0] > mean:
            before, weight = pools.pop()
            mean, size = (before * weight + mean * size) / (weight + size), weight + size
        pools.append((mean, size))
    placed = np.repeat([mean for mean, _ in pools], [size for _, size in pools]) + apart * np.arange(count)
    if placed[-1] - placed[0] > 360 - apart:  # the ends of the row would meet: the wheel is full
        placed = placed[0] + np.arange(count) * 360 / count
    found = np.empty(count)
    found[order] = placed % 360
    return [float(angle) for angle in found]


def _button(
    shade: Shade,
    add_g: float,
    angle_deg: float,
    code: str,
    spoke: tuple[str, str],
    *,
    colour: str,
    off: float | None,
    gain: float,
    is_best: bool,
    ring: str,
    way: str,
) -> WheelButton:
    right, down = cos(radians(angle_deg)), -sin(radians(angle_deg))
    x, y = CENTRE[0] + RADIUS * right, CENTRE[1] + RADIUS * down
    radius = BUTTON if off is None or gain > 0 else SMALL
    gap = radius + (12 if is_best else 7)
    anchor = "start" if right > 0.25 else "end" if right < -0.25 else "middle"
    top = -4 if off is None or gain <= 0 else -22  # what is left stands under the name
    red, green, blue = (int(code[at : at + 2], 16) for at in (1, 3, 5))
    button = WheelButton(
        shade=shade,
        add_g=add_g,
        off=off,
        gain=gain,
        is_best=is_best,
        ring=ring,
        way=way,
        radius=f"{radius - 1:g}",
        hairline=f"M{spoke[1]}L{x - radius * right:.1f} {y - radius * down:.1f}",
        x=f"{x:.1f}",
        y=f"{y:.1f}",
        hex=code,
        dark=red * 2 + green * 5 + blue < 900,
        # As high as the disc it stands clear of it; above and below, out along the spoke, where neighbours leave room.
        label_x=f"{x + gap * (LEANS[anchor] if abs(down) < 0.6 else right):.1f}",
        label_y=f"{y + gap * down + (12 if down > 0.7 else top if down < -0.7 else 4):.1f}",
        anchor=anchor,
        words="",
    )
    return replace(button, words=_words(button, colour))


def _spoke_ends(ways_deg: Sequence[float], turns: Sequence[float]) -> list[tuple[str, str]]:
    """From where to where each shade's spoke is drawn: the way that it pulls, the longer the further it turns."""
    most = max(turns, default=1.0) or 1.0
    ends = []
    for way_deg, turn in zip(ways_deg, turns, strict=True):
        right, down = cos(radians(way_deg)), -sin(radians(way_deg))
        reach = (SPOKE_FROM, SPOKE_FROM + (SPOKE_TO - SPOKE_FROM) * turn / most)
        start, end = (f"{CENTRE[0] + out * right:.1f} {CENTRE[1] + out * down:.1f}" for out in reach)
        ends.append((start, end))
    return ends


def _ellipse(points: FloatArray) -> str:
    """The area that holds nine in ten of points (points, 2) as one SVG path, taking them as drawn from a bell."""
    middle = points.mean(axis=0)
    sizes, ways = np.linalg.eigh(np.cov(points.T))
    turn = np.linspace(0, 2 * np.pi, 48, endpoint=False)
    half = WITHIN_90 * np.sqrt(np.maximum(sizes, 0.0))
    edge = middle + (half * np.column_stack([np.cos(turn), np.sin(turn)])) @ ways.T
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in edge.tolist()) + "Z"


def _words(button: WheelButton, colour: str) -> str:
    weight = say(
        "{weight:weight} of {name}: {colour}, {way}",
        weight=button.add_g,
        name=button.shade.name,
        colour=colour,
        way=button.way,
    )
    return (
        weight
        if button.off is None
        else say("{weight}, {left} off, {gain_words}", weight=weight, left=button.left, gain_words=button.gain_words)
    )


def rim_labs(depth: float, hues_deg: FloatArray, chroma: FloatArray) -> FloatArray:
    """The reachable edge at a depth as L*a*b* (edge, 3); hues out of reach are left out."""
    there = chroma > 0
    lch = np.column_stack([np.full(int(there.sum()), depth), chroma[there], hues_deg[there]])
    return lab_from_lch(lch)
