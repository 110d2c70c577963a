"""What the Read page shows: today's hair, and ladders of locks to tap."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, Final

from engine.dye.shelf import demo_shelf
from engine.hair.canvas import RANGES, Canvas
from engine.hair.ladder import Ladder
from engine.hair.residue import Family
from engine.language import decimals, later, say
from engine.service.parting import PARTS, parted_as
from studio.shelf.selectors import coloured_shades
from studio.ui.locks import Lock, bare_lock
from studio.ui.refusal import Refusal
from studio.ui.words import LABELS, refusal_words
from studio.visits.engine_adapter import canvas_of, lifted_hair
from studio.visits.head import HeadView, head_views, read_colours
from studio.visits.models import Zone
from studio.visits.selectors import OpenZone
from studio.visits.services.read_hair import START_LEVEL

if TYPE_CHECKING:
    from studio.visits.found import Found

WARMTHS: Final = (
    (-2.0, later("ashy")),
    (-1.0, later("cool")),
    (0.0, later("even")),
    (1.0, later("warm")),
    (2.0, later("brassy")),
)
LEANS: Final = ((0.0, later("yellow")), (1.5, later("golden")), (4.0, later("orange")), (8.0, later("red-orange")))
POROSITIES: Final = (
    ("0.6", later("resistant")),
    ("1", later("even")),
    ("1.3", later("porous")),
    ("1.6", later("overworked")),
)
KINDS: Final = (
    ("lightened", later("lightened")),
    ("natural", later("natural")),
    ("grey", later("grey")),
    ("yellowed", later("yellowed grey")),
)
WHITES: Final = (
    (0.0, later("none")),
    (0.2, later("a fifth")),
    (0.4, later("two fifths")),
    (0.7, later("most")),
    (1.0, later("all white")),
)
YELLOWINGS: Final = ((0.0, later("clean")), (0.5, later("a little")), (1.0, later("much")))
REDS: Final = ((0.0, later("none")), (2.0, later("some")), (5.0, later("auburn")), (8.0, later("red")))
OLD_AMOUNTS: Final = (("0", later("none")), ("0.1", later("trace")), ("0.3", later("some")), ("0.8", later("much")))
OLD_FAMILIES: Final = tuple((name, later(name)) for name in demo_shelf() if name != "clear")
HINTS: Final[Mapping[str, str]] = {
    "level": later("1 black to 11 clean white"),
    "warmth": later("-2 ashy to 2 brassy"),
    "lean": later("0 yellow to 10 orange-red"),
    "porosity": later("0.5 resistant to 1.6 overworked"),
    "grey": later("0 to 1, share of white hair"),
    "yellowing": later("0 white to 1 yellowed"),
}
# What has no part in hair of a family, and is not asked there.
NOT_ASKED: Final = {Family.LIGHTENED: ("yellowing",), Family.NATURAL: ("warmth",)}


PLACE_HINTS: Final[Mapping[str, str]] = {
    "length_cm": later("by its word"),
    "regrowth_cm": "3",
    "from_cm": later("by its part"),
    "to_cm": later("by its part"),
    "area_percent": later("by its part"),
    "strand_percent": later("as woven"),
}
PLACE_FIELDS: Final = tuple(PLACE_HINTS)
QUICK_CM: Final[Mapping[str, tuple[int, ...]]] = {"length_cm": (10, 25, 45, 65), "regrowth_cm": (1, 2, 3, 4, 6)}
PARTINGS: Final[Mapping[str, str]] = {
    "whole": later("whole head"),
    "two": later("roots, lengths"),
    "three": later("roots, mids, ends"),
    "halves": later("two halves"),
}

READER_FAULTS: Final = (
    ("none", later("works")),
    ("slips", later("one reading slips")),
    ("stops", later("stops half way")),
    ("garbage", later("sends garbage")),
    ("unplugged", later("is unplugged")),
)


@dataclass(frozen=True, kw_only=True)
class Rung:
    """One lock of a ladder: the number it stands for, its words, and whether it is the one in force."""

    number: str
    words: str
    lock: Lock
    chosen: bool


@dataclass(frozen=True, kw_only=True)
class LockLadder:
    """A ladder of locks for one field, with its heading."""

    name: str
    label: str
    title: str
    rungs: list[Rung]


@dataclass(frozen=True, kw_only=True)
class ReadPage:
    """The Read page as its template takes it."""

    opened: OpenZone
    now: Lock
    level: str
    undertone: str
    fields: list[tuple[str, str, str, str]]
    levels: list[Rung]
    ladders: list[LockLadder]
    porosities: list[tuple[str, str, bool]]
    kinds: list[tuple[str, str, bool]]
    old_shades: list[tuple[str, list[tuple[str, str]]]]
    old_shade: str
    old_amounts: list[tuple[str, str, bool]]
    after: int
    error_field: str
    error_words: str
    head: tuple[HeadView, ...]
    partings: list[tuple[str, str, bool]]
    switches: list[tuple[str, str, bool]]
    parts_of_head: list[tuple[str, str, bool]]
    adds_zone: bool
    after_lift: bool
    after_coats: int | None
    found: "Found | None"
    schools: list[tuple[str, str, bool]]
    place: list[tuple[str, str, str, str, tuple[int, ...]]]
    patterns: list[tuple[str, str, bool]]
    places_zone: bool
    next_zone: Zone | None
    held_levels: tuple[int, ...] = tuple(range(2, 11))
    faults: tuple[tuple[str, str], ...] = READER_FAULTS

    @property
    def own_fields(self) -> tuple[str, ...]:
        """The fields that tell their own errors."""
        return ("", *(name for name, *_ in self.fields))

    @property
    def next_step(self) -> str:
        """What comes next: keep the reading, read the next zone, choose the aim, or mix for what was worked on."""
        reading = self.opened.reading
        if reading is None or reading.after_coats < (self.after_coats or 0):
            return "keep"
        if self.next_zone:
            return "zone"
        return "bench" if reading.after_coats else "aim"


def read_page(
    opened: OpenZone,
    *,
    typed: Mapping[str, str],
    refusal: Refusal | None,
    found: "Found | None" = None,
    part: str = "",
    sets_zones: bool = False,
    after_lift: bool = False,
    after_coats: int | None = None,
) -> ReadPage:
    """Gather the Read page. typed: what a refused form held, kept in its fields.

    found: what an instrument has just read. part: of the head, that a tap would add. sets_zones: the zones are being
    set. after_lift: the lifted hair is to be read. after_coats: how many coats of the zone are on, if that is known.
    """
    reading = opened.reading
    studio = opened.visit.client.studio
    ladder = studio.ladder
    if reading and after_lift and not reading.after_lift:  # what lightener has been on starts as lightened
        reading = lifted_hair(reading)
    canvas = canvas_of(reading) if reading else ladder.canvas(START_LEVEL)
    numbers = {name: decimals(f"{getattr(canvas, name):g}") for name in RANGES}
    parts = tuple(zone.part for zone in opened.zones)
    old_shade, old_k_s = (reading.old_shade, float(reading.old_k_s)) if reading else ("", 0.0)
    return ReadPage(
        opened=opened,
        now=bare_lock(canvas),
        level=numbers["level"],
        undertone=str(_shows(canvas, ladder))
        + (say(", {told:.0f} % white", told=100 * canvas.grey) if canvas.grey else ""),
        fields=[
            (name, LABELS[name], typed.get(name, numbers[name]), HINTS[name])
            for name in RANGES
            if name not in NOT_ASKED[canvas.family]
        ],
        levels=[
            _rung("level", hair.level, _shows(hair, ladder), hair, chosen=hair.level == canvas.level)
            for hair in [_at_level(canvas, ladder, float(step)) for step in range(1, 12)]
        ],
        ladders=_ladders(canvas),
        porosities=[(number, words, float(number) == canvas.porosity) for number, words in POROSITIES],
        kinds=[(value, words, value == _kind(canvas)) for value, words in KINDS],
        old_shades=_old_shades(opened.visit.client.studio_id),
        old_shade=typed.get("old_shade", old_shade),
        old_amounts=[(number, words, float(number) == old_k_s) for number, words in OLD_AMOUNTS],
        after=reading.number if reading else 0,
        error_field=refusal.field or "read" if refusal else "",
        error_words=refusal_words(refusal) if refusal else "",
        head=head_views(opened.zones, opened.zone, read_colours(opened.by_zone)),
        partings=[(name, words, parts == parted_as(name, parts)) for name, words in PARTINGS.items()],
        switches=[(part, Zone.Part(part).label, part in parts) for part in PARTS if part != Zone.Part.WHOLE],
        parts_of_head=[
            (value, words, value == (part or typed.get("part", "")))
            for value, words in Zone.Part.choices
            if value != Zone.Part.WHOLE
        ],
        adds_zone=bool(part)
        or sets_zones
        or (refusal is not None and refusal.field in {"part", "zone_name", "switch"}),
        after_lift=after_lift or bool(reading and reading.after_lift),
        after_coats=after_coats,
        found=found,
        place=[
            (name, LABELS[name], typed.get(name, given), hint, QUICK_CM.get(name, ()))
            for name, given, hint in _place(opened)
        ],
        patterns=[
            (value, words, value == typed.get("pattern", opened.zone.pattern)) for value, words in Zone.Pattern.choices
        ],
        places_zone=refusal is not None and refusal.field in (*PLACE_FIELDS, "pattern"),
        next_zone=next((zone for zone in opened.zones if zone.pk not in opened.by_zone and not zone.left_alone), None),
        schools=[(value, words, value == studio.school) for value, words in studio.schools],
    )


def _place(opened: OpenZone) -> list[tuple[str, str, str]]:
    """Where the zone in hand lies and how long the hair is, as fields: name, what is set, and what counts else."""
    zone, consult = opened.zone, getattr(opened.visit, "consult", None)
    lengths = {
        "length_cm": getattr(consult, "length_cm", None),
        "regrowth_cm": getattr(consult, "regrowth_cm", None),
        "from_cm": zone.from_cm,
        "to_cm": zone.to_cm,
        "area_percent": None if zone.area_share is None else 100 * zone.area_share,
        "strand_percent": None if zone.strand_share is None else 100 * zone.strand_share,
    }
    return [
        (name, "" if number is None else decimals(f"{float(number):g}"), PLACE_HINTS[name])
        for name, number in lengths.items()
    ]


def _shows(canvas: Canvas, ladder: Ladder) -> str:
    """What hair of a level is called: by its undertone once it is lightened, by its own pigment's colour before."""
    if canvas.family is Family.NATURAL:
        return bare_lock(replace(canvas, old=(), grey=0.0)).words
    return ladder.undertone(canvas.level)


