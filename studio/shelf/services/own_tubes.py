"""Put a studio's own tubes on its shelf, and take them off again."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Final

from django.db import transaction
from django.db.models import Count, Max, ProtectedError, QuerySet

from engine.dye.guess import guessed
from engine.dye.known import Known
from studio.accounts.models import Person
from studio.shelf.engine_adapter import kind_of, knowledge_fields
from studio.shelf.list_in import Tube
from studio.shelf.models import Shade, ShadeLine, StockMove, TubeList
from studio.shelf.selectors import colour_lines
from studio.shelf.services.holding import held_line, held_shade, line_changed
from studio.shelf.services.stock import take_away
from studio.shelf.signals import first_line_stocked
from studio.ui.refusal import Refusal

KEYS: Final = "1234567890-="
ONCE_EACH: Final = {"name": "tube_name_taken", "code": "code_taken", "keyboard_key": "key_taken"}  # in a line
LINES_MOST: Final = 40
SHADES_MOST: Final = 400  # of one line


@dataclass(frozen=True, kw_only=True)
class NewLine:
    """A line that comes with its first list. developer_parts: to one of colour, 0 for none."""

    name: str
    kind: str
    developer_parts: Decimal
    developer_vol: Decimal
    tube_g: Decimal
    tone_letters: str = ""


@transaction.atomic
def take_list(person: Person, *, line: NewLine | int, tubes: Sequence[Tube], tone_letters: str = "") -> TubeList:
    """Put tubes on the shelf as one: on a line of the studio, by its row, or on a new one. Each is a guess by its name.

    tone_letters: the table that the line has from now on, if one is said. A full tube of each is on the shelf.
    Raises Refusal empty_list, line_name_taken, too_many_lines, too_many_shades, vol_without_developer;
    ShadeLine.DoesNotExist.
    """
    if not tubes:
        raise Refusal("empty_list", "list")
    shelf_line = added_line(person, line, tubes) if isinstance(line, NewLine) else held_line(person, line)
    if tone_letters and tone_letters != shelf_line.tone_letters:
        shelf_line.tone_letters = tone_letters
        shelf_line.save(update_fields=["tone_letters"])
    here = list(shelf_line.shades.all())
    if len(here) + len(tubes) > SHADES_MOST:
        raise Refusal("too_many_shades", "list", most=SHADES_MOST)
    is_first = not colour_lines(person).exclude(pk=shelf_line.pk).exists()
    made = TubeList.objects.create(line=shelf_line, is_new_line=isinstance(line, NewLine), taken_by=person)
    keys = iter([key for key in KEYS if key not in {shade.keyboard_key for shade in here}])
    place = max((shade.position for shade in here), default=-1)
    for number, tube in enumerate(tubes, place + 1):
        _stock(shelf_line, made, tube, number, next(keys, ""))
    line_changed(shelf_line.pk)
    if is_first and made.is_new_line:
        first_line_stocked.send(TubeList, person=person)
    return made


@transaction.atomic
def undo_list(person: Person, *, list_id: int) -> ShadeLine | None:
    """Take all tubes of a list off again; its line, too, if that came with it and has nothing else.

    Returns the line if it stays. Raises Refusal list_in_use, with the names, when bowls or cards hold one of them, or
    more is known of it by now; TubeList.DoesNotExist.
    """
    found = TubeList.objects.visible_to(person).select_related("line").get(pk=list_id)
    line = held_line(person, found.line_id)
    _check_bare(found.shades.all())
    try:
        with transaction.atomic():
            found.shades.all().delete()
            is_bare = found.is_new_line and not line.shades.exists()
            if is_bare:
                line.delete()
            else:
                found.delete()
    except ProtectedError as error:
        names = {
            str(shade) for shade in found.shades.all() if any(_is_of(each, shade) for each in error.protected_objects)
        }
        raise Refusal("list_in_use", names=", ".join(sorted(names)) or str(line)) from None
    if is_bare:
        return None
    line_changed(line.pk)
    return line


@transaction.atomic
def take_off(person: Person, *, shade_id: int) -> Shade | None:
    """Take a tube off the shelf: gone if nothing is known of it but its name, else kept for the bowls and cards that
    hold it and for what was read and counted of it, and offered no more.

    Returns what is kept. Raises Shade.DoesNotExist.
    """
    shade = held_shade(person, shade_id)
    try:
        with transaction.atomic():
            _check_bare(Shade.objects.filter(pk=shade_id))
            shade.delete()
    except (ProtectedError, Refusal):
        shade = held_shade(person, shade_id)
        shade.off_shelf = True
        take_away(person, shade)
        return shade
    line_changed(shade.line_id)
    return None


@transaction.atomic
def put_back(person: Person, *, shade_id: int) -> Shade:
    """Put a tube that was taken off on the shelf again, empty until it is counted. Raises Shade.DoesNotExist."""
    shade = held_shade(person, shade_id)
    shade.off_shelf = False
    shade.save(update_fields=["off_shelf"])
    line_changed(shade.line_id)
    return shade


@transaction.atomic
def set_tube(person: Person, *, shade_id: int, says: dict[str, object]) -> Shade:
    """Set what is written on a tube, what it costs and when more of it is ordered.

    Raises Refusal tube_name_taken, code_taken, key_taken; Shade.DoesNotExist.
    """
    shade = held_shade(person, shade_id)
    others = shade.line.shades.exclude(pk=shade_id)
    for field, refusal in ONCE_EACH.items():
        said = str(says.get(field, ""))
        if said and others.filter(**{f"{field}__iexact": said}).exists():
            raise Refusal(refusal, field, said=said)
    for name, given in says.items():
        setattr(shade, name, given)
    shade.save(update_fields=list(says))
    line_changed(shade.line_id)
    return shade


def _check_bare(shades: QuerySet[Shade]) -> None:
    """Raises Refusal list_in_use for tubes of which strands were read, or more is noted than that they came."""
    counted = shades.annotate(moved=Count("moves", distinct=True), read=Count("strands", distinct=True))
    if known := [shade.name for shade in counted if shade.moved > 1 or shade.read]:
        raise Refusal("list_in_use", names=", ".join(sorted(known)))


def added_line(person: Person, new: NewLine, tubes: Sequence[Tube] = ()) -> ShadeLine:
    """A new line behind the others, whose tubes hold what most of a list say, or what is said of the line.

    Raises Refusal line_name_taken, too_many_lines, vol_without_developer.
    """
    lines = ShadeLine.objects.visible_to(person)
    if lines.filter(name__iexact=new.name).exists():
        raise Refusal("line_name_taken", "line_name", name=new.name)
    if lines.count() >= LINES_MOST:
        raise Refusal("too_many_lines", "line_name", most=LINES_MOST)
    if bool(new.developer_parts) != bool(new.developer_vol):
        raise Refusal("vol_without_developer", "developer_vol")
    sizes = Counter(tube.size_g for tube in tubes if tube.size_g)
    last = lines.aggregate(last=Max("position"))["last"]
    line = ShadeLine(
        studio=person.studio,
        name=new.name,
        kind=new.kind,
        position=0 if last is None else last + 1,
        developer_parts=new.developer_parts,
        developer_vol=new.developer_vol,
        tube_g=sizes.most_common(1)[0][0] if sizes else new.tube_g,
        tone_letters=new.tone_letters,
    )
    line.time_constant_min = Decimal(str(kind_of(line).habits.time_constant_min))
    line.save()
    return line


def _stock(line: ShadeLine, listed: TubeList, tube: Tube, position: int, key: str) -> None:
    shade = Shade(
        name=tube.name,
        code=tube.code,
        level=tube.level,
        tones=", ".join(tube.tones),
        position=position,
        keyboard_key=key,
        stock_g=tube.size_g or line.tube_g,
        tube_price=tube.price,
        strength=Decimal(0),
        thins=tube.thins or Decimal(1),
    )
    if tube.thins is None:
        level = None if tube.level is None else float(tube.level)
        found = guessed(tube.name, kind=kind_of(line), tones=tube.tones, level=level)
        for name, given in knowledge_fields(Known.NAMED, found).items():
            setattr(shade, name, given)
    put_on(shade, listed)


def put_on(shade: Shade, listed: TubeList) -> None:
    """Save a new tube of a list; what is there of it came with the list."""
    shade.line, shade.listed = listed.line, listed
    shade.save()
    if shade.stock_g:
        StockMove.objects.create(
            shade=shade,
            kind=StockMove.Kind.DELIVERED,
            grams=shade.stock_g,
            left_g=shade.stock_g,
            paid=shade.tube_price or None,
            made_by=listed.taken_by,
        )


def _is_of(held: object, shade: Shade) -> bool:
    return getattr(held, "shade_id", None) == shade.pk
