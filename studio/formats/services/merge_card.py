"""What a card's document holds beside formulas, merged with what is known here.

Facts that safety hangs on only ever add up: of two words the more careful one stands, whichever side it comes from.
"""

from collections.abc import Mapping
from decimal import Decimal
from typing import Any, Final

from django.utils import timezone

from engine.language import say
from studio.accounts.models import Person
from studio.clients.models import Client, PastWork, SkinTest, StrandTest
from studio.formats.entry import Whose, day_of, moment_of
from studio.formats.services.identity import clients_of
from studio.formats.services.merge_visits import last_visit, merge_care, merge_tweaks, merge_visit
from studio.formats.services.telling import Told
from studio.shelf.models import ShadeLine

SENSITIVITIES_MOST: Final = 200
NOTES_MOST: Final = 2000


def merge_card(person: Person, card: Mapping[str, Any], told: Told) -> Client:
    """Merge a document that fits the schema onto the client it is of, who is made if not here.

    What can't be kept, and where the two differ, is told.
    """
    said = card["client"]
    whose = Whose(name=said["name"], uid=said.get("uid", ""))
    client = clients_of(person, {whose: said.get("about", "")}, told)[whose]
    lines = {line.name: line for line in ShadeLine.objects.visible_to(person)}
    _merge_client(client, said, told)
    _merge_past(client, card.get("past_work", []))
    _merge_skin_tests(person, client, card.get("skin_tests", []), lines, told)
    _merge_strand_tests(person, client, card.get("strand_tests", []), lines, told)
    client.save()
    for visit in card.get("visits", []):
        merge_visit(person, client, visit, told)
    merge_tweaks(person, client, card.get("change_next_time", []), told)
    if "home_care" in card and (last := last_visit(client)):
        merge_care(last, card["home_care"], told)
    return client


def _merge_client(client: Client, said: Mapping[str, Any], told: Told) -> None:
    if not Client.objects.filter(studio=client.studio, name=said["name"]).exists():
        told.settle(client, "name", said["name"], where=client.name)
    told.settle(client, "about", said.get("about", ""), where=client.name)
    client.notes = _joined_notes(client, said.get("notes", ""), told)
    client.reacted |= said.get("reacted", False)
    client.black_henna_tattoo |= said.get("black_henna_tattoo", False)
    for words in said.get("sensitivities", "").split(","):
        _add_sensitivity(client, words, told)
    if "born_on" in said:
        told.settle(client, "born_on", day_of(said["born_on"], "born_on"), where=client.name)


def _joined_notes(client: Client, theirs: str, told: Told) -> str:
    """Notes of both sides one below the other, unless one holds the other."""
    ours = client.notes
    if not theirs or theirs in ours:
        return ours
    if ours in theirs:
        return theirs
    both = f"{ours}\n{theirs}"
    if len(both) > NOTES_MOST:
        told.tell(
            say(
                "{name}: the notes of the file do not fit below those that are here, and were left out.",
                name=client.name,
            )
        )
        return ours
    return both


def _add_sensitivity(client: Client, words: str, told: Told) -> None:
    known = [each.strip() for each in client.sensitivities.split(",") if each.strip()]
    if not words.strip() or words.strip().lower() in {each.lower() for each in known}:
        return
    both = ", ".join([*known, words.strip()])
    if len(both) <= SENSITIVITIES_MOST:
        client.sensitivities = both
    else:
        client.reacted = True
        told.tell(
            say(
                "{name}: “{words}” does not fit under sensitivities; noted as an earlier reaction.",
                name=client.name,
                words=words.strip()[:80],
            )
        )


def _merge_past(client: Client, said: list[Mapping[str, Any]]) -> None:
    known = {(past.work, past.part, past.done_on) for past in client.past.all()}
    fresh = []
    for each in said:
        past = PastWork(
            client=client,
            work=each["work"],
            part=each["part"],
            done_on=day_of(each["done_on"], "done_on"),
            note=each.get("note", ""),
        )
        if (past.work, past.part, past.done_on) not in known:
            fresh.append(past)
            known.add((past.work, past.part, past.done_on))
    PastWork.objects.bulk_create(fresh)


def _merge_skin_tests(
    person: Person, client: Client, said: list[Mapping[str, Any]], lines: Mapping[str, ShadeLine], told: Told
) -> None:
    """Tests by line, moment and outcome. A reaction to a line that is not on this shelf stays as a sensitivity."""
    known = {(test.line_id, test.tested_at, test.clear) for test in client.skin_tests.all()}
    for each in said:
        name, tested_at = each.get("line", ""), moment_of(each["tested_at"], "tested_at")
        if name and name not in lines:
            day = timezone.localdate(tested_at)
            if each["clear"]:
                told.tell(
                    say(
                        "{name}: a clear skin test of {name2}, {day}, was left out: the line is not here.",
                        name=client.name,
                        name2=name,
                        day=day,
                    )
                )
            else:
                client.reacted = True
                _add_sensitivity(client, say("reacted to {name} on {day}", name=name, day=day), told)
            continue
        line = lines[name] if name else None
        if (line.pk if line else None, tested_at, each["clear"]) not in known:
            SkinTest.objects.create(
                client=client, line=line, tested_at=tested_at, clear=each["clear"], recorded_by=person
            )


def _merge_strand_tests(
    person: Person, client: Client, said: list[Mapping[str, Any]], lines: Mapping[str, ShadeLine], told: Told
) -> None:
    known = {(test.line_id, test.part, test.tested_at) for test in client.strand_tests.all()}
    for each in said:
        name, tested_at = each.get("line", ""), moment_of(each["tested_at"], "tested_at")
        if name and name not in lines:
            told.tell(
                say(
                    "{name}: a strand test of {name2} was left out: the line is not here.", name=client.name, name2=name
                )
            )
            continue
        line = lines[name] if name else None
        if (line.pk if line else None, each["part"], tested_at) in known:
            continue
        held = each.get("stretch_held", True)
        StrandTest.objects.create(
            client=client,
            line=line,
            part=each["part"],
            products=each.get("products", []),
            vol=round(Decimal(str(each.get("vol", 0))), 1),
            minutes=max(round(Decimal(str(each["minutes"])), 1), Decimal("0.1")),
            grams=each.get("grams", {}),
            forecast_lab=each.get("forecast_lab", []),
            seen_lab=each.get("seen_lab", []),
            colour_seen=each.get("colour_seen", ""),
            stretch_held=held,
            passed=each["passed"] and held,
            tested_at=tested_at,
            recorded_by=person,
        )
