"""What is planned of a shade in a bowl is a portion; a photo of what went wrong has its spots."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ("bench", "0014_planned_lifts"),
        ("shelf", "0005_carriers"),
    ]

    operations = [
        migrations.RenameModel(old_name="Pour", new_name="Portion"),
        migrations.AddField(
            model_name="photo",
            name="spots",
            field=models.JSONField(blank=True, default=list),
        ),
        migrations.AlterField(
            model_name="photo",
            name="purpose",
            field=models.CharField(
                choices=[("aim", "to aim by"), ("result", "of the result"), ("wrong", "of what went wrong")],
                default="aim",
                max_length=6,
            ),
        ),
    ]
