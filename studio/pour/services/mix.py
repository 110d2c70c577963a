"""Mix a batch, which starts its life, or begin the next one."""

import datetime
from decimal import Decimal

from django.db.models import Sum

from engine.language import say
from studio.accounts.models import Person
from studio.head.models import Portion
from studio.head.services.changing import changing, served_by
from studio.pour.models import Batch
from studio.pour.services.weigh import open_batch
from studio.shelf.services.stock import use
from studio.supplies.services.stock import use_developer
from studio.ui.refusal import Refusal


def mix_batch(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    at: datetime.datetime,
    late: bool = False,
) -> Batch:
    """Say that a batch is poured and stirred: its clock runs from `at`, and the shelf holds so much less.

    late: it was, while the tablet could not tell of it: what others have planned since is not in it. Raises Refusal
    empty_bowl, lines_left for lines of which nothing is in, batch_mixed; Stale; Bowl.DoesNotExist.
    """
    at_version = None if late else version
    with changing(person, zone_id=zone_id, coat_id=coat_id, version=at_version, words=say("the bowl is mixed")) as bowl:
        batch = open_batch(bowl)
        if late and any(pour.mixed_g for pour in bowl.pours.all()):
            bowl.pours.filter(mixed_g=0).delete()
        pours = list(bowl.pours.select_related("shade"))
        if not any(pour.mixed_g for pour in pours):
            raise Refusal("empty_bowl", "grams")
        left = [pour.shade.name for pour in pours if not pour.mixed_g]
        if left:
            raise Refusal("lines_left", names=", ".join(left))
        for pour in pours:
            pour.grams = pour.mixed_g
        Portion.objects.bulk_update(pours, ["grams"])
        batch.mixed_at = at
        batch.held = {str(pour.shade_id): str(pour.mixed_g) for pour in pours}
        batch.served = served_by(bowl)
        batch.save(update_fields=["mixed_at", "held", "served"])
        use(person, {pour.shade_id: pour.mixed_g for pour in pours}, _lots(batch))
        if bowl.parts and not batch.other_developer:
            use_developer(person, vol=bowl.vol, grams=_developer_g(batch, pours))
    return batch


def next_batch(person: Person, *, zone_id: int, coat_id: int | None = None, version: int) -> Batch:
    """Begin another filling of the same bowl by the same grams; the last one's stay on record.

    Raises Refusal batch_not_mixed; Stale; Bowl.DoesNotExist.
    """
    with changing(
        person, zone_id=zone_id, coat_id=coat_id, version=version, words=say("the next batch is begun")
    ) as bowl:
        last = bowl.batches.order_by("-number").first()
        if last is None or last.mixed_at is None:
            raise Refusal("batch_not_mixed")
        batch = bowl.batches.create(number=last.number + 1)
        bowl.pours.update(mixed_g=Decimal(0), weighed_g=Decimal(0))
    return batch


def _developer_g(batch: Batch, pours: list[Portion]) -> Decimal:
    """Grams of developer in a batch: as weighed, else as the line's ratio asks."""
    weighed = batch.weighings.filter(taken_back=False, shade=None).aggregate(grams=Sum("poured_g"))["grams"]
    return weighed or sum((pour.mixed_g for pour in pours), Decimal(0)) * batch.bowl.parts


def _lots(batch: Batch) -> dict[int, str]:
    """The numbers on the tubes that were noted, by shade: the last, where a bowl took from two."""
    noted = batch.weighings.filter(taken_back=False).exclude(lot="").exclude(shade=None)
    return dict(noted.order_by("pk").values_list("shade_id", "lot"))
