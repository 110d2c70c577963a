"""Small ZIP files of texts, made and looked into in memory, within bounds."""

import io
import stat
import zipfile
import zlib
from collections.abc import Mapping
from typing import Final

from engine.language import say

ZIP_BEGINS: Final = b"PK\x03\x04"
MEMBERS_MOST: Final = 20


def zipped(files: Mapping[str, str]) -> bytes:
    """Texts by their names as one file."""
    body = io.BytesIO()
    with zipfile.ZipFile(body, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in files.items():
            archive.writestr(name, text)
    return body.getvalue()


def unzipped(body: bytes, *, most_bytes: int) -> dict[str, str]:
    """The texts of a file by their names. Raises ValueError, in words, for what is none, too large, or no text."""
    try:
        archive = zipfile.ZipFile(io.BytesIO(body))
    except (zipfile.BadZipFile, OSError, ValueError):
        raise ValueError(say("this is no ZIP, or it was cut off")) from None
    members = [each for each in archive.infolist() if not each.is_dir()]
    if len(members) > MEMBERS_MOST or sum(each.file_size for each in members) > most_bytes:
        raise ValueError(say("it unpacks to more than such a file can hold"))
    if any(stat.S_ISLNK(each.external_attr >> 16) or each.flag_bits & 1 for each in members):
        raise ValueError(say("it holds a link, or what is locked"))
    try:
        return {each.filename: archive.read(each).decode("utf-8-sig") for each in members}
    except UnicodeDecodeError:
        raise ValueError(say("it holds what is no text in UTF-8")) from None
    except (zipfile.BadZipFile, zlib.error, OSError, NotImplementedError, EOFError):
        raise ValueError(say("this is no ZIP, or it was cut off")) from None
