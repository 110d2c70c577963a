"""A file that was sent: what it is, and what is in it."""

from dataclasses import dataclass
from typing import Final

from django.http import HttpRequest

from studio.formats.card_json import read_card
from studio.formats.entry import Entry, EntryCard, Fault
from studio.formats.logbook_csv import read_logbook
from studio.ui.refusal import Refusal
from studio.ui.uploads import over_bound

FILE_MOST_BYTES: Final = 5_000_000


@dataclass(frozen=True, kw_only=True)
class Upload:
    """The entries of a file, what is wrong with it, and the card that it is, if it is one."""

    entries: list[Entry]
    faults: list[Fault]
    card: EntryCard | None = None


def read_upload(request: HttpRequest) -> Upload:
    """Read the file of a request as a card's JSON or a logbook's CSV. Raises Refusal file_missing, file_too_large,
    file_not_text.
    """
    if over_bound(request):
        raise Refusal("file_too_large", "file", most=FILE_MOST_BYTES // 1_000_000)
    sent = request.FILES.get("file")
    if sent is None or not sent.size:
        raise Refusal("file_missing", "file")
    if sent.size > FILE_MOST_BYTES:
        raise Refusal("file_too_large", "file", most=FILE_MOST_BYTES // 1_000_000)
    try:
        text = sent.read().decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refusal("file_not_text", "file") from None
    if "\x00" in text:
        raise Refusal("file_not_text", "file")
    if text.lstrip()[:1] in ("{", "["):
        card, entries, faults = read_card(text)
        return Upload(entries=entries, faults=faults, card=card)
    entries, faults = read_logbook(text)
    return Upload(entries=entries, faults=faults)
