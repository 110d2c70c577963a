"""Everything that the Bench shows, gathered once for page and fragment."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from engine.bowl.predict import Aim
from engine.colorimetry.words import colour_word
from studio.accounts.models import Person
from studio.bench import plane
from studio.bench.engine_adapter import Answers, BenchForecast, Ladder, answers_of, forecast_of, rail_of
from studio.bench.models import Bowl
from studio.bench.selectors import Bench, bench_of
from studio.shelf.models import Shade, ShadeLine
from studio.shelf.selectors import lines_of
from studio.ui.locks import Lock
from studio.ui.numbers import shown_grams
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.selectors import OpenZone

AIM_FIELDS: Final = (("lightness", "Depth"), ("chroma", "Strength"), ("hue", "Hue°"))
LABEL_FITS: Final = 12  # percent of the bowl's width that a layer needs to carry its grams, and its name too
NAME_FITS: Final = 20
NEAR_RING: Final = 2.0  # delta E00 of the rings round the aim
FAR_RING: Final = 5.0


@dataclass(frozen=True, kw_only=True)
class RailRow:
    """One shade on the rail, with its ladder of dilutions and what is poured of it."""

    shade: Shade
    ladder: Ladder
    grams: str
    stock: str
    chosen: bool


@dataclass(frozen=True, kw_only=True)
class Layer:
    """One layer of the bowl, to scale, in percent of the whole width."""

    shade: Shade
    grams: str
    start: str
    width: str
    hex: str
    dark: bool
    labelled: bool
    named: bool


@dataclass(frozen=True, kw_only=True)
class PlaneMarks:
    """Where hair, bowl and aim stand on the plane and on the depth ladder."""

    depth: str
    now: plane.Place
    then: plane.Place
    aim: plane.Place | None
    rings: tuple[str, ...]
    now_y: str
    then_y: str
    aim_y: str


@dataclass(frozen=True, kw_only=True, eq=False)
class BenchPage:
    """The Bench as its template takes it."""

    person: Person
    bench: Bench
    now: Lock
    then: Lock
    aim_lock: Lock | None
    rail: list[RailRow]
    layers: list[Layer]
    marks: PlaneMarks
    words: str
    delta_e00: str
    total: str
    version: str
    parts: str
    aim_fields: list[tuple[str, str, str]]
    wanted: str
    typed_grams: str
    note: str
    answers: Answers | None
    error_field: str
    error_words: str
    status: int | None

    @property
    def lines(self) -> list[ShadeLine]:
        """The studio's lines, read only where they are shown."""
        return lines_of(self.person)

    @property
    def touched_rows(self) -> list[RailRow]:
        """The rows of the rail that a pour can have changed: what is in the bowl, and the shade in hand."""
        return [row for row in self.rail if row.grams or row.chosen]

    @property
    def chosen(self) -> RailRow:
        """The shade that the stepper pours."""
        return next((row for row in self.rail if row.chosen), self.rail[0])


def bench_page(
    person: Person,
    opened: OpenZone,
    *,
    sent: Mapping[str, str],
    answers_wanted: bool = False,
    refusal: Refusal | None = None,
    bowl: Bowl | None = None,
) -> BenchPage:
    """Gather the Bench. sent: what the request brought, so that a refused field keeps what was typed in it."""
    bench = bench_of(person, opened, bowl)
    seen = forecast_of(bench)
    answers = None
    status = None
    if answers_wanted:
        try:
            answers = answers_of(bench)
        except Refusal as no_answer:
            refusal, status = no_answer, 422
    typed = sent if refusal else {}
    numbers = plane.aim_numbers(bench.target_lab)
    aim = seen.forecast.aim
    return BenchPage(
        person=person,
        bench=bench,
        now=seen.now,
        then=seen.then,
        aim_lock=seen.aim,
        rail=_rail_rows(bench, sent.get("shade", "")),
        layers=_layers(bench),
        marks=_marks(bench, seen),
        words=_words(bench, seen, aim),
        delta_e00=f"{aim.delta_e00:.1f}" if aim and bench.grams else "",
        total=shown_grams(bench.total_g),
        version=str(bench.bowl.version),
        parts=_parts(bench),
        aim_fields=[(name, label, typed.get(name, numbers[name])) for name, label in AIM_FIELDS],
        wanted=typed.get("total_grams", f"{float(bench.bowl.wanted_g):g}"),
        typed_grams=typed.get("grams", "") if not typed.get("by") else "",
        note=sent.get("note", ""),
        answers=answers,
        error_field=refusal.field or "bench" if refusal else "",
        error_words=refusal_words(refusal) if refusal else "",
        status=status,
    )


