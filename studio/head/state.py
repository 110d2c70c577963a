"""The bench as plain data: what a step remembers, and how it is put back."""

from collections.abc import Iterable, Mapping
from decimal import Decimal
from operator import attrgetter
from typing import Final, NotRequired, TypedDict

from django.db.models import F, QuerySet

from studio.accounts.models import Person
from studio.accounts.prepared import Prepared
from studio.head.models import Bowl, Coat, Portion, TargetFields, Worktop, WorktopRows
from studio.shelf.models import Shade, ShadeLine
from studio.shelf.selectors import line_at, stocked_line
from studio.ui.refusal import Refusal
from studio.visits.models import Zone

TARGET_NAMES: Final = ("target_l", "target_a", "target_b")
PLAIN_NAMES: Final = ("product", "grams", "own_vol")


class BowlState(TypedDict):
    """The line's id, the grams wanted, the aim, and grams by shade id, in types that JSON keeps exactly.

    mixed, doubts: by shade id, only where not nothing. developer: own strength in vol and parts, where there are.
    """

    line: int
    wanted_g: str
    target: list[str] | None
    grams: dict[str, str]
    mixed: NotRequired[dict[str, str]]
    doubts: NotRequired[dict[str, str]]
    developer: NotRequired[list[str | None]]


class CoatState(TypedDict):
    """One coat of a zone: its row, its bowl's, what it is for, and its seam. The rest: where there is any.

    plain: product, grams and strength in vol of one that nothing is mixed for.
    """

    coat: int
    bowl: int | None
    purpose: str
    blend: int
    to_level: NotRequired[str]
    minutes: NotRequired[str]
    apply_min: NotRequired[str]
    not_before: NotRequired[str]
    joins: NotRequired[int]
    target: NotRequired[list[str]]
    plain: NotRequired[list[str | None]]


class ZoneState(TypedDict):
    """The coats of a zone, in their order. sections, apart: into how many it is parted, and whether it is rinsed by
    itself, where that is told of it (a step of before they were remembered leaves both as they are).
    """

    coats: list[CoatState]
    sections: NotRequired[int]
    apart: NotRequired[bool]


class BenchState(TypedDict):
    """The bowls in use by id, and the zones that the visit has, by id."""

    bowls: dict[str, BowlState]
    zones: dict[str, ZoneState]


def _coats(studio: int) -> QuerySet[Coat]:
    here = Coat.objects.of_studio(studio).filter(zone__removed=False, removed=False)
    return here.annotate(line_version=F("bowl__line__version")).order_by()


_COATS: Final = Prepared(
    lambda studio, visit: _coats(studio).filter(zone__visit=visit).select_related("zone", "bowl__worktop"),
    studio=int,
    visit=int,
)
_LOCKED_COATS: Final = Prepared(
    lambda studio, zone: (
        _coats(studio)
        .filter(zone__visit__zones=zone, zone__visit__worktop__isnull=False)
        .select_related("bowl", "zone__visit__worktop")
        .select_for_update(of=("zone__visit__worktop",))
    ),
    studio=int,
    zone=int,
)
_PORTIONS: Final = Prepared(lambda bowls: Portion.objects.filter(bowl_id__among=bowls).order_by(), bowls=list)


def rows_of(person: Person, visit_id: int) -> WorktopRows:
    """The rows of a visit's worktop as they stand, pours in shelf order; none of another studio's. Two queries."""
    return _rows(_COATS(studio=person.studio_id, visit=visit_id))


def locked_rows(person: Person, zone_id: int) -> WorktopRows:
    """`rows_of` the visit of a zone, its worktop locked until the transaction ends.

    The worktop alone is what every change locks: were bowls locked too, two hands could each wait for the other's. It
    is locked as its coats are read, in one query.
    """
    return _rows(_LOCKED_COATS(studio=person.studio_id, zone=zone_id), locks=True)


def lock_worktop(person: Person, zone_id: int) -> Worktop:
    """The worktop of a zone's visit, locked until the transaction ends.

    Raises Bowl.DoesNotExist before there is one, and for another studio's zone.
    """
    worktops = Worktop.objects.visible_to(person).select_for_update(of=("self",))
    worktop = worktops.filter(visit__zones=zone_id).first()
    if worktop is None:
        raise Bowl.DoesNotExist
    return worktop


