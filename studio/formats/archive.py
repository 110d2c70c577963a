"""Everything about one person in one archive: the card as data and as paper, and every photo."""

import io
import json
import zipfile

from studio.accounts.models import Person
from studio.cards.selectors import active_tweaks, card_of
from studio.formats.card_json import card_document
from studio.formats.paper import card_pdf
from studio.photos.models import Photo


def archive_of(person: Person, client_id: int) -> bytes:
    """A ZIP with card.json, which any studio's Rainshade takes in, card.pdf, and photos/.

    Raises Client.DoesNotExist for another studio's client.
    """
    client, formulas = card_of(person, client_id)
    body = io.BytesIO()
    with zipfile.ZipFile(body, "w", zipfile.ZIP_DEFLATED) as archive:
        document = json.dumps(card_document(person, client_id), indent=1, ensure_ascii=False)
        archive.writestr("card.json", document)
        archive.writestr("card.pdf", card_pdf(person, client, formulas, active_tweaks(person, client_id)))
        for photo in Photo.objects.visible_to(person).filter(visit__client=client).select_related("visit"):
            archive.writestr(f"photos/{photo.visit.day:%Y-%m-%d}-{photo.purpose}.jpg", bytes(photo.jpeg))
    return body.getvalue()
