"""What the pages of the head show: drawn from four sides, and on a photo of it."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.language import later, say
from studio.accounts.models import Person
from studio.cards.models import ZoneResult
from studio.head.selectors import Bench, bench_of
from studio.head.sight import LIGHTS, Sight, sight_of
from studio.head.whole import End, WholeHead, whole_head
from studio.photos.models import Photo
from studio.portrait.models import HAIR, OTHER, Portrait
from studio.portrait.picture import Seen, oddities, seen
from studio.portrait.selectors import portrait_of
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.head import HeadColours, HeadView, head_views
from studio.visits.selectors import OpenZone

WASHES: Final = (0, 3, 6, 12)
SHOWN_WITHIN: Final = (840, 620)  # a photo to draw on, in the page's own pixels
ENDS: Final = (
    (End.DEEPER, later("Deeper end")),
    (End.LIKELY, later("Likely")),
    (End.LIGHTER, later("Lighter end")),
)
ODD: Final = {
    "unpainted": later("A zone that no photo shows by itself is not painted yet: choose it and draw where it lies."),
    "too_dark": later("The hair lies in shadow here: a photo in more light tells more."),
    "too_bright": later("The hair is lighter here than it was read: read it again, or take the photo with less light."),
    "not_as_read": later("The hair in the photo does not look as it was read: read it again, or tap the paper anew."),
}


@dataclass(frozen=True, kw_only=True, eq=False)
class HeadPage:
    """The head drawn from four sides, each picture with its title; and its zones in words."""

    bench: Bench
    sight: Sight
    pictures: tuple[tuple[str, tuple[HeadView, ...]], ...]
    rows: tuple[tuple[str, Lock, Lock, Lock | None], ...]

    lights = LIGHTS
    washes = WASHES


@dataclass(frozen=True, kw_only=True, eq=False)
class PhotoPage:
    """The photo of the head, to draw on or to look at.

    tool: what the next stroke is of, paper for the next tap, nothing to look. shown: the photo's width and height in
    the page. key: what changes when its pictures do.
    """

    bench: Bench
    sight: Sight
    portrait: Portrait | None
    tool: str
    tools: tuple[tuple[str, str], ...]
    end: End
    beside: bool
    shown: tuple[int, int]
    key: str
    odd: tuple[str, ...]
    error_words: str

    lights = LIGHTS
    washes = WASHES
    ends = ENDS

    @property
    def photo(self) -> Photo | None:
        """The photo, if there is one."""
        return self.portrait.photo if self.portrait else None

    @property
    def is_seen(self) -> bool:
        """Whether there is hair to lay a forecast on."""
        return self.portrait is not None and bool(self.portrait.drawn(HAIR))

    @property
    def query(self) -> str:
        """The sight, as an address names it."""
        return f"light={self.sight.light.value}&washes={self.sight.washes}"

    @property
    def more(self) -> str:
        """What else of how it is looked at stays when light or washes change, as an address names it."""
        return f"&end={self.end.value}" + ("&beside=1" if self.beside else "")

    @property
    def told(self) -> str:
        """What is seen, in words, for those who can't see the photo."""
        after = whole_head(self.bench, self.sight, self.end).after
        return say("; ").join(
            f"{each.zone.name}: {lock_of_colour(tuple(after[each.zone.pk].tolist())).words}"
            for each in self.bench.zones
        )


def head_page(person: Person, opened: OpenZone, sent: Mapping[str, str]) -> HeadPage:
    """Gather the drawn head: before, as it is forecast, and as it turned out where all of it was judged or some."""
    bench, sight = bench_of(person, opened), sight_of(sent)
    head = whole_head(bench, sight)
    results = {
        each.zone_id: each.lab for each in ZoneResult.objects.visible_to(person).filter(zone__visit=opened.visit)
    }
    pictures = list(head.drawn(bench.zone))
    if results:
        pictures.append((say("As it turned out"), _turned_out(head, bench, results)))
    return HeadPage(bench=bench, sight=sight, pictures=tuple(pictures), rows=_rows(head, results))


def _turned_out(head: WholeHead, bench: Bench, results: Mapping[int, tuple[float, ...]]) -> tuple[HeadView, ...]:
    colours = {zone.pk: np.array(results[zone.pk]) for zone in head.zones if zone.pk in results}
    return head_views(
        head.zones, bench.zone, HeadColours(zones=colours, between=head.before), blends=head.blends, taps=False
    )


def _rows(head: WholeHead, results: Mapping[int, tuple[float, ...]]) -> tuple[tuple[str, Lock, Lock, Lock | None], ...]:
    return tuple(
        (
            str(zone.name),
            lock_of_colour(tuple(head.before[zone.pk].tolist())),
            lock_of_colour(tuple(head.after[zone.pk].tolist())),
            lock_of_colour(tuple(results[zone.pk])) if zone.pk in results else None,
        )
        for zone in head.zones
    )


def photo_page(
    person: Person, opened: OpenZone, sent: Mapping[str, str], refusal: Refusal | None = None, *, tool: str = ""
) -> PhotoPage:
    """Gather the photo of the head. tool: what was asked to be in hand."""
    bench, sight = bench_of(person, opened), sight_of(sent)
    portrait = portrait_of(person, opened.visit.pk)
    end = next((each for each, _ in ENDS if each.value == sent.get("end")), End.LIKELY)
    in_hand = _tool(portrait, bench, tool)
    is_looked_at = portrait is not None and not in_hand and bool(portrait.drawn(HAIR))
    asked = seen(bench, portrait, sight, end) if portrait and is_looked_at else None
    return PhotoPage(
        bench=bench,
        sight=sight,
        portrait=portrait,
        tool=in_hand,
        tools=_tools(bench),
        end=end,
        beside="beside" in sent,
        shown=_shown(portrait),
        key=asked.etag if asked else "",
        odd=_odd(asked),
        error_words=refusal_words(refusal) if refusal else "",
    )


def _odd(asked: Seen | None) -> tuple[str, ...]:
    return tuple(str(ODD[name]) for name in oddities(asked)) if asked else ()


def _tools(bench: Bench) -> tuple[tuple[str, str], ...]:
    """What can be drawn: the paper's place, hair, what is none, and zones where there are several."""
    zones = [(str(each.zone.pk), str(each.zone.name)) for each in bench.zones] if len(bench.zones) > 1 else []
    return (
        ("", say("Look")),
        ("paper", say("White paper")),
        (HAIR, say("Hair")),
        (OTHER, say("Not hair")),
        *zones,
    )


def _tool(portrait: Portrait | None, bench: Bench, asked: str) -> str:
    """What is in hand: as asked, else what comes next."""
    if asked in [tool for tool, _ in _tools(bench)] and (asked or (portrait and portrait.drawn(HAIR))):
        return asked
    if portrait is None or portrait.drawn(HAIR):
        return ""
    return "paper" if portrait.photo.paper_x is None else HAIR


def _shown(portrait: Portrait | None) -> tuple[int, int]:
    if portrait is None:
        return SHOWN_WITHIN
    width, height = portrait.photo.width, portrait.photo.height
    scale = min(SHOWN_WITHIN[0] / width, SHOWN_WITHIN[1] / height, 1.0)
    return max(round(width * scale), 1), max(round(height * scale), 1)
