"""A database of an earlier day brought up to date: what stood in it is carried over."""

import datetime

from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import TransactionTestCase

SCHEMA = "an_earlier_day"
BEFORE = [("bench", "0001_initial"), ("visits", "0001_initial")]
WORKTOPS = [("bench", "0002_worktops")]
SERVINGS = [("bench", "0007_photo_hair"), ("clocks", "0003_what_was_mixed"), ("shelf", "0003_safety_by_coat")]
COATS = [("bench", "0009_coats_that_can_be"), ("clocks", "0004_coats")]
READ = [("bench", "0011_aims_of_zones"), ("visits", "0009_halves"), ("shelf", "0004_kinds")]
BOWLS = [("bench", "0012_bowls_of_read_hair")]
PLANNED = [
    ("bench", "0013_plain_coats"),
    ("route", "0003_coats"),
    ("clocks", "0005_plain_coats"),
    ("cards", "0010_halves"),
]
UNASKED = [("visits", "0013_worked_in_sections")]
ASKED = [("visits", "0014_unasked_is_not_answered")]
NO_ROLES, ROLES = [("accounts", "0007_learning")], [("accounts", "0008_roles")]
NO_PLANNED = [("visits", "0010_planned_lifts_are_coats")]


class CarriedOver(TransactionTestCase):
    """Migrations run in a schema of their own, so that the tables of the other tests stay as they are."""

    def setUp(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute(f"CREATE SCHEMA {SCHEMA}")
            cursor.execute(f"SET search_path TO {SCHEMA}, public")
        self.addCleanup(self._drop)

    def _drop(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute("SET search_path TO public")
            cursor.execute(f"DROP SCHEMA {SCHEMA} CASCADE")

    def begin_at(self, targets: list[tuple[str, str]]):
        """A database of that day, with a ledger of migrations of its own; the models as they were."""
        with connection.cursor() as cursor:
            cursor.execute(f"CREATE TABLE {SCHEMA}.django_migrations (LIKE public.django_migrations INCLUDING ALL)")
        return self.migrate(targets)

    def migrate(self, targets: list[tuple[str, str]]):
        """Go to the targets; the models as they are there."""
        executor = MigrationExecutor(connection)
        executor.loader.build_graph()
        return executor.migrate(targets).apps

    def test_who_came_first_to_a_studio_owns_it(self) -> None:
        old = self.begin_at(NO_ROLES)
        make, people = old.get_model("accounts", "Studio").objects.create, old.get_model("accounts", "Person").objects
        for name in ("Old Rope Walk", "Sail Loft"):
            studio = make(name=name)
            for n, gone in enumerate((True, False, False)):
                people.create(username=f"{name} {n}", studio_id=studio.pk, licensed=True, is_active=not gone)
        new = self.migrate(ROLES).get_model("accounts", "Person").objects
        owners = set(new.filter(role="owner").values_list("username", flat=True))
        self.assertEqual(owners, {"Old Rope Walk 1", "Sail Loft 1"})
        self.assertEqual(new.filter(role="colourist", licensed=True).count(), 4)

    def test_bowls_of_zones_become_worktops_with_all_their_steps(self) -> None:
        old = self.begin_at(BEFORE)
        made = {
            name: old.get_model(app, name)
            for app, name in (
                ("accounts", "Studio"),
                ("accounts", "Person"),
                ("clients", "Client"),
                ("visits", "Visit"),
                ("visits", "Zone"),
                ("shelf", "ShadeLine"),
                ("shelf", "Shade"),
                ("bench", "Bowl"),
                ("bench", "Pour"),
                ("bench", "BenchStep"),
            )
        }
        studio = made["Studio"].objects.create(name="Old Rope Walk")
        person = made["Person"].objects.create(username="old", studio_id=studio.pk)
        client = made["Client"].objects.create(studio_id=studio.pk, name="Pim Harrow")
        visit = made["Visit"].objects.create(client_id=client.pk, day=datetime.date(2026, 1, 2), colourist_id=person.pk)
        zone = made["Zone"].objects.create(visit_id=visit.pk, name="whole head")
        line = made["ShadeLine"].objects.create(studio_id=studio.pk, name="Ropewalk direct", kind="direct")
        shade = made["Shade"].objects.create(line_id=line.pk, name="Weld")
        bowl = made["Bowl"].objects.create(zone_id=zone.pk, line_id=line.pk, version=3, cursor=1, newest_step=2)
        made["Pour"].objects.create(bowl_id=bowl.pk, shade_id=shade.pk, grams=2)
        for number in range(3):
            state = {"line": line.pk, "wanted_g": "60", "target": None, "grams": {str(shade.pk): str(number)}}
            made["BenchStep"].objects.create(
                bowl_id=bowl.pk, number=number, words="poured", state=state, made_by_id=person.pk
            )

        new = self.migrate(WORKTOPS)
        worktop = new.get_model("bench", "Worktop").objects.get()
        self.assertEqual((worktop.visit_id, worktop.version, worktop.cursor, worktop.newest_step), (visit.pk, 3, 1, 2))
        serving = new.get_model("bench", "Serving").objects.get()
        self.assertEqual((serving.zone_id, serving.bowl_id, serving.blend_percent), (zone.pk, bowl.pk, 10))
        steps = list(new.get_model("bench", "BenchStep").objects.order_by("number"))
        self.assertEqual([step.worktop_id for step in steps], [worktop.pk] * 3)
        self.assertEqual(steps[2].state["bowls"][str(bowl.pk)]["grams"], {str(shade.pk): "2"})
        self.assertEqual(steps[2].state["zones"], {str(zone.pk): {"bowl": bowl.pk, "blend": 10}})
        self.assertEqual(new.get_model("bench", "Pour").objects.get().grams, 2)

    def test_what_served_a_zone_becomes_its_coat_with_its_clock_and_every_step(self) -> None:
        old = self.begin_at(SERVINGS)

        def make(app: str, model: str, **given: object):
            return old.get_model(app, model).objects.create(**given)

        studio = make("accounts", "Studio", name="Old Rope Walk")
        person = make("accounts", "Person", username="old", studio_id=studio.pk)
        client = make("clients", "Client", studio_id=studio.pk, name="Pim Harrow")
        visit = make("visits", "Visit", client_id=client.pk, day=datetime.date(2026, 11, 2), colourist_id=person.pk)
        zones = [make("visits", "Zone", visit_id=visit.pk, name=name, position=n) for n, name in enumerate("ab")]
        line = make("shelf", "ShadeLine", studio_id=studio.pk, name="Ropewalk direct", kind="direct")
        worktop = make("bench", "Worktop", visit_id=visit.pk, version=4, cursor=1, newest_step=2)
        bowls = [make("bench", "Bowl", worktop_id=worktop.pk, line_id=line.pk) for _ in zones]
        for zone, bowl in zip(zones, bowls, strict=True):
            make("bench", "Serving", zone_id=zone.pk, bowl_id=bowl.pk, blend_percent=25)
        one = {str(zones[0].pk): {"bowl": bowls[0].pk, "blend": 10}}
        both = one | {str(zones[1].pk): {"bowl": bowls[1].pk, "blend": 25}}
        for number, state in enumerate((one, one, both)):
            kept = {"bowls": {}, "zones": state}
            make("bench", "BenchStep", worktop=worktop, number=number, words="", state=kept, made_by_id=person.pk)
        on = datetime.datetime(2026, 11, 2, 10, 0, tzinfo=datetime.UTC)
        timed = {"planned_min": 30, "applied_at": on, "started_by_id": person.pk, "damp": True}
        off = on + datetime.timedelta(minutes=24)
        make("clocks", "ZoneClock", zone_id=zones[0].pk, bowl_id=bowls[0].pk, kind="direct", rinsed_at=off, **timed)
        make("clocks", "ZoneClock", zone_id=zones[1].pk, kind="lightener", **timed)

        new = self.migrate(COATS)
        coats = list(new.get_model("bench", "Coat").objects.order_by("zone__position"))
        seen = [(each.zone_id, each.bowl_id, each.blend_percent, each.purpose, each.order) for each in coats]
        self.assertEqual(seen, [(zone.pk, bowl.pk, 25, "colour", 0) for zone, bowl in zip(zones, bowls, strict=True)])
        self.assertEqual([(each.begun, each.damp, each.removed) for each in coats], [(True, True, False), (False,) * 3])
        self.assertEqual([each.worked_min for each in coats], [24, None])
        steps = list(new.get_model("bench", "BenchStep").objects.order_by("number"))
        first = {"coats": [{"coat": coats[0].pk, "bowl": bowls[0].pk, "purpose": "colour", "blend": 10}]}
        self.assertEqual(steps[0].state["zones"], {str(zones[0].pk): first})
        self.assertEqual(len(steps[2].state["zones"]), 2)
        clocks = new.get_model("clocks", "ZoneClock").objects.order_by("zone__position")
        self.assertEqual([clock.coat_id for clock in clocks], [coats[0].pk, None])

    def test_hair_that_was_read_has_a_bowl_and_the_step_that_it_begins_with(self) -> None:
        old = self.begin_at(READ)

        def make(app: str, model: str, **given: object):
            return old.get_model(app, model).objects.create(**given)

        studio = make("accounts", "Studio", name="Old Rope Walk")
        person = make("accounts", "Person", username="old", studio_id=studio.pk)
        client = make("clients", "Client", studio_id=studio.pk, name="Pim Harrow")
        line = make("shelf", "ShadeLine", studio_id=studio.pk, name="Ropewalk direct", kind="direct")
        days = [datetime.date(2026, 11, day) for day in (2, 3, 4)]
        bare, begun, unread = (
            make("visits", "Visit", client_id=client.pk, day=day, colourist_id=person.pk) for day in days
        )
        zones = {}
        for visit in (bare, begun, unread):
            for position, name in enumerate("ab"):
                zone = make("visits", "Zone", visit_id=visit.pk, name=name, position=position)
                zones[visit.pk, name] = zone.pk
                if visit is not unread:
                    make("visits", "Reading", zone_id=zone.pk, number=1, level=9, read_by_id=person.pk)
        worktop = make("bench", "Worktop", visit_id=begun.pk, version=2, cursor=1, newest_step=1)
        bowl = make("bench", "Bowl", worktop_id=worktop.pk, line_id=line.pk)
        coat = make("bench", "Coat", zone_id=zones[begun.pk, "a"], bowl_id=bowl.pk, begun=True, minutes=20)
        kept = {"coats": [{"coat": coat.pk, "bowl": bowl.pk, "purpose": "colour", "blend": 10}]}
        state = {"bowls": {str(bowl.pk): {}}, "zones": {str(zones[begun.pk, "a"]): kept}}
        make("bench", "BenchStep", worktop_id=worktop.pk, number=1, words="", state=state, made_by_id=person.pk)

        new = self.migrate(BOWLS)
        coats = new.get_model("bench", "Coat").objects
        self.assertFalse(coats.filter(zone__visit=unread.pk).exists())
        first, second = coats.filter(zone__visit=bare.pk).order_by("zone")
        self.assertEqual((first.bowl_id, first.bowl.line_id), (second.bowl_id, line.pk))
        joined = coats.get(zone=zones[begun.pk, "b"])
        self.assertEqual((joined.bowl_id, joined.begun, joined.minutes), (bowl.pk, False, 20))
        steps = {step.worktop.visit_id: step for step in new.get_model("bench", "BenchStep").objects.all()}
        self.assertEqual(set(steps), {bare.pk, begun.pk})
        self.assertEqual(steps[begun.pk].state["zones"][str(zones[begun.pk, "a"])], kept)
        self.assertEqual(steps[begun.pk].state["zones"][str(zones[begun.pk, "b"])]["coats"][0]["coat"], joined.pk)
        self.assertEqual((steps[bare.pk].number, len(steps[bare.pk].state["zones"])), (0, 2))

    def test_what_a_route_had_planned_becomes_coats_before_the_colour(self) -> None:
        old = self.begin_at(PLANNED)

        def make(app: str, model: str, **given: object):
            return old.get_model(app, model).objects.create(**given)

        studio = make("accounts", "Studio", name="Old Rope Walk")
        person = make("accounts", "Person", username="old", studio_id=studio.pk)
        client = make("clients", "Client", studio_id=studio.pk, name="Pim Harrow")
        visit = make("visits", "Visit", client_id=client.pk, day=datetime.date(2026, 11, 2), colourist_id=person.pk)
        line = make("shelf", "ShadeLine", studio_id=studio.pk, name="Ropewalk direct", kind="direct")
        powder = make("shelf", "ShadeLine", studio_id=studio.pk, name="Chalkcliff", kind="lightener", position=2)
        worktop = make("bench", "Worktop", visit_id=visit.pk)
        state: dict = {"bowls": {}, "zones": {}}
        zones = {}
        for name in ("lifted", "filled", "done"):
            zone = zones[name] = make("visits", "Zone", visit_id=visit.pk, name=name)
            bowl = make("bench", "Bowl", worktop_id=worktop.pk, line_id=line.pk, wanted_g=90)
            coat = make("bench", "Coat", zone_id=zone.pk, bowl_id=bowl.pk, begun=name == "done")
            held = {"coat": coat.pk, "bowl": bowl.pk, "purpose": "colour", "blend": 10}
            state["zones"][str(zone.pk)] = {"coats": [held]}
        make("bench", "BenchStep", worktop_id=worktop.pk, number=0, words="", state=state, made_by_id=person.pk)
        for name in ("lifted", "done"):
            make("visits", "PlannedLift", zone_id=zones[name].pk, to_level=9, vol=20)
        make("route", "ChosenRoute", zone_id=zones["filled"].pk, kind="fill", chosen_by_id=person.pk)

        new = self.migrate(NO_PLANNED)
        coats = new.get_model("bench", "Coat").objects
        seen = {name: list(coats.filter(zone=zone.pk).order_by("order")) for name, zone in zones.items()}
        self.assertEqual([coat.purpose for coat in seen["lifted"]], ["lift", "colour"])
        self.assertEqual([coat.purpose for coat in seen["filled"]], ["fill", "colour"])
        self.assertEqual([coat.purpose for coat in seen["done"]], ["colour"])
        lift = seen["lifted"][0]
        self.assertEqual(
            (lift.to_level, lift.bowl.line_id, lift.bowl.own_vol, lift.bowl.wanted_g), (9, powder.pk, 20, 90)
        )
        step = new.get_model("bench", "BenchStep").objects.get()
        told = step.state["zones"][str(zones["lifted"].pk)]["coats"]
        self.assertEqual(
            [(each["purpose"], each.get("to_level")) for each in told], [("lift", "9.00"), ("colour", None)]
        )

    def test_a_consult_that_was_held_before_counts_as_asked(self) -> None:
        old = self.begin_at(UNASKED)
        studio = old.get_model("accounts", "Studio").objects.create(name="Salt Row", town="Port Sennet")
        person = old.get_model("accounts", "Person").objects.create(username="salt", studio_id=studio.pk)
        held: dict[int, int] = {}
        for version in (0, 3):
            client = old.get_model("clients", "Client").objects.create(studio_id=studio.pk, name=f"Nell {version}")
            visit = old.get_model("visits", "Visit").objects.create(
                client_id=client.pk, day=datetime.date(2026, 11, 2), colourist_id=person.pk
            )
            held[version] = old.get_model("visits", "Consult").objects.create(visit_id=visit.pk, version=version).pk
        consults = self.migrate(ASKED).get_model("visits", "Consult").objects
        self.assertEqual(consults.get(pk=held[0]).answered, [])
        self.assertIn("scalp", consults.get(pk=held[3]).answered)
        self.assertEqual(len(consults.get(pk=held[3]).answered), 9)
