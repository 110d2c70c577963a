"""The outline of a head from four sides, with its parts as shapes to tap: our own drawing."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from engine.language import later, say
from engine.service.parting import STRANDS
from studio.ui.locks import bare_lock
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Reading, Zone

MIDDLE_X: Final = 50.0
Shapes = tuple[tuple[str, str], ...]
SIDE: Final[Shapes] = (
    (Zone.Part.CROWN, "M31 33C35 15 51 6 66 10C81 14 89 29 89 44H42C39 39 35 35 31 33Z"),
    (Zone.Part.ROOTS, "M42 17C53 6 72 6 80 19L74 24C66 15 55 16 48 24Z"),
    (Zone.Part.FRAME, "M31 33C35 35 39 39 42 44L40 80L30 84C26 66 27 48 31 33Z"),
    (Zone.Part.MIDS, "M42 44H89C91 58 90 70 88 80H40Z"),
    (Zone.Part.NAPE, "M74 62C80 62 86 62 90 61C91 68 90 75 88 80H76Z"),
    (Zone.Part.ENDS, "M40 80H88L85 112C70 116 52 116 40 112Z"),
)
FRONT: Final[Shapes] = (
    (Zone.Part.CROWN, "M26 45C23 20 37 8 50 8C63 8 77 20 74 45C71 34 64 26 50 25C36 26 29 34 26 45Z"),
    (Zone.Part.FRAME, "M26 45C29 34 36 27 45 25C37 38 34 56 35 78L22 84C20 68 22 55 26 45Z"),
    (Zone.Part.FRAME, "M74 45C71 34 64 27 55 25C63 38 66 56 65 78L78 84C80 68 78 55 74 45Z"),
    (Zone.Part.ENDS, "M22 84L35 78L36 112C31 115 25 115 20 112Z"),
    (Zone.Part.ENDS, "M78 84L65 78L64 112C69 115 75 115 80 112Z"),
)
BACK: Final[Shapes] = (
    (Zone.Part.CROWN, "M24 46C21 20 36 8 50 8C64 8 79 20 76 46Z"),
    (Zone.Part.ROOTS, "M45 9H55V32H45Z"),
    (Zone.Part.MIDS, "M24 46H76L78 80H22Z"),
    (Zone.Part.NAPE, "M36 62H64L61 80H39Z"),
    (Zone.Part.PANEL, "M65 46H73L75 80H67Z"),
    (Zone.Part.ENDS, "M22 80H78L76 112C60 117 40 117 24 112Z"),
)
# Name, face or neck line, shapes, and whether the drawing is mirrored.
VIEWS: Final = (
    (later("front"), "M35 40C33 56 35 76 50 90C65 76 67 56 65 40M42 58H46M54 58H58M46 76H54", FRONT, False),
    (later("left side"), "M31 33C25 40 25 50 22 57L17 65L23 67C23 76 26 84 36 86", SIDE, False),
    (later("right side"), "M31 33C25 40 25 50 22 57L17 65L23 67C23 76 26 84 36 86", SIDE, True),
    (later("back"), "M42 112V118M58 112V118", BACK, False),
)


# How far apart strands that were taken out lie in the drawing, by pattern; what has none is drawn like a weave.
PERIOD: Final = {
    Zone.Pattern.FINE_WEAVE: 3.0,
    Zone.Pattern.CHUNKY: 8.0,
    Zone.Pattern.SLICES: 12.0,
    Zone.Pattern.ALTERNATE_A: 10.0,
    Zone.Pattern.ALTERNATE_B: 10.0,
}
USUAL_PERIOD: Final = 5.0


@dataclass(frozen=True, kw_only=True)
class Stripe:
    """Strands in a part: where they begin, how wide they are drawn, and their colour."""

    x: str
    width: str
    hex: str


@dataclass(frozen=True, kw_only=True)
class Region:
    """One part in one view: its shape, the zone that it is, if any, its colour, and where a tap leads.

    hex: of the hair between the stripes. stripes: of strands that are treated apart, repeated after so much period.
    """

    path: str
    words: str
    href: str
    hex: str
    chosen: bool
    stripes: tuple[Stripe, ...] = ()
    period: str = ""


@dataclass(frozen=True, kw_only=True)
class HeadView:
    """The head from one side."""

    name: str
    face: str
    mirrored: bool
    regions: tuple[Region, ...]


@dataclass(frozen=True, kw_only=True)
class HeadColours:
    """The colour of each zone by row, and of the hair between strands that were taken out of it; white is unknown."""

    zones: Mapping[int, str]
    between: Mapping[int, str]


def read_colours(readings: Mapping[int, Reading]) -> HeadColours:
    """The colours of hair as it was read."""
    read = {pk: bare_lock(canvas_of(reading)).hex for pk, reading in readings.items()}
    return HeadColours(zones=read, between=read)


def head_views(
    zones: Sequence[Zone], in_hand: Zone, colours: HeadColours, *, adds: bool = True
) -> tuple[HeadView, ...]:
    """Four views of a head. A part that is a zone leads to it; any other leads to adding it, where that is offered."""
    by_part: dict[str, list[Zone]] = {}
    for zone in zones:
        by_part.setdefault(zone.part, []).append(zone)
    return tuple(
        HeadView(
            name=name,
            face=face,
            mirrored=mirrored,
            regions=tuple(
                _region(part, path, by_part.get(part, []), _around(name, path, by_part), in_hand, colours, adds=adds)
                for part, path in shapes
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


def _region(
    part: str, path: str, own: list[Zone], around: list[Zone], in_hand: Zone, colours: HeadColours, *, adds: bool
) -> Region:
    there = [*own, *around]
    shown = next((zone for zone in there if zone.pk == in_hand.pk), next(iter(there), None))
    solid = next((zone for zone in there if share_of_strands(zone) >= 1), None)
    woven = [zone for zone in there if share_of_strands(zone) < 1 and zone.pk in colours.zones]
    label = Zone.Part(part).label
    zone = shown if shown in own else next(iter(own), None)
    between = colours.zones.get(solid.pk) if solid else next((colours.between[each.pk] for each in woven), None)
    return Region(
        path=path,
        words=zone.name if zone else (say("add {label}", label=label) if adds else label),
        href=f"?zone={zone.pk}" if zone else (f"?zone={in_hand.pk}&part={part}#add-zone" if adds else ""),
        hex=between or "#ffffff",
        chosen=shown is not None and shown.pk == in_hand.pk,
        stripes=_stripes(woven, colours),
        period=f"{_period(woven):g}",
    )


def _period(woven: Sequence[Zone]) -> float:
    return max((PERIOD.get(Zone.Pattern(zone.pattern), USUAL_PERIOD) for zone in woven), default=USUAL_PERIOD)


def _stripes(woven: Sequence[Zone], colours: HeadColours) -> tuple[Stripe, ...]:
    """Strands that are treated apart, side by side in one period; what is left of it is the hair between them."""
    period, start, found = _period(woven), 0.0, []
    for zone in woven:
        width = min(share_of_strands(zone) * period, period - start)
        if width > 0:
            found.append(Stripe(x=f"{start:.2f}", width=f"{width:.2f}", hex=colours.zones[zone.pk]))
        start += width
    return tuple(found)
