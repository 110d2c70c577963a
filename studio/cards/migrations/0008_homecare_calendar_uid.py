import uuid

from django.db import migrations, models


def give_each_its_own(apps, schema_editor):
    HomeCare = apps.get_model("cards", "HomeCare")
    for care in HomeCare.objects.all().iterator():
        care.calendar_uid = uuid.uuid4()
        care.save(update_fields=["calendar_uid"])


class Migration(migrations.Migration):
    dependencies = [
        ("cards", "0007_what_was_mixed"),
    ]

    operations = [
        migrations.AddField(
            model_name="homecare",
            name="calendar_uid",
            field=models.UUIDField(
                default=uuid.uuid4, editable=False, help_text="of the next visit in any calendar"
            ),
        ),
        migrations.RunPython(give_each_its_own, migrations.RunPython.noop),
    ]
