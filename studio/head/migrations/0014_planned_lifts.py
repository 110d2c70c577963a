"""What a chosen route had planned beside the coats becomes coats: its lift, and the fill before its colour.

Where the studio has no line that they could be mixed from, or where they have been put on already, nothing is added.
"""

from django.db import migrations
from django.db.models import F


def into_coats(apps, schema_editor):
    for planned in apps.get_model("visits", "PlannedLift").objects.filter(zone__removed=False):
        if planned.zone.clocks.filter(kind="lightener").exists():
            continue
        line = _line(apps, planned.zone, ["lightener"])
        _add(apps, planned.zone, line, {"purpose": "lift", "to_level": planned.to_level}, own_vol=planned.vol)
    for chosen in apps.get_model("route", "ChosenRoute").objects.filter(zone__removed=False, kind="fill"):
        if chosen.zone.clocks.filter(kind="fill").exists():
            continue
        line = _line(apps, chosen.zone, ["direct", "booster", "mask", "demi"])
        _add(apps, chosen.zone, line, {"purpose": "fill"})


def _line(apps, zone, kinds):
    lines = apps.get_model("shelf", "ShadeLine").objects.filter(studio=zone.visit.client.studio, kind__in=kinds)
    return lines.order_by("position", "pk").first()


def _add(apps, zone, line, given, **bowl_given):
    """A coat in front of the zone's others, and in the step that its worktop stands at."""
    coats = zone.coats.filter(removed=False)
    worktop = apps.get_model("bench", "Worktop").objects.filter(visit=zone.visit).first()
    if line is None or worktop is None or coats.filter(purpose=given["purpose"]).exists():
        return
    if coats.filter(begun=True).exists() or not coats.exists():
        return
    bowl = worktop.bowls.create(line=line, wanted_g=coats.first().bowl.wanted_g if coats.first().bowl else 60, **bowl_given)
    lifts = coats.filter(purpose="lift").count() if given["purpose"] == "fill" else 0
    coats.filter(order__gte=lifts).update(order=F("order") + 1)
    coat = apps.get_model("bench", "Coat").objects.create(zone=zone, bowl=bowl, order=lifts, **given)
    step = worktop.steps.filter(number=worktop.cursor).first()
    if step is None or str(zone.pk) not in step.state["zones"]:
        return
    held = {"coat": coat.pk, "bowl": bowl.pk, "purpose": coat.purpose, "blend": coat.blend_percent}
    if coat.to_level is not None:
        held["to_level"] = str(coat.to_level)
    kept = {"line": line.pk, "wanted_g": str(bowl.wanted_g), "target": None, "grams": {}}
    if bowl.own_vol is not None:
        kept["developer"] = [str(bowl.own_vol), None]
    step.state["zones"][str(zone.pk)]["coats"].insert(lifts, held)
    step.state["bowls"][str(bowl.pk)] = kept
    step.save(update_fields=["state"])


class Migration(migrations.Migration):
    dependencies = [
        ("bench", "0013_plain_coats"),
        ("visits", "0009_halves"),
        ("route", "0003_coats"),
        ("clocks", "0005_plain_coats"),
    ]

    operations = [migrations.RunPython(into_coats, migrations.RunPython.noop)]
