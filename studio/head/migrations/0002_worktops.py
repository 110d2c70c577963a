"""One worktop a visit, with bowls that serve zones; what stood in a zone's own bowl and its steps is carried over."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def carry_over(apps, schema_editor):
    """Each bowl gets its visit's worktop and serves its zone; its steps become the worktop's."""
    Bowl, Worktop, Serving, BenchStep = (
        apps.get_model("bench", name) for name in ("Bowl", "Worktop", "Serving", "BenchStep")
    )
    for bowl in Bowl.objects.select_related("zone").order_by("pk"):
        worktop = Worktop.objects.create(
            visit_id=bowl.zone.visit_id, version=bowl.version, cursor=bowl.cursor, newest_step=bowl.newest_step
        )
        bowl.worktop = worktop
        bowl.save(update_fields=["worktop"])
        Serving.objects.create(zone_id=bowl.zone_id, bowl=bowl)
        for step in BenchStep.objects.filter(bowl=bowl):
            step.worktop = worktop
            step.state = {
                "bowls": {str(bowl.pk): step.state},
                "zones": {str(bowl.zone_id): {"bowl": bowl.pk, "blend": 10}},
            }
            step.save(update_fields=["worktop", "state"])


class Migration(migrations.Migration):
    dependencies = [
        ("bench", "0001_initial"),
        ("visits", "0001_initial"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Worktop",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("version", models.PositiveIntegerField(default=0)),
                ("cursor", models.PositiveIntegerField(default=0)),
                ("newest_step", models.PositiveIntegerField(default=0)),
                (
                    "visit",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="worktop", to="visits.visit"
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(("cursor__lte", models.F("newest_step"))),
                        name="bench_worktop_cursor_at_a_step",
                    )
                ]
            },
        ),
        migrations.CreateModel(
            name="Serving",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("blend_percent", models.PositiveSmallIntegerField(default=10)),
                (
                    "bowl",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="servings", to="bench.bowl"
                    ),
                ),
                (
                    "zone",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="serving", to="visits.zone"
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(("blend_percent__lte", 50)), name="bench_serving_blend_0_50"
                    )
                ]
            },
        ),
        migrations.CreateModel(
            name="Photo",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("jpeg", models.BinaryField(max_length=600000)),
                ("width", models.PositiveSmallIntegerField()),
                ("height", models.PositiveSmallIntegerField()),
                ("paper_x", models.PositiveSmallIntegerField(blank=True, null=True)),
                ("paper_y", models.PositiveSmallIntegerField(blank=True, null=True)),
                (
                    "taken_by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "visit",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="photo", to="visits.visit"
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            models.Q(("paper_x", None), ("paper_y", None)),
                            models.Q(("paper_x__isnull", False), ("paper_y__isnull", False)),
                            _connector="OR",
                        ),
                        name="bench_photo_paper_whole",
                    )
                ]
            },
        ),
        migrations.AddField(
            "pour", "mixed_g", models.DecimalField(decimal_places=2, default=0, max_digits=6)
        ),
        migrations.AddField(
            "pour", "doubt_g", models.DecimalField(decimal_places=2, default=0, max_digits=6)
        ),
        migrations.AddConstraint(
            "pour",
            models.CheckConstraint(
                condition=models.Q(("mixed_g__gte", 0), ("mixed_g__lte", models.F("grams"))),
                name="bench_pour_mixed_within_grams",
            ),
        ),
        migrations.AddConstraint(
            "pour",
            models.CheckConstraint(
                condition=models.Q(("doubt_g__gte", 0)), name="bench_pour_doubt_not_negative"
            ),
        ),
        migrations.AddField("benchstep", "token", models.CharField(blank=True, max_length=36, default=""), False),
        migrations.AddField(
            "bowl",
            "worktop",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.CASCADE, related_name="bowls", to="bench.worktop"
            ),
        ),
        migrations.AddField(
            "benchstep",
            "worktop",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.CASCADE, related_name="steps", to="bench.worktop"
            ),
        ),
        migrations.RunPython(carry_over, migrations.RunPython.noop),
        # PostgreSQL won't change a table that still has constraints to check from the rows just written.
        migrations.RunSQL("SET CONSTRAINTS ALL IMMEDIATE", migrations.RunSQL.noop),
        migrations.RemoveConstraint("benchstep", "bench_step_number_once"),
        migrations.RemoveConstraint("bowl", "bench_bowl_cursor_at_a_step"),
        migrations.RemoveField("benchstep", "bowl"),
        migrations.RemoveField("bowl", "zone"),
        migrations.RemoveField("bowl", "version"),
        migrations.RemoveField("bowl", "cursor"),
        migrations.RemoveField("bowl", "newest_step"),
        migrations.AlterModelOptions("bowl", {"ordering": ["id"]}),
        migrations.AlterField(
            "bowl",
            "worktop",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="bowls", to="bench.worktop"
            ),
        ),
        migrations.AlterField(
            "benchstep",
            "worktop",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="steps", to="bench.worktop"
            ),
        ),
        migrations.AddConstraint(
            "benchstep",
            models.UniqueConstraint(fields=("worktop", "number"), name="bench_step_number_once"),
        ),
        migrations.AddConstraint(
            "benchstep",
            models.UniqueConstraint(
                condition=models.Q(("token", ""), _negated=True),
                fields=("worktop", "token"),
                name="bench_step_token_once",
            ),
        ),
    ]
