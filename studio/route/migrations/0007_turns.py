"""A zone that was to be taken up first is the first of the turns."""

from django.db import migrations, models


def carry_over(apps, schema_editor):
    plans = apps.get_model("route", "VisitPlan").objects.exclude(first_zone=None)
    for plan in plans:
        plan.turns = [plan.first_zone_id]
        plan.save(update_fields=["turns"])


def carry_back(apps, schema_editor):
    zones = set(apps.get_model("visits", "Zone").objects.values_list("pk", flat=True))
    for plan in apps.get_model("route", "VisitPlan").objects.exclude(turns=[]):
        plan.first_zone_id = plan.turns[0] if plan.turns[0] in zones else None
        plan.save(update_fields=["first_zone"])
    schema_editor.execute("SET CONSTRAINTS ALL IMMEDIATE")


class Migration(migrations.Migration):

    dependencies = [
        ("route", "0006_agreement_without_materials"),
    ]

    operations = [
        migrations.AddField(
            model_name="visitplan",
            name="turns",
            field=models.JSONField(blank=True, default=list),
        ),
        migrations.RunPython(carry_over, carry_back),
        migrations.RemoveField(
            model_name="visitplan",
            name="first_zone",
        ),
    ]
