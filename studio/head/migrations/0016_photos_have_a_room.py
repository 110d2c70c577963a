"""Photos have a room of their own; their table stays where it is."""

from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ("bench", "0015_portions_and_spots"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(state_operations=[migrations.DeleteModel(name="Photo")]),
    ]