def _rows(coats: list[Coat], *, locks: bool = False) -> WorktopRows:
    """Coats with their bowls and pours. locks: the worktop is the zone's, which waited for its lock and is as it was
    left; what is joined through a bowl is older.
    """
    coats.sort(key=attrgetter("zone_id", "order", "pk"))
    bowls: dict[int, Bowl] = {}
    worktop: Worktop | None = None
    for coat in coats:  # one object for each row, so that a change of it is seen everywhere
        if coat.bowl is None:
            continue
        coat.bowl = bowls.setdefault(coat.bowl.pk, coat.bowl)
        coat.bowl.worktop = worktop = worktop or (coat.zone.visit.worktop if locks else coat.bowl.worktop)
        coat.bowl.line = line_at(coat.bowl.line_id, coat.line_version)  # type: ignore[attr-defined]
    pours: dict[int, list[Portion]] = {pk: [] for pk in bowls}
    for pour in _PORTIONS(bowls=list(bowls)) if bowls else ():
        pours[pour.bowl_id].append(pour)
    pours = {pk: in_shelf_order(bowls[pk], poured) for pk, poured in pours.items()}
    return WorktopRows(coats=coats, bowls=bowls, pours=pours)


def in_shelf_order(bowl: Bowl, pours: Iterable[Portion]) -> list[Portion]:
    """A bowl's pours as its line's shades stand on the shelf."""
    place = stocked_line(bowl.line).place
    return sorted(pours, key=lambda pour: place(pour.shade_id))


def state_of(rows: WorktopRows) -> BenchState:
    """The state of a worktop, to be remembered."""
    zones: dict[str, ZoneState] = {}
    for coat in rows.coats:
        fresh = ZoneState(coats=[], sections=coat.zone.sections, apart=coat.zone.rinsed_apart)
        zones.setdefault(str(coat.zone_id), fresh)["coats"].append(_coat_state(coat))
    return BenchState(bowls={str(pk): bowl_state(bowl, rows.pours[pk]) for pk, bowl in rows.bowls.items()}, zones=zones)


def _coat_state(coat: Coat) -> CoatState:
    state = CoatState(coat=coat.pk, bowl=coat.bowl_id, purpose=coat.purpose, blend=coat.blend_percent)
    if coat.to_level is not None:
        state["to_level"] = str(coat.to_level)
    if coat.minutes is not None:
        state["minutes"] = str(coat.minutes)
    if coat.apply_min is not None:
        state["apply_min"] = str(coat.apply_min)
    if coat.not_before_min is not None:
        state["not_before"] = str(coat.not_before_min)
    if coat.joins_id is not None:
        state["joins"] = coat.joins_id
    if coat.product or coat.grams is not None or coat.own_vol is not None:
        state["plain"] = [coat.product, *(None if each is None else str(each) for each in (coat.grams, coat.own_vol))]
    own = [coat.target_l, coat.target_a, coat.target_b]
    if None not in own:
        state["target"] = [str(part) for part in own]
    return state


def bowl_state(bowl: Bowl, pours: list[Portion]) -> BowlState:
    """The state of one bowl with its pours."""
    target = [bowl.target_l, bowl.target_a, bowl.target_b]
    state = BowlState(
        line=bowl.line_id,
        wanted_g=str(bowl.wanted_g),
        target=None if None in target else [str(part) for part in target],
        grams={str(pour.shade_id): str(pour.grams) for pour in pours},
    )
    if mixed := {str(pour.shade_id): str(pour.mixed_g) for pour in pours if pour.mixed_g}:
        state["mixed"] = mixed
    if doubts := {str(pour.shade_id): str(pour.doubt_g) for pour in pours if pour.doubt_g}:
        state["doubts"] = doubts
    if bowl.own_vol is not None or bowl.own_parts is not None:
        state["developer"] = [None if own is None else str(own) for own in (bowl.own_vol, bowl.own_parts)]
    return state


