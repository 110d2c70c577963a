"""Whose card a file means, and which tubes: by what they are known by in every file, or by name where it tells none."""

import uuid
from collections.abc import Iterable, Mapping
from typing import Any

from engine.dye.fingerprint import fingerprint
from engine.language import say
from studio.accounts.models import Person
from studio.clients.models import NAME_LONGEST, Client
from studio.formats.entry import Whose
from studio.formats.services.telling import Told
from studio.shelf.selectors import StockedLine


def clients_of(person: Person, wanted: Mapping[Whose, str], told: Told) -> dict[Whose, Client]:
    """The client that each of them means, made where nobody is her. wanted: what the file says about each.

    One whom nobody here is known by, and whose name somebody has, is a namesake unless it was decided that she is the
    same; then she is known by both from then on. Three queries, and one for each namesake.
    """
    uids = [uuid.UUID(whose.uid) for whose in wanted if whose.uid]
    here = Client.objects.visible_to(person)
    by_uid: dict[str, Client] = {}
    for client in here.filter(other_uids__overlap=uids) if uids else ():
        by_uid |= {str(each): client for each in client.other_uids}
    by_uid |= {str(client.uid): client for client in here.filter(uid__in=uids)} if uids else {}
    by_name = {client.name: client for client in here.filter(name__in={whose.name for whose in wanted})}
    found: dict[Whose, Client] = {}
    for whose, about in wanted.items():
        known = by_uid.get(whose.uid) or _of_that_name(whose, about, by_name, told)
        client = known or _added(person, whose, about, by_name)
        if known is None and client.name != whose.name:
            told.tell(
                say("{name}: somebody else has that name, so this card is “{own}”.", name=whose.name, own=client.name)
            )
        by_name.setdefault(client.name, client)
        if whose.uid:
            by_uid[whose.uid] = client
        found[whose] = client
    return found


def _of_that_name(whose: Whose, about: str, by_name: Mapping[str, Client], told: Told) -> Client | None:
    """Who has that name here, if she is meant."""
    client = by_name.get(whose.name)
    if client is None or not whose.uid:
        return client
    if not told.is_same(whose.name, whose.uid, about, client.about):
        return None
    client.other_uids = [*client.other_uids, uuid.UUID(whose.uid)]
    client.save(update_fields=["other_uids"])
    return client


def _added(person: Person, whose: Whose, about: str, by_name: Mapping[str, Client]) -> Client:
    """A new client; of a name that is here already, with a number behind it."""
    name, number = whose.name, 1
    while name in by_name or (number > 1 and Client.objects.visible_to(person).filter(name=name).exists()):
        number += 1
        name = f"{whose.name[: NAME_LONGEST - 5]} ({number})"
    known_by = {"uid": uuid.UUID(whose.uid)} if whose.uid else {}
    added = {"about": about, **known_by}
    return Client.objects.get_or_create(studio=person.studio, name=name, defaults=added)[0]


class Tubes:
    """What a file's names of lines and shades are called on this shelf."""

    def __init__(self, shelf: Mapping[str, StockedLine], said: Iterable[Mapping[str, Any]]) -> None:
        """said: the shelf of a card's document. What is known here by another name is called by that."""
        self._lines: dict[str, str] = {}
        self._shades: dict[tuple[str, str], str] = {}
        self._differing: dict[tuple[str, str], str] = {}
        by_uid = {str(stocked.line.uid): name for name, stocked in shelf.items()}
        for line in said:
            name = by_uid.get(line.get("uid", ""), line["name"])
            self._lines[line["name"]] = name
            if name in shelf:
                self._match(shelf[name], line)

    def _match(self, stocked: StockedLine, line: Mapping[str, Any]) -> None:
        named = {str(shade.uid): shade for shade in stocked.shades}
        by_name = {shade.name: shade for shade in stocked.shades}
        for each in line["shades"]:
            shade = named.get(each.get("uid", "")) or by_name.get(each["name"])
            if shade is None:
                continue
            self._shades[line["name"], each["name"]] = shade.name
            if each.get("fingerprint", "") not in ("", fingerprint(stocked.plain[shade.pk])):
                self._differing[line["name"], each["name"]] = f"{shade.name}, {stocked.line.name}"

    def tell(self, told: Told) -> None:
        """Say which tubes of the file do something else than those of their name here."""
        for name in self._differing.values():
            told.tell(
                say(
                    "{name}: the tube here works otherwise than that of the file, so forecasts of it differ.", name=name
                )
            )

    def renamed(self, formula: Mapping[str, Any]) -> Mapping[str, Any]:
        """A formula as a document writes it, with the names that its line and shades have here."""
        line = formula["line"].strip()
        pours = [pour | {"shade": self._shade(line, pour["shade"])} for pour in formula["pours"]]
        found = {**formula, "line": self._lines.get(line, line), "pours": pours}
        if laid := formula["hair"].get("laid"):
            found["hair"] = {**formula["hair"], "laid": [self._layer(each) for each in laid]}
        return found

    def _layer(self, layer: Mapping[str, Any]) -> dict[str, Any]:
        line = layer["line"]
        return {**layer, "line": self._lines.get(line, line), "shade": self._shade(line, layer["shade"])}

    def _shade(self, line: str, shade: str) -> str:
        return self._shades.get((line, shade.strip()), shade)
