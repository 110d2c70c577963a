"""What the database itself refuses: every constraint of every model, each tried with a row that breaks it alone."""

import datetime
import itertools
import uuid
from collections.abc import Iterator
from decimal import Decimal
from functools import partial

from django.apps import apps
from django.contrib.postgres.fields import ArrayField
from django.db import DataError, IntegrityError, connection, models, transaction
from django.utils import timezone

from studio.accounts.models import Person, SentOnce
from studio.formats.models import Intake, IntakePart
from tests.studio.made import StudioCase, make_person
from tests.studio.made_far import bring_far

NUMBERS = (-1, -1000, 0, 1, 2, 9, 12, 26, 51, 200, 999, -99, Decimal("0.5"), Decimal("1.7"), 5000)
LONG_AGO = datetime.datetime(1990, 1, 1, tzinfo=datetime.UTC)


def own_models() -> list[type[models.Model]]:
    """The application's own; what triggers keep of their rows has no conditions."""
    kept = [model for model in apps.get_models() if model.__module__.startswith("studio.")]
    return [model for model in kept if not hasattr(model, "pgh_tracked_model")]


def tried_values(field: models.Field) -> list[object]:
    """What a field may be asked to hold."""
    if isinstance(field, ArrayField):
        return [[], ["~"]]
    if isinstance(field, models.BooleanField):
        return [True, False]
    if isinstance(field, (models.CharField, models.TextField)):
        return ["", "x"]
    if isinstance(field, models.DateTimeField):
        return [None, LONG_AGO, timezone.now()]
    if isinstance(field, models.DateField):
        return [None, LONG_AGO.date(), timezone.localdate()]
    if field.related_model is field.model:  # the row itself
        return [None, models.F("pk")]
    return [None, *NUMBERS]


def changes(row: models.Model, constraint: models.CheckConstraint) -> Iterator[dict[str, object]]:
    """Values for the fields of a condition, one or two at once."""
    names = sorted({name.partition("__")[0] for name, _ in _leaves(constraint.condition)})
    for count in (1, 2):
        for chosen in itertools.combinations(names, count):
            for values in itertools.product(*(tried_values(row._meta.get_field(name)) for name in chosen)):
                yield dict(zip(chosen, values, strict=True))


def another(value: object) -> object:
    """A value that no row has."""
    if isinstance(value, uuid.UUID):
        return uuid.uuid4()
    if isinstance(value, datetime.date):
        return value + datetime.timedelta(days=1000)
    return "~" if isinstance(value, str) else value + 1000


def twin(row: models.Model, constraint: models.UniqueConstraint) -> models.Model:
    """The row once more, other than it where another constraint asks."""
    for other in row._meta.constraints:
        if isinstance(other, models.UniqueConstraint) and other is not constraint:
            names = [name for name in other.fields if name not in constraint.fields]
            if not names:  # only some rows are told apart by it, and this is none of them
                setattr(row, next(name for name, _ in _leaves(other.condition)), False)
                continue
            own = row._meta.get_field(names[0])
            value = getattr(row, own.attname)
            setattr(row, own.attname, another(value))
    for field in row._meta.concrete_fields:
        if field.unique and not field.primary_key and isinstance(field, models.CharField):
            setattr(row, field.attname, "~")
    row.pk = None
    return row


def _leaves(condition: models.Q) -> Iterator[tuple[str, object]]:
    for each in condition.children:
        if isinstance(each, models.Q):
            yield from _leaves(each)
        else:
            yield each


class Constraints(StudioCase):
    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        bring_far(cls.person, cls.visit)
        intake = Intake.objects.create(studio=cls.person.studio, person=cls.person, total=1)
        IntakePart.objects.create(intake=intake, number=0, rows=[])
        SentOnce.objects.create(person=cls.person, token="a", made_at=timezone.now())
        there = make_person("Sail Loft", "sail").studio
        Person.objects.create_user(username="elsewhere", studio=there, same_as=cls.person)

    def refused(self, name: str, make) -> bool:
        """Whether the database refuses it by that name."""
        try:
            with transaction.atomic():
                make()
                connection.check_constraints()
                transaction.set_rollback(True)
        except IntegrityError as error:
            return name in str(error)
        except DataError:  # a value that its column can't hold at all says nothing of the constraint
            return False
        return False

    def test_every_condition_refuses_what_breaks_it(self) -> None:
        tried = 0
        for model in own_models():
            for constraint in model._meta.constraints:
                if not isinstance(constraint, models.CheckConstraint):
                    continue
                with self.subTest(constraint=constraint.name):
                    rows = model._base_manager.all()[:4]
                    self.assertTrue(rows, f"no {model.__name__} to try it on: bring one in made_far")
                    refused = (
                        self.refused(constraint.name, partial(model._base_manager.filter(pk=row.pk).update, **change))
                        for row in rows
                        for change in changes(row, constraint)
                    )
                    self.assertTrue(any(refused))
                    tried += 1
        self.assertGreater(tried, 45)

    def test_what_is_to_be_there_once_is_refused_twice(self) -> None:
        tried = 0
        for model in own_models():
            for constraint in model._meta.constraints:
                if not isinstance(constraint, models.UniqueConstraint):
                    continue
                with self.subTest(constraint=constraint.name):
                    rows = model._base_manager.filter(**{f"{name}__isnull": False for name in constraint.fields})
                    row = (rows.filter(constraint.condition) if constraint.condition else rows).first()
                    self.assertIsNotNone(row, f"no {model.__name__} to try it on: bring one in made_far")
                    again = twin(row, constraint)
                    self.assertTrue(self.refused(constraint.name, partial(again.save, force_insert=True)))
                    tried += 1
        self.assertGreater(tried, 12)

    def test_what_has_one_row_beside_it_has_no_other(self) -> None:
        for model in own_models():
            for field in model._meta.concrete_fields:
                if field.primary_key or not field.unique or not model._base_manager.exists():
                    continue
                with self.subTest(field=f"{model.__name__}.{field.name}"):
                    row = model._base_manager.first()
                    for other in model._meta.concrete_fields:  # so that this one alone is what refuses it
                        if other.unique and other is not field and isinstance(other, models.CharField):
                            setattr(row, other.attname, "~")
                    row.pk = None
                    self.assertTrue(self.refused(field.column, partial(row.save, force_insert=True)))

    def test_a_row_with_numbers_has_conditions_on_them(self) -> None:
        for model in own_models():
            if any(isinstance(field, models.DecimalField) for field in model._meta.concrete_fields):
                checks = [each for each in model._meta.constraints if isinstance(each, models.CheckConstraint)]
                self.assertTrue(checks, model.__name__)