def _rail_rows(bench: Bench, chosen: str) -> list[RailRow]:
    ladders = rail_of(bench)
    known = {str(shade.pk) for shade in bench.stocked.shades}
    first = str(next(iter(bench.grams), bench.stocked.shades[0].pk))
    chosen = chosen if chosen in known else first
    return [
        RailRow(
            shade=shade,
            ladder=ladders[shade.pk],
            grams=shown_grams(bench.grams[shade.pk]) if shade.pk in bench.grams else "",
            stock=f"{float(shade.stock_g):g}",
            chosen=str(shade.pk) == chosen,
        )
        for shade in bench.stocked.shades
    ]


def _layers(bench: Bench) -> list[Layer]:
    """The poured layers across whichever is more, the bowl or what is wanted."""
    ladders = rail_of(bench)
    whole = float(max(bench.total_g, bench.bowl.wanted_g))
    layers: list[Layer] = []
    start = 0.0
    for shade, grams in bench.poured:
        width = 100 * float(grams) / whole
        body = ladders[shade.pk][0][1]
        is_clear = bench.stocked.dyes[shade.pk].is_clear
        layers.append(
            Layer(
                shade=shade,
                grams=shown_grams(grams),
                start=f"{start:.3f}",
                width=f"{width:.3f}",
                hex="#ffffff" if is_clear else body,
                dark=not is_clear and int(body[1:3], 16) * 2 + int(body[3:5], 16) * 5 + int(body[5:7], 16) < 1100,
                labelled=width > LABEL_FITS,
                named=width > NAME_FITS,
            )
        )
        start += width
    return layers


def _marks(bench: Bench, seen: BenchForecast) -> PlaneMarks:
    target = bench.target_lab
    return PlaneMarks(
        depth=str(plane.DEFAULT_DEPTH if target is None else round(float(target[0]))),
        now=plane.place_of(seen.now.lab, seen.now.hex, seen.now.said),
        then=plane.place_of(seen.forecast.lab, seen.then.hex, seen.then.said),
        aim=None if target is None else plane.place_of(target, seen.aim.hex if seen.aim else "", colour_word(target)),
        rings=()
        if target is None
        else tuple(plane.ring_points(tuple(target.tolist()), size) for size in (NEAR_RING, FAR_RING)),
        now_y=plane.ladder_y(seen.now.lightness),
        then_y=plane.ladder_y(float(seen.forecast.lab[0])),
        aim_y="" if target is None else plane.ladder_y(float(target[0])),
    )


def _words(bench: Bench, seen: BenchForecast, aim: Aim | None) -> str:
    if not bench.grams:
        return "The bowl is empty: pour a shade" + ("" if aim else ", or tap a colour to aim at")
    if aim is None:
        return f"{seen.then.words.capitalize()}; no aim yet"
    return aim.words[0].upper() + aim.words[1:]


def _parts(bench: Bench) -> str:
    """The bowl as parts: one of colour to so many of clear."""
    colour = sum(float(grams) for shade, grams in bench.poured if not bench.stocked.dyes[shade.pk].is_clear)
    clear = float(bench.total_g) - colour
    if not colour:
        return "clear only" if clear else ""
    return f"1 part colour to {clear / colour:.1f} clear".replace(".0 clear", " clear") if clear else "no clear"
