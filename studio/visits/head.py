"""A head from four sides: our own drawing of its strands in their zones' colours, with its parts as shapes to tap."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from engine.arrays import BoolArray, FloatArray, IntArray, frozen
from engine.colorimetry.screen import decode, encode, hexes_of
from engine.hair.lock import tones_of_colour
from engine.language import say
from engine.service.parting import STRANDS, Place
from engine.service.strands import zone_shares
from engine.service.stretch import Stretch
from studio.ui.locks import evened
from studio.visits.engine_adapter import bare_lab, canvas_of
from studio.visits.head_lines import MIDDLE_X, VIEWS
from studio.visits.lies import consult_of, head_of, places_of, stretches_of
from studio.visits.models import Reading, Zone
from studio.visits.strand_field import strand_layers

UNKNOWN_LAB: Final = (96.0, 0.0, 0.0)  # of hair that nobody has read
# What each tone gives to the light of a head, measured in the browser as those of a lock: see `studio.ui.locks`.
HEAD_SHARES: Final = frozen([0.0, 0.105, 0.045, 0.745, 0.0, 0.105, 0.0])
SEAM_STEPS: Final = 4  # in how many steps one zone is drawn to give way to another


@dataclass(frozen=True, kw_only=True)
class Region:
    """One part in one view: its shape, the zone that it is, if any, and where a tap leads. chosen: it is in hand; of a
    zone that is all the head no part is.
    """

    path: str
    words: str
    href: str
    chosen: bool


@dataclass(frozen=True, kw_only=True)
class Strokes:
    """Strands of one colour, drawn in one go: a path in tenths of the picture's units, and its width in them."""

    d: str
    hex: str
    width: str


@dataclass(frozen=True, kw_only=True)
class HeadView:
    """The head from one side: its strands, what lies beneath first, and its parts to tap over them."""

    name: str
    face: tuple[str, ...]
    mirrored: bool
    strokes: tuple[Strokes, ...]
    regions: tuple[Region, ...]


@dataclass(frozen=True, kw_only=True, eq=False)
class HeadColours:
    """L*a*b* (3,) of each zone by row, and of the hair between strands that were taken out of it; what is in neither is
    unknown.
    """

    zones: Mapping[int, FloatArray]
    between: Mapping[int, FloatArray]


def read_colours(readings: Mapping[int, Reading]) -> HeadColours:
    """The colours of hair as it was read."""
    read = {pk: bare_lab(canvas_of(reading)) for pk, reading in readings.items()}
    return HeadColours(zones=read, between=read)


def head_views(
    zones: Sequence[Zone],
    in_hand: Zone,
    colours: HeadColours,
    *,
    blends: Mapping[int, float] | None = None,
    adds: bool = True,
    taps: bool = True,
) -> tuple[HeadView, ...]:
    """Four views of a head. A part that is a zone leads to it; any other leads to adding it, where that is offered.

    blends: the seam after each zone, by row, as a share of the length. taps: whether its parts lead anywhere.
    """
    by_part: dict[str, list[Zone]] = {}
    for zone in zones:
        by_part.setdefault(zone.part, []).append(zone)
    return tuple(
        HeadView(
            name=name,
            face=face,
            mirrored=mirrored,
            strokes=_strokes(name, zones, colours, blends or {}),
            regions=tuple(
                _region(part, path, by_part.get(part, []), _around(name, path, by_part), in_hand, adds=adds)
                for part, path in shapes
                if taps
            ),
        )
        for name, face, shapes, mirrored in VIEWS
    )


def share_of_strands(zone: Zone) -> float:
    """Which share of the strands a zone is: as it was told, else what is usual of its pattern."""
    return STRANDS[zone.pattern] if zone.strand_share is None else float(zone.strand_share)


def _around(view: str, path: str, by_part: Mapping[str, list[Zone]]) -> list[Zone]:
    """The zones that a part lies in where it is none of its own: the whole head, or the half that is seen there.

    Her left is on the right of the picture from the front; what spans the middle is drawn as the half where it begins.
    """
    is_left = view == "left side" or (view in ("front", "back") and (_begins_at(path) < MIDDLE_X) is (view == "back"))
    half = Zone.Part.LEFT if is_left else Zone.Part.RIGHT
    return by_part.get(Zone.Part.WHOLE) or by_part.get(half) or []


def _begins_at(path: str) -> float:
    """Where a shape begins, across the picture."""
    return float(path[1:].partition(" ")[0])


