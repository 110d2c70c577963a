"""A bowl for hair that has been read: it used to be opened by the first page that looked for it."""

from decimal import Decimal

from django.db import migrations

LIGHTENER = "lightener"


def open_bowls(apps, schema_editor):
    Visit = apps.get_model("visits", "Visit")
    for visit in Visit.objects.filter(zones__removed=False, zones__readings__isnull=False).distinct().iterator():
        zones = [zone for zone in visit.zones.filter(removed=False).order_by("position", "pk") if zone.readings.exists()]
        bare = [zone for zone in zones if not zone.coats.filter(removed=False).exists()]
        if not bare:
            continue
        served = [zone for zone in zones if zone not in bare]
        if served:
            for zone in bare:
                _copy_coats(apps, served[0], zone)
        elif not _first_bowl(apps, visit, bare):
            continue
        _remember(apps, visit)


def _first_bowl(apps, visit, bare):
    Worktop, Coat = apps.get_model("bench", "Worktop"), apps.get_model("bench", "Coat")
    lines = apps.get_model("shelf", "ShadeLine").objects.filter(studio=visit.client.studio)
    line = lines.exclude(kind=LIGHTENER).order_by("position", "pk").first()
    if line is None:
        return False
    worktop, _ = Worktop.objects.get_or_create(visit=visit)
    bowl = worktop.bowls.create(line=line, wanted_g=Decimal(60))
    for zone in bare:
        Coat.objects.create(zone=zone, bowl=bowl)
    return True


def _copy_coats(apps, like, zone):
    for coat in apps.get_model("bench", "Coat").objects.filter(zone=like, removed=False):
        coat.pk, coat.zone, coat.begun, coat.worked_min, coat.damp = None, zone, False, None, False
        coat._state.adding = True
        coat.save()


def _remember(apps, visit):
    """The newest step of its worktop holds the coats that were added; one that has none begins with it."""
    worktop = apps.get_model("bench", "Worktop").objects.get(visit=visit)
    step = worktop.steps.filter(number=worktop.cursor).first()
    if step is None:
        step = worktop.steps.create(
            number=worktop.cursor,
            words="an empty bowl",
            state={"bowls": {}, "zones": {}},
            made_by=visit.colourist,
        )
    for zone in visit.zones.filter(removed=False):
        coats = list(zone.coats.filter(removed=False).order_by("order", "pk"))
        if not coats or str(zone.pk) in step.state["zones"]:
            continue
        step.state["zones"][str(zone.pk)] = {
            "coats": [
                {"coat": coat.pk, "bowl": coat.bowl_id, "purpose": coat.purpose, "blend": coat.blend_percent}
                | {
                    name: str(given)
                    for name in ("to_level", "minutes", "apply_min")
                    if (given := getattr(coat, name)) is not None
                }
                for coat in coats
            ]
        }
        for bowl in (coat.bowl for coat in coats if coat.bowl_id is not None):
            step.state["bowls"].setdefault(
                str(bowl.pk), {"line": bowl.line_id, "wanted_g": str(bowl.wanted_g), "target": None, "grams": {}}
            )
    step.save()


class Migration(migrations.Migration):
    dependencies = [
        ("bench", "0011_aims_of_zones"),
        ("visits", "0009_halves"),
        ("shelf", "0004_kinds"),
    ]

    operations = [migrations.RunPython(open_bowls, migrations.RunPython.noop)]
