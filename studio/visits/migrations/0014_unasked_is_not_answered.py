from django.db import migrations, models

CHOICES = ["setting", "upkeep", "nerve", "scalp", "length", "density", "texture", "curl", "lay"]


def asked_all(apps, schema_editor):
    """Until now a consult that was changed once kept every choice as made."""
    apps.get_model("visits", "Consult").objects.filter(version__gt=0).update(answered=CHOICES)


class Migration(migrations.Migration):
    dependencies = [
        ("visits", "0013_worked_in_sections"),
    ]

    operations = [
        migrations.AddField(
            model_name="consult",
            name="answered",
            field=models.JSONField(default=list, help_text="which of the choices were made"),
        ),
        migrations.RunPython(asked_all, migrations.RunPython.noop),
    ]