def _region(part: str, path: str, own: list[Zone], around: list[Zone], in_hand: Zone, *, adds: bool) -> Region:
    there = [*own, *around]
    shown = next((zone for zone in there if zone.pk == in_hand.pk), next(iter(there), None))
    label = Zone.Part(part).label
    zone = shown if shown in own else next(iter(own), None)
    return Region(
        path=path,
        words=zone.name if zone else (say("add {label}", label=label) if adds else label),
        href=f"?zone={zone.pk}" if zone else (f"?zone={in_hand.pk}&part={part}#add-zone" if adds else ""),
        chosen=shown is not None and shown.pk == in_hand.pk and shown.part != Zone.Part.WHOLE,
    )


@dataclass(frozen=True, kw_only=True, eq=False)
class _Drawn:
    """Strands that are alike, without their colour: see `Strokes`. tone: which. of: the row of their zones' shares."""

    d: str
    width: str
    tone: int
    of: int


def _strokes(
    view: str, zones: Sequence[Zone], colours: HeadColours, blends: Mapping[int, float]
) -> tuple[Strokes, ...]:
    """A side's strands, what lies beneath first, those of one colour together."""
    consult = consult_of(zones[0].visit)
    drawn, shares = _drawn_once(
        view,
        head_of(consult).length_cm,
        str(consult.curl),
        tuple(places_of(zones)),
        stretches_of(zones, consult),
        tuple(blends.get(zone.pk, 0.0) for zone in zones),
    )
    light = np.tensordot(shares, _tones_of(zones, colours), axes=(1, 0))
    seen = encode(np.clip(light, 0.0, 1.0))
    hexes = np.array(hexes_of(seen)).reshape(seen.shape[:-1]).tolist()
    return tuple(Strokes(d=each.d, hex=hexes[each.of][each.tone], width=each.width) for each in drawn)


@lru_cache(maxsize=128)
def _drawn_once(
    view: str,
    length_cm: float,
    curl: str,
    places: tuple[Place, ...],
    stretches: tuple[Stretch, ...],
    blends: tuple[float, ...],
) -> tuple[tuple[_Drawn, ...], FloatArray]:
    """A side's strands for zones that lie like this, and the zones' shares (rows, zones + 1) in each kind.

    Which colour a zone has changes neither: a page that is asked for again after every tap draws nothing anew.
    """
    found: list[_Drawn] = []
    known: dict[tuple[int, ...], int] = {}
    for layer in strand_layers(view, length_cm, curl):
        shares = zone_shares(places, stretches, blends, layer.strands)
        between = 0.5 * (shares[..., 1:] + shares[..., :-1])  # of each piece from one point to the next
        steps = np.rint(between * SEAM_STEPS).astype(int)
        steps = np.concatenate([steps, np.clip(SEAM_STEPS - steps.sum(axis=0, keepdims=True), 0, None)])
        tenths = np.rint(10 * layer.points).astype(int)
        for kind in np.unique(steps.reshape(len(steps), -1), axis=1).T.tolist():
            is_kind = (steps == np.array(kind)[:, None, None]).all(axis=0)
            of = known.setdefault(tuple(kind), len(known))
            found.append(_Drawn(d=_path(tenths, is_kind), width=f"{10 * layer.width:g}", tone=layer.tone, of=of))
    steps_of = np.array(list(known), dtype=float)
    return tuple(found), frozen(steps_of / steps_of.sum(axis=1, keepdims=True))


def _tones_of(zones: Sequence[Zone], colours: HeadColours) -> FloatArray:
    """Linear light (zones + 1, tones, 3) of each zone's strands, and of what no zone has."""
    unknown = np.array(UNKNOWN_LAB)
    rest = next((colours.between[zone.pk] for zone in zones if zone.pk in colours.between), unknown)
    labs = np.stack([*(colours.zones.get(zone.pk, unknown) for zone in zones), rest])
    return decode(evened(tones_of_colour(labs), HEAD_SHARES))


def _path(tenths: IntArray, drawn: BoolArray) -> str:
    """The pieces that are drawn, of strands (strands, places, 2), runs of them in one go."""
    found = []
    for points, pieces in zip(tenths.tolist(), drawn.tolist(), strict=True):
        is_on = False
        for at, piece in enumerate(pieces):
            if piece:
                (x, y), (to_x, to_y) = points[at], points[at + 1]
                found.append(("" if is_on else f"M{x} {y}l") + f"{' ' if is_on else ''}{to_x - x} {to_y - y}")
            is_on = piece
    return "".join(found)
