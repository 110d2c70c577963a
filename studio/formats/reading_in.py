"""A file that was sent: what it is, and what is in it."""

from dataclasses import dataclass
from typing import Any, Final

from django.http import HttpRequest

from studio.formats.entry import Fault, Row
from studio.formats.logbook_in import read_logbook
from studio.formats.read_card import read_card
from studio.formats.table_text import text_of
from studio.ui.refusal import Refusal
from studio.ui.uploads import over_bound

FILE_MOST_BYTES: Final = 5_000_000


@dataclass(frozen=True, kw_only=True)
class Upload:
    """The formulas of a file, what is wrong with it, what a card's document holds beside them, and what is told."""

    rows: list[Row]
    faults: list[Fault]
    card: dict[str, Any] | None = None
    told: tuple[str, ...] = ()


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
        text = text_of(sent.read())
    except UnicodeDecodeError:
        raise Refusal("file_not_text", "file") from None
    if "\x00" in text:
        raise Refusal("file_not_text", "file")
    if text.lstrip()[:1] in ("{", "["):
        card, rows, faults = read_card(text)
        return Upload(rows=rows, faults=faults, card=card)
    found = read_logbook(text)
    return Upload(rows=found.rows, faults=found.faults, told=tuple(found.told))
