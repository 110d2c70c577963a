"""The steering wheel: where one gram more of each shade would take the colour, drawn round the forecast."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import cos, radians, sin
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.steer import Pull
from engine.colorimetry.difference import delta_e00, ring
from engine.colorimetry.lab import lab_from_lch
from engine.colorimetry.screen import screen_colour
from engine.colorimetry.words import colour_words
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
CLOUD_DOT: Final = 3.0
TRAIL_DOT: Final = 4.0
CHROMA_CIRCLES: Final = (10, 20, 30, 40, 50, 60, 70)
DEEPENS_FROM: Final = 0.4  # L* that a step must move
STEERS_FROM: Final = 0.6  # a pull that turns the colour less than this share of its whole deepens or lightens


@dataclass(frozen=True, kw_only=True)
class WheelButton:
    """One shade on the wheel: its place, the colour it would give, and words."""

    shade: Shade
    add_g: float
    x: str
    y: str
    left: str
    top: str
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


def wheel_of(by_key: Mapping[str, Pull], steps: Sequence[tuple[Shade, float]], marks: Marks) -> Wheel:
    """Lay the wheel out. by_key: the pulls by row id. steps: the shades, each with the grams that its pull is of."""
    scale = _scale(marks)
    shades = [shade for shade, _ in steps]
    pulls = [by_key[str(shade.pk)] for shade in shades]
    labs = np.array([pull.lab for pull in pulls]).reshape(-1, 3)
    deeper, redder, yellower = np.array([pull.d_lab for pull in pulls]).reshape(-1, 3).T
    turns, ways = np.hypot(redder, yellower), np.degrees(np.arctan2(yellower, redder)) % 360
    angles = _spread_angles(ways.tolist())
    hexes = screen_colour(np.vstack([labs, marks.now, marks.start])).hexes
    offs = [None] * len(shades) if marks.aim is None else delta_e00(marks.aim, labs).tolist()
    buttons = tuple(
        _button(shade, add_g, angle, code, _words(shade, add_g, colour, off))
        for (shade, add_g), angle, code, colour, off in zip(
            steps, angles, hexes[:-2], colour_words(labs), offs, strict=True
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
        spokes=_spokes(ways.tolist(), turns.tolist()),
        hex=hexes[-2],
        aim=None if marks.aim is None else at(marks.aim),
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
        cloud="" if marks.spread is None else _circles(places(marks.spread), CLOUD_DOT),
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


def _button(shade: Shade, add_g: float, angle_deg: float, code: str, words: str) -> WheelButton:
    right, down = cos(radians(angle_deg)), -sin(radians(angle_deg))
    x, y = CENTRE[0] + RADIUS * right, CENTRE[1] + RADIUS * down
    beside = RADIUS + BUTTON + 7
    red, green, blue = (int(code[at : at + 2], 16) for at in (1, 3, 5))
    return WheelButton(
        shade=shade,
        add_g=add_g,
        x=f"{x:.1f}",
        y=f"{y:.1f}",
        left=f"{x - BUTTON:.1f}",
        top=f"{y - BUTTON:.1f}",
        hex=code,
        dark=red * 2 + green * 5 + blue < 900,
        label_x=f"{CENTRE[0] + beside * right:.1f}",
        label_y=f"{CENTRE[1] + beside * down + (12 if down > 0.7 else -4 if down < -0.7 else 4):.1f}",
        anchor="start" if right > 0.25 else "end" if right < -0.25 else "middle",
        words=words,
    )


def _spokes(ways_deg: Sequence[float], turns: Sequence[float]) -> str:
    """A spoke for each shade as one SVG path, the way that it pulls, the longer the further it turns the colour."""
    most = max(turns, default=1.0) or 1.0
    path = ""
    for way_deg, turn in zip(ways_deg, turns, strict=True):
        right, down = cos(radians(way_deg)), -sin(radians(way_deg))
        ends = (SPOKE_FROM, SPOKE_FROM + (SPOKE_TO - SPOKE_FROM) * turn / most)
        start, end = (f"{CENTRE[0] + out * right:.1f} {CENTRE[1] + out * down:.1f}" for out in ends)
        path += f"M{start}L{end}"
    return path


def _words(shade: Shade, add_g: float, colour: str, off: float | None) -> str:
    then = "" if off is None else f", {off:.1f} off"
    return f"{add_g:g} gram{'' if add_g == 1 else 's'} of {shade.name}: {colour}{then}"


def rim_labs(depth: float, hues_deg: FloatArray, chroma: FloatArray) -> FloatArray:
    """The reachable edge at a depth as L*a*b* (edge, 3); hues out of reach are left out."""
    there = chroma > 0
    lch = np.column_stack([np.full(int(there.sum()), depth), chroma[there], hues_deg[there]])
    return lab_from_lch(lch)