def _at_level(canvas: Canvas, ladder: Ladder, level: float) -> Canvas:
    """The lock of a level: what the studio's school shows there, or the hair's own pigment before it was lightened."""
    if canvas.family is Family.NATURAL:
        return replace(canvas, level=level)
    return replace(ladder.canvas(level), porosity=canvas.porosity, grey=canvas.grey)


def _kind(canvas: Canvas) -> str:
    """Which kind of hair it is, of `KINDS`."""
    if canvas.family is Family.LIGHTENED or not canvas.grey:
        return canvas.family.value
    return "yellowed" if canvas.yellowing else "grey"


def _ladders(canvas: Canvas) -> list[LockLadder]:
    """Locks for what a level leaves open: the warmth of lightened hair, the white and the red of natural hair."""
    if canvas.family is Family.LIGHTENED:
        asked = [("warmth", say("Warmth of what is left"), WARMTHS), ("lean", say("Lean of what is left"), LEANS)]
    else:
        asked = [("grey", say("How much is white"), WHITES), ("lean", say("Red in its own pigment"), REDS)]
        if canvas.grey:
            asked.insert(1, ("yellowing", say("Its yellow"), YELLOWINGS))
    return [
        LockLadder(
            name=name,
            label=LABELS[name],
            title=title,
            rungs=[
                _rung(name, number, words, _with(canvas, name, number), chosen=getattr(canvas, name) == number)
                for number, words in rungs
            ],
        )
        for name, title, rungs in asked
    ]


def _old_shades(studio_id: int) -> list[tuple[str, list[tuple[str, str]]]]:
    """What an old colour may be: a family, or one of the studio's own shades, line by line. One query."""
    own: dict[str, list[tuple[str, str]]] = {}
    for pk, name, line in coloured_shades(studio_id):
        own.setdefault(line, []).append((str(pk), name))
    return [(say("a family"), list(OLD_FAMILIES)), *own.items()]


def _with(canvas: Canvas, name: str, number: float) -> Canvas:
    tried: dict[str, Any] = {name: number}
    return replace(canvas, **tried)


def _rung(name: str, number: float, words: str, hair: Canvas, *, chosen: bool) -> Rung:
    return Rung(number=f"{number:g}", words=words, lock=bare_lock(replace(hair, old=())), chosen=chosen)
