"""A route that is laid out by hand: what is asked for, and what stands on a zone of one that was chosen."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from engine.errors import BadInput, EngineError
from engine.language import decimals
from engine.service.by_hand import ByHand
from engine.service.route import Route
from studio.head.models import Coat
from studio.head.selectors import Bench
from studio.route.engine_adapter import hand_route_of
from studio.route.models import ChosenRoute
from studio.ui.numbers import typed_number, within
from studio.ui.refusal import Refusal
from studio.ui.words import engine_refusal, refusal_words
from studio.visits.gates import Asked

FIELDS = ("lift_to", "vol", "fill")
LEVELS = (1, 11)
VOLS = (1, 40)
WRONG = {"lift_to": "lifted_already", "fill": "fill_of_natural"}


@dataclass(frozen=True, kw_only=True, eq=False)
class HandRoute:
    """A way by hand with its fields as they were typed, and why it can't be walked, if it can't. route: None then.

    is_tried: whether it is asked about, and not only the one that was chosen.
    """

    lift_to: str = ""
    vol: str = ""
    fill: bool = False
    is_tried: bool = False
    route: Route | None = None
    wrong: Refusal | None = None

    @property
    def is_asked(self) -> bool:
        """Whether anything is to be shown of it."""
        return self.route is not None or self.wrong is not None

    @property
    def fields(self) -> tuple[tuple[str, str], ...]:
        """It as a form's fields."""
        typed = (("lift_to", self.lift_to), ("vol", self.vol), ("fill", "1" if self.fill else ""))
        return tuple((name, text) for name, text in typed if text)

    @property
    def wrong_words(self) -> str:
        """Why it can't be walked, in words."""
        return refusal_words(self.wrong) if self.wrong else ""


def hand_route(bench: Bench, asked: Asked, sent: Mapping[str, str], chosen: ChosenRoute | None) -> HandRoute:
    """The way by hand that a request asks for, else the one that was chosen, by the coats that it has put on."""
    fields = {name: sent.get(name, "").strip() for name in FIELDS}
    if not any(fields.values()):
        is_chosen = chosen is not None and chosen.kind == ChosenRoute.Kind.BY_HAND
        return _still_to_come(bench, asked) if is_chosen else HandRoute()
    as_typed = HandRoute(lift_to=fields["lift_to"], vol=fields["vol"], fill=bool(fields["fill"]), is_tried=True)
    try:
        return replace(as_typed, route=hand_route_of(bench, asked, wanted_of(fields)))
    except Refusal as refusal:
        return replace(as_typed, wrong=refusal)
    except BadInput as error:
        return replace(as_typed, wrong=Refusal(WRONG[error.field], error.field))
    except EngineError as error:
        return replace(as_typed, wrong=engine_refusal(error))


def wanted_of(fields: Mapping[str, str]) -> ByHand:
    """What is typed, as the engine takes it. Raises Refusal not_a_number, out_of_range, nothing_by_hand."""

    def number(name: str, low: float, high: float) -> float | None:
        typed = fields.get(name, "").strip()
        return float(within(typed_number(typed, name, example="9"), name, low, high)) if typed else None

    wanted = ByHand(lift_to=number("lift_to", *LEVELS), vol=number("vol", *VOLS), fill=bool(fields.get("fill")))
    if wanted.lift_to is None and not wanted.fill:
        raise Refusal("nothing_by_hand", "lift_to")
    return wanted


def _still_to_come(bench: Bench, asked: Asked) -> HandRoute:
    """What of a chosen way is not on the hair yet; where that can't be walked any more, the colour alone."""
    rows = [row for row in bench.zone_rows if not row.begun]
    lift = next((row for row in rows if row.lifts and row.to_level is not None), None)
    to_level = float(lift.to_level) if lift and lift.to_level is not None else None
    vol = float(lift.bowl.vol) if lift and lift.bowl else None
    wanted = ByHand(lift_to=to_level, vol=vol, fill=any(row.purpose == Coat.Purpose.FILL for row in rows))
    try:
        route = hand_route_of(bench, asked, wanted)
    except BadInput:
        wanted = ByHand()
        route = hand_route_of(bench, asked, wanted)
    typed = ["" if number is None else decimals(f"{number:g}") for number in (wanted.lift_to, wanted.vol)]
    return HandRoute(lift_to=typed[0], vol=typed[1], fill=wanted.fill, route=route)
