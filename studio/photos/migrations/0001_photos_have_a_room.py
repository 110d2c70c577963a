"""Photos as they were on the Bench, in the table that they have had there."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ("bench", "0016_photos_have_a_room"),
        ("visits", "0013_worked_in_sections"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="Photo",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        (
                            "purpose",
                            models.CharField(
                                choices=[
                                    ("aim", "to aim by"),
                                    ("result", "of the result"),
                                    ("wrong", "of what went wrong"),
                                ],
                                default="aim",
                                max_length=6,
                            ),
                        ),
                        ("jpeg", models.BinaryField(max_length=600000)),
                        ("width", models.PositiveSmallIntegerField()),
                        ("height", models.PositiveSmallIntegerField()),
                        ("paper_x", models.PositiveSmallIntegerField(blank=True, null=True)),
                        ("paper_y", models.PositiveSmallIntegerField(blank=True, null=True)),
                        ("hair_x", models.PositiveSmallIntegerField(blank=True, null=True)),
                        ("hair_y", models.PositiveSmallIntegerField(blank=True, null=True)),
                        ("spots", models.JSONField(blank=True, default=list)),
                        (
                            "taken_by",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                        (
                            "visit",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="photos",
                                to="visits.visit",
                            ),
                        ),
                    ],
                    options={
                        "db_table": "bench_photo",
                        "constraints": [
                            models.CheckConstraint(
                                condition=models.Q(paper_x=None, paper_y=None)
                                | models.Q(paper_x__isnull=False, paper_y__isnull=False),
                                name="bench_photo_paper_whole",
                            ),
                            models.CheckConstraint(
                                condition=models.Q(hair_x=None, hair_y=None)
                                | models.Q(hair_x__isnull=False, hair_y__isnull=False),
                                name="bench_photo_hair_whole",
                            ),
                            models.UniqueConstraint(fields=("visit", "purpose"), name="bench_photo_one_a_purpose"),
                        ],
                    },
                ),
            ],
        ),
    ]
