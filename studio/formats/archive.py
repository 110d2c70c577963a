"""Everything about one person in one archive: the card as data and as paper, and every photo."""

import io
import json
import zipfile
from dataclasses import asdict

from django.core.serializers.json import DjangoJSONEncoder

from studio.accounts.models import Person
from studio.cards.selectors import active_tweaks, card_of
from studio.clients.models import Consent
from studio.formats.card_json import card_document
from studio.formats.paper import card_pdf
from studio.photos.models import Photo
from studio.trace.selectors import traces_of_client
from studio.ui.speaking import WRITTEN_IN, speaking


def archive_of(person: Person, client_id: int) -> bytes:
    """A ZIP with card.json, which any studio's Rainshade takes in, card.pdf, consent.json, changes.json, and photos/.

    Raises Client.DoesNotExist for another studio's client.
    """
    client, formulas = card_of(person, client_id)
    body = io.BytesIO()
    with zipfile.ZipFile(body, "w", zipfile.ZIP_DEFLATED) as archive:
        document = json.dumps(card_document(person, client_id), indent=1, ensure_ascii=False)
        archive.writestr("card.json", document)
        archive.writestr("card.pdf", card_pdf(person, client, formulas, active_tweaks(person, client_id)))
        archive.writestr("consent.json", _told(_consents(person, client_id)))
        with speaking(WRITTEN_IN):  # as every file that programs read
            changes = [asdict(each) for each in traces_of_client(person, client_id, most=None)]
        archive.writestr("changes.json", _told(changes))
        for photo in Photo.objects.visible_to(person).filter(visit__client=client).select_related("visit"):
            name = f"{photo.visit.day:%Y-%m-%d}-{photo.visit_id}-{photo.purpose}"  # she may come twice a day
            archive.writestr(f"photos/{name}.jpg", bytes(photo.jpeg))
    return body.getvalue()


def _consents(person: Person, client_id: int) -> list[dict[str, object]]:
    """What the client agreed to and withdrew, with who noted it."""
    rows = Consent.objects.visible_to(person).filter(client=client_id)
    return [
        {
            "of": each.of,
            "given_at": each.given_at,
            "noted_by": str(each.noted_by),
            "withdrawn_at": each.withdrawn_at,
            "withdrawal_noted_by": str(each.withdrawal_noted_by or ""),
        }
        for each in rows.select_related("noted_by__same_as", "withdrawal_noted_by__same_as")
    ]


def _told(rows: list[dict[str, object]]) -> str:
    return json.dumps(rows, indent=1, ensure_ascii=False, cls=DjangoJSONEncoder)
