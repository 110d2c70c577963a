"""Take a whole recipe into the bowl; the bowl before is one undo away."""

from collections.abc import Mapping
from decimal import Decimal

from engine.bowl.weigh import scaled_to
from engine.language import later, say
from studio.accounts.models import Person
from studio.head.coats import bowl_coat
from studio.head.engine_adapter import SCALE_STEP_G
from studio.head.models import POUR_MOST_G, WANTED_LEAST_G, Bowl, Portion
from studio.head.selectors import bench_of
from studio.head.services.changing import changing, refuse_line, served_by
from studio.head.services.pot import check_pot
from studio.head.state import refill
from studio.shelf.models import ShadeLine
from studio.ui.numbers import brief_weight
from studio.ui.refusal import Refusal
from studio.visits.coats import AS_USUAL, How
from studio.visits.gates import asked_of, refuse_shut
from studio.visits.models import Zone
from studio.visits.selectors import open_zone


def take_recipe(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    grams: Mapping[int, Decimal],
    line_id: int | None = None,
    words: str = later("a recipe was taken"),
) -> Bowl:
    """Replace the bowl by grams by shade id, all of one line; a bowl that was mixed is thrown away by that.

    line_id: of a recipe from another line. Raises Refusal empty_bowl, negative_grams, too_many_grams, unknown_shade;
    Stale; Bowl.DoesNotExist, ShadeLine.DoesNotExist.
    """
    _checked(grams)
    with changing(person, zone_id=zone_id, coat_id=coat_id, version=version, words=words) as bowl:
        if line_id is not None and line_id != bowl.line_id:
            bowl.line = ShadeLine.objects.visible_to(person).get(pk=line_id)
            refuse_line(bowl.pk, bowl.line)
            bowl.save()
        if set(grams) - set(bowl.line.shades.values_list("pk", flat=True)):
            raise Refusal("unknown_shade", "shade")
        refill(bowl, {shade: round(g, 2) for shade, g in grams.items()})
    return bowl


def add_to_bowl(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    additions: Mapping[int, Decimal],
    keep: Decimal = Decimal(1),
) -> Bowl:
    """Add grams by shade id to the bowl, or to the part 0-1 of it that is kept; what is kept stays mixed.

    Raises Refusal empty_bowl when nothing is added, out_of_range for the part, negative_grams, too_many_grams,
    unknown_shade; Stale; Bowl.DoesNotExist.
    """
    _checked(additions)
    if not 0 < keep <= 1:
        raise Refusal("out_of_range", "keep", low=0, high=1, given=keep, unit="")

    def words(bowl: Bowl) -> str:
        names = dict(bowl.line.shades.values_list("pk", "name"))
        unknown = say("unknown")
        added = ", ".join(f"{brief_weight(g, sign='+')} {names.get(shade, unknown)}" for shade, g in additions.items())
        return added if keep == 1 else say("{keep:.0%} kept, {added}", keep=keep, added=added)

    with changing(person, zone_id=zone_id, coat_id=coat_id, version=version, words=words) as bowl:
        if set(additions) - set(bowl.line.shades.values_list("pk", flat=True)):
            raise Refusal("unknown_shade", "shade")
        held = {pour.shade_id: pour for pour in bowl.pours.all()}
        kept = {shade: round(pour.grams * keep, 2) for shade, pour in held.items()}
        grams = {
            shade: kept.get(shade, Decimal(0)) + round(additions.get(shade, Decimal(0)), 2)
            for shade in dict.fromkeys([*kept, *additions])
        }
        _checked(grams)
        refill(
            bowl,
            grams,
            mixed={shade: round(pour.mixed_g * keep, 2) for shade, pour in held.items()},
            weighed={shade: round(pour.weighed_g * keep, 2) for shade, pour in held.items()},
            doubts={shade: pour.doubt_g for shade, pour in held.items()},
        )
    return bowl


def mark_mixed(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, mixed: bool) -> Bowl:
    """Say that what is poured has been mixed together and can only be added to, or take that back; what was weighed in
    stays mixed.

    Raises Refusal empty_bowl, gate_shut while a safety gate stops this bowl; Stale; Bowl.DoesNotExist.
    """
    words = say("the bowl is mixed") if mixed else say("the bowl is not mixed after all")
    with changing(person, zone_id=zone_id, coat_id=coat_id, version=version, words=words) as bowl:
        pours = list(bowl.pours.all())
        if mixed and not pours:
            raise Refusal("empty_bowl", "grams")
        if mixed:
            check_gates(person, zone_id, coat_id)
        for pour in pours:
            pour.mixed_g = pour.grams if mixed else pour.weighed_g
        Portion.objects.bulk_update(pours, ["mixed_g"])
        bowl.mixed_for = served_by(bowl) if mixed else []
        bowl.save(update_fields=["mixed_for"])
    return bowl


def check_gates(person: Person, zone_id: int, coat_id: int | None = None, how: How = AS_USUAL) -> None:
    """Raises Refusal gate_shut for the first stop of a coat's bowl, on all that it goes on, that nobody has signed."""
    zone = Zone.objects.visible_to(person).select_related("visit__client").get(pk=zone_id)
    bench = bench_of(person, open_zone(person, zone.visit_id, zone_id, coat_id))
    asked = asked_of(person, zone.visit)
    refuse_shut(asked, bowl_coat(asked, bench, how), "grams")


def scale_bowl(person: Person, *, zone_id: int, coat_id: int | None = None, version: int) -> Bowl:
    """Scale every pour so that the bowl holds the grams wanted, in the same proportions, in steps of the scale.

    Raises Refusal empty_bowl, already_mixed when that would take something out, too_many_grams; Stale.
    """
    with changing(
        person,
        zone_id=zone_id,
        coat_id=coat_id,
        version=version,
        words=lambda bowl: say("scaled to {wanted_g:weight}", wanted_g=bowl.wanted_g),
    ) as bowl:
        pours = list(bowl.pours.all())
        total = sum((pour.grams for pour in pours), Decimal(0))
        if not total:
            raise Refusal("empty_bowl", "grams")
        wanted_g = max(bowl.wanted_g, WANTED_LEAST_G)
        scaled = scaled_to({pour.shade_id: float(pour.grams) for pour in pours}, float(wanted_g), step_g=SCALE_STEP_G)
        grams = {shade_id: Decimal(f"{weight:.2f}") for shade_id, weight in scaled.items()}
        for pour in pours:
            if grams[pour.shade_id] < pour.mixed_g:
                raise Refusal("already_mixed", "grams", mixed=pour.mixed_g)
        _checked(grams)
        refill(
            bowl,
            grams,
            mixed={pour.shade_id: pour.mixed_g for pour in pours},
            weighed={pour.shade_id: pour.weighed_g for pour in pours},
            doubts={pour.shade_id: pour.doubt_g for pour in pours},
        )
    return bowl


def _checked(grams: Mapping[int, Decimal]) -> None:
    """Raises Refusal for grams that no bowl can hold."""
    if any(g < 0 for g in grams.values()):
        raise Refusal("negative_grams", "grams")
    if not any(grams.values()):
        raise Refusal("empty_bowl", "grams")
    most, total = max(grams.values()), sum(grams.values())
    if most > POUR_MOST_G:
        raise Refusal("too_many_grams", "grams", most=POUR_MOST_G, given=most)
    check_pot(Decimal(total))