def restore(worktop: Worktop, state: BenchState) -> None:
    """Put a whole worktop back to a state: its zones, their coats, and their bowls.

    Raises Refusal coat_begun when a coat that is on the hair would go.
    """
    kept = [each["coat"] for zone in state["zones"].values() for each in zone["coats"]]
    coats = Coat.objects.filter(zone__visit_id=worktop.visit_id)
    if coats.filter(begun=True, removed=False).exclude(pk__in=kept).exists():
        raise Refusal("coat_begun")
    coats.exclude(pk__in=kept).update(removed=True)
    Zone.objects.filter(visit_id=worktop.visit_id).update(removed=True)
    Zone.objects.filter(visit_id=worktop.visit_id, pk__in=list(state["zones"])).update(removed=False)
    for row, zone in state["zones"].items():
        if "sections" in zone:
            Zone.objects.filter(pk=row).update(sections=zone["sections"], rinsed_apart=zone["apart"])
        for place, each in enumerate(zone["coats"]):
            Coat.objects.filter(pk=each["coat"]).update(
                bowl=each["bowl"],
                purpose=each["purpose"],
                blend_percent=each["blend"],
                to_level=each.get("to_level"),
                minutes=each.get("minutes"),
                apply_min=each.get("apply_min"),
                not_before_min=each.get("not_before"),
                joins=each.get("joins"),
                **dict(zip(PLAIN_NAMES, each.get("plain", ("", None, None)), strict=True)),
                **dict(zip(TARGET_NAMES, each.get("target", (None, None, None)), strict=True)),
                order=place,
                removed=False,
            )
    for bowl in worktop.bowls.filter(pk__in=list(state["bowls"])):
        restore_bowl(bowl, state["bowls"][str(bowl.pk)])
        bowl.save()


def restore_bowl(bowl: Bowl, state: BowlState, *, fresh: bool = False) -> None:
    """Put one bowl back to a state; the bowl itself is left for the caller to save. What was weighed in stays in.

    fresh: another bowl takes its place, and what was in it is thrown away. Raises Refusal weighed_in when what stays in
    would be in a bowl of another line, line_gone when its line has left the shelf.
    """
    weighed = {} if fresh else dict(bowl.pours.filter(weighed_g__gt=0).values_list("shade", "weighed_g"))
    if weighed and bowl.line_id != state["line"]:
        raise Refusal("weighed_in")
    if bowl.line_id != state["line"] and not ShadeLine.objects.filter(pk=state["line"]).exists():
        raise Refusal("line_gone")
    bowl.line_id = state["line"]
    bowl.wanted_g = Decimal(state["wanted_g"])
    own = [None if each is None else Decimal(each) for each in state.get("developer", (None, None))]
    bowl.own_vol, bowl.own_parts = own
    set_target(bowl, None if state["target"] is None else [Decimal(part) for part in state["target"]])
    mixed, doubts = (
        {int(shade): Decimal(grams) for shade, grams in numbers.items()}
        for numbers in (state.get("mixed", {}), state.get("doubts", {}))
    )
    refill(
        bowl,
        {int(shade): Decimal(grams) for shade, grams in state["grams"].items()},
        mixed=mixed,
        doubts=doubts,
        weighed=weighed,
    )


def set_target(row: TargetFields, lab: list[Decimal] | None) -> None:
    """Set or clear an aim, L*a*b* to three decimals; the row is left for the caller to save."""
    parts = [None, None, None] if lab is None else [round(part, 3) for part in lab]
    row.target_l, row.target_a, row.target_b = parts


def refill(
    bowl: Bowl,
    grams: Mapping[int, Decimal],
    *,
    mixed: Mapping[int, Decimal] | None = None,
    doubts: Mapping[int, Decimal] | None = None,
    weighed: Mapping[int, Decimal] | None = None,
) -> None:
    """Empty a bowl and pour grams by shade id, with what of it is mixed already and how far weights may be off.

    weighed: what was weighed in and stays in, whatever the grams say.
    """
    mixed, doubts, weighed = mixed or {}, doubts or {}, weighed or {}
    grams = {shade: max(grams.get(shade, Decimal(0)), weighed.get(shade, Decimal(0))) for shade in {**grams, **weighed}}
    known = set(Shade.objects.filter(pk__in=list(grams)).values_list("pk", flat=True))  # a tube may have left the shelf
    bowl.pours.all().delete()
    Portion.objects.bulk_create(
        Portion(
            bowl=bowl,
            shade_id=shade,
            grams=g,
            mixed_g=max(min(mixed.get(shade, Decimal(0)), g), weighed.get(shade, Decimal(0))),
            weighed_g=weighed.get(shade, Decimal(0)),
            doubt_g=doubts.get(shade, Decimal(0)),
        )
        for shade, g in grams.items()
        if g > 0 and shade in known
    )
