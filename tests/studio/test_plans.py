"""Lists and searches reach the big tables by an index: with a million rows a page must not read them all.

The planner reads a small table from end to end, and rightly. Told that this costs more than anything, it does so only
where no index serves: that is what fails here.
"""

import json

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse

from studio.cards.services.save_formula import save_formula
from tests.studio.made import StudioCase

# What grows with every visit of every studio.
BIG = frozenset(
    {
        *("cards_formula", "cards_formulapour", "cards_zoneresult", "cards_tweak", "cards_laterlook", "cards_homecare"),
        *("clients_client", "clients_skintest", "clients_pastwork", "visits_visit", "visits_zone", "visits_reading"),
        *("bench_benchstep", "bench_bowl", "bench_coat", "bench_portion", "bench_worktop", "bench_photo"),
        *("pour_batch", "pour_weighing", "clocks_zoneclock", "shelf_stockmove", "accounts_sentonce"),
    }
)
SEARCHES = (
    {},
    {"q": "Pim"},
    {"q": "orchil"},
    {"q": "a drop less"},
    {"level": "9"},
    {"lightness": "60", "chroma": "30", "hue": "350"},
    {"since": "2026-01-01", "until": "2026-12-31"},
)


def nodes(plan: dict):
    """Every step of a plan."""
    yield plan
    for below in plan.get("Plans", ()):
        yield from nodes(below)


class Plans(StudioCase):
    def scanned(self, address: str, sent: dict[str, str]) -> list[str]:
        """What a page's queries would read from end to end."""
        with CaptureQueriesContext(connection) as met:
            answer = self.client.get(address, sent)
        self.assertIn(answer.status_code, (200, 304), address)
        found = []
        with connection.cursor() as cursor:
            cursor.execute("SET LOCAL enable_seqscan = off")
            for query in met.captured_queries:
                if not query["sql"].startswith(("SELECT", "WITH")):
                    continue
                cursor.execute(f"EXPLAIN (FORMAT JSON) {query['sql']}")
                (told,) = cursor.fetchone()
                plan = (json.loads(told) if isinstance(told, str) else told)[0]["Plan"]
                for node in nodes(plan):
                    if node["Node Type"] == "Seq Scan" and node["Relation Name"] in BIG:
                        found.append(f"{node['Relation Name']}: {query['sql'][:300]}")
            cursor.execute("SET LOCAL enable_seqscan = on")
        return found

    def test_no_list_and_no_search_reads_a_big_table_from_end_to_end(self) -> None:
        self.send("aim", lightness="66", chroma="25", hue="0")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        client = self.visit.client_id
        pages = [(reverse("cards:list"), sent) for sent in SEARCHES]
        pages += [(reverse("cards:card", args=[client]), {}), (reverse("chairs:chairs"), {})]
        wrong = [f"{address} {sent}: {each}" for address, sent in pages for each in self.scanned(address, sent)]
        self.assertEqual(wrong, [])

    def test_it_would_tell(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute("SET LOCAL enable_seqscan = off")
            cursor.execute("EXPLAIN (FORMAT JSON) SELECT * FROM cards_formula WHERE grey > 3")
            (told,) = cursor.fetchone()
        plan = (json.loads(told) if isinstance(told, str) else told)[0]["Plan"]
        self.assertEqual([node["Node Type"] for node in nodes(plan)], ["Seq Scan"])
