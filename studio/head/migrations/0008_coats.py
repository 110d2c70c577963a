"""What served a zone becomes its coat: one application of a bowl, of which a zone may have several.

Nobody is served otherwise than before: each serving becomes a coat to colour, the first of its zone, and every step
that can be undone names it.
"""

import django.db.models.deletion
from django.db import migrations, models


def steps_in_coats(apps, schema_editor):
    """Each zone of a step had one bowl: now it has one coat of it. A zone without a coat any more had none then."""
    coats = dict(apps.get_model("bench", "Coat").objects.values_list("zone", "pk"))
    steps = apps.get_model("bench", "BenchStep").objects
    for step in steps.iterator():
        step.state["zones"] = {
            zone: {"coats": [{"coat": coats[int(zone)], "bowl": has["bowl"], "purpose": "colour", "blend": has["blend"]}]}
            for zone, has in step.state["zones"].items()
            if int(zone) in coats
        }
        step.save(update_fields=["state"])


class Migration(migrations.Migration):
    dependencies = [
        ("bench", "0007_photo_hair"),
        ("visits", "0007_incident_minute"),
    ]

    operations = [
        migrations.RenameModel("Serving", "Coat"),
        migrations.RemoveConstraint("coat", "bench_serving_blend_0_50"),
        migrations.AlterField(
            "coat",
            "zone",
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="coats", to="visits.zone"),
        ),
        migrations.AlterField(
            "coat",
            "bowl",
            models.ForeignKey(
                blank=True,
                null=True,
                on_delete=django.db.models.deletion.PROTECT,
                related_name="coats",
                to="bench.bowl",
            ),
        ),
        migrations.AddField(
            "coat",
            "purpose",
            models.CharField(
                choices=[
                    ("remove", "remove"),
                    ("lift", "lift"),
                    ("equalise", "equalise"),
                    ("fill", "fill"),
                    ("pre_tone", "pre-tone"),
                    ("colour", "colour"),
                    ("overlay", "overlay"),
                    ("glaze", "glaze"),
                    ("mask", "mask"),
                    ("seal", "seal"),
                ],
                default="colour",
                max_length=8,
            ),
        ),
        migrations.AddField("coat", "order", models.PositiveSmallIntegerField(default=0)),
        migrations.AddField(
            "coat", "to_level", models.DecimalField(blank=True, decimal_places=2, max_digits=4, null=True)
        ),
        migrations.AddField(
            "coat", "minutes", models.DecimalField(blank=True, decimal_places=1, max_digits=4, null=True)
        ),
        migrations.AddField("coat", "begun", models.BooleanField(default=False)),
        migrations.AddField(
            "coat", "worked_min", models.DecimalField(blank=True, decimal_places=1, max_digits=5, null=True)
        ),
        migrations.AddField("coat", "damp", models.BooleanField(default=False)),
        migrations.AddField("coat", "removed", models.BooleanField(default=False)),
        migrations.AddField(
            "bowl",
            "own_vol",
            models.DecimalField(
                blank=True, decimal_places=1, help_text="none: the line's", max_digits=4, null=True
            ),
        ),
        migrations.AddField(
            "bowl",
            "own_parts",
            models.DecimalField(
                blank=True, decimal_places=1, help_text="none: the line's", max_digits=3, null=True
            ),
        ),
        migrations.AlterModelOptions("coat", {"ordering": ["order", "id"]}),
        migrations.RunPython(steps_in_coats, migrations.RunPython.noop),
    ]
