"""An archive that was brought, looked at before anything of it is taken: whole, of this program, and within bounds."""

import hashlib
import io
import json
import re
import stat
import zipfile
from collections.abc import Iterator, Mapping
from typing import Any, Final

from PIL import Image

from engine.language import say
from studio.archives.schema import FORMAT, VERSION
from studio.archives.tables import CONTEXTS, PATHS
from studio.ui.json_in import loaded

MANIFEST_MOST: Final = 200_000_000  # bytes: a line for each photo
NAMED_IN_BYTES: Final = 8  # what a row, or what names one that is gone, takes at least
LINE_MOST: Final = 20_000_000
FILE_MOST: Final = 20_000_000
GROWS_MOST: Final = 200  # times its own size that it may be when unpacked; rows pack to a twentieth
MEMBERS_MOST: Final = 2_000_000
MEMBER: Final = re.compile(r"(archive\.json|schema\.json|rows/[A-Za-z_.]+\.jsonl|files/[A-Za-z_.]+/\d+-[a-z_]+)\Z")
SIDE_MOST: Final = 4000  # pixels of a photo
MARKERS: Final = {0xC0, 0xC2, 0xC4, 0xDA, 0xDB, 0xDD, 0xE0}  # of a JPEG that holds a picture and nothing else


class Unfit(Exception):
    """Why an archive is not taken, in words."""


class Opened:
    """An archive whose table of contents was checked. Raises Unfit."""

    def __init__(self, file: io.RawIOBase, size: int) -> None:
        try:
            self._archive = zipfile.ZipFile(io.BufferedReader(file, 1_000_000))
        except (zipfile.BadZipFile, OSError, ValueError):
            raise Unfit(say("This is no archive, or it was cut off on its way.")) from None
        self._check_members(size)
        self.manifest = self._manifest()
        self._sha256: Mapping[str, str] = self.manifest["sha256"]
        self._check_tables()

    def _check_members(self, size: int) -> None:
        members = self._archive.infolist()
        if len(members) > MEMBERS_MOST or sum(each.file_size for each in members) > max(size, 1000) * GROWS_MOST:
            raise Unfit(say("This archive unpacks to more than one of its size can hold."))
        seen = set()
        for each in members:
            is_link = stat.S_ISLNK(each.external_attr >> 16)
            if is_link or each.filename in seen or not MEMBER.match(each.filename) or each.flag_bits & 1:
                raise Unfit(say("It holds “{name}”, which no archive of a studio has.", name=each.filename[:80]))
            seen.add(each.filename)

    def _manifest(self) -> dict[str, Any]:
        try:
            manifest = loaded(self._bytes("archive.json", MANIFEST_MOST).decode())
        except (KeyError, ValueError):
            raise Unfit(say("It has no archive.json that can be read, so it is no archive of a studio.")) from None
        if not isinstance(manifest, dict) or manifest.get("format") != FORMAT:
            raise Unfit(say("It is no archive of a studio."))
        version = manifest.get("version")
        if not isinstance(version, int) or version > VERSION:
            words = say(
                "It is of version {given}, and version {version} is read here: it comes from a newer Rainshade.",
                given=version,
                version=VERSION,
            )
            raise Unfit(words)
        if not isinstance(manifest.get("tables"), dict) or not isinstance(manifest.get("sha256"), dict):
            raise Unfit(say("It is no archive of a studio."))
        return manifest

    def _check_tables(self) -> None:
        for label, told in self.manifest["tables"].items():
            if label not in PATHS and label != CONTEXTS:
                raise Unfit(say("It has a table {name}, which is not known here: it is newer.", name=str(label)[:80]))
            if not isinstance(told, dict) or not all(_is_count(told.get(name)) for name in ("rows", "numbers")):
                raise Unfit(say("It does not tell how much is in {name}.", name=label))
            if told["rows"] > told["numbers"]:
                raise Unfit(say("It does not tell how much is in {name}.", name=label))
        unpacked = sum(each.file_size for each in self._archive.infolist())
        if sum(told["numbers"] for told in self.manifest["tables"].values()) * NAMED_IN_BYTES > unpacked:
            raise Unfit(say("It is no archive of a studio."))  # so many new numbers would be made for nothing
        if self.rows_of("accounts.Studio") != 1:
            raise Unfit(say("It is no archive of a studio."))

    @property
    def rows(self) -> int:
        """How many rows it has in all."""
        return sum(each["rows"] for each in self.manifest["tables"].values())

    def rows_of(self, label: str) -> int:
        """How many rows of a table it has."""
        return int(self.manifest["tables"].get(label, {}).get("rows", 0))

    def numbers_of(self, label: str) -> int:
        """How many numbers of a table it names."""
        return int(self.manifest["tables"].get(label, {}).get("numbers", 0))

    def table(self, label: str) -> Iterator[dict[str, Any]]:
        """The rows of a table. Raises Unfit, at its end too, where they are not those that were written."""
        if not self.rows_of(label):
            return
        name, digest, count = f"rows/{label}.jsonl", hashlib.sha256(), 0
        try:
            with self._archive.open(name) as member:
                while line := member.readline(LINE_MOST):
                    digest.update(line)
                    count += 1
                    yield _row(line, label, count)
        except (KeyError, zipfile.BadZipFile, EOFError, OSError):
            raise _broken(name) from None
        if count != self.rows_of(label) or digest.hexdigest() != self._sha256.get(name):
            raise _broken(name)

    def file(self, name: str) -> bytes:
        """A photo or a matte. Raises Unfit where it is not what was written, or holds more than a picture."""
        if not isinstance(name, str) or not MEMBER.match(name):
            raise Unfit(say("It holds “{name}”, which no archive of a studio has.", name=str(name)[:80]))
        body = self._bytes(name, FILE_MOST)
        if hashlib.sha256(body).hexdigest() != self._sha256.get(name):
            raise _broken(name)
        if body and not is_plain_picture(body):
            raise Unfit(say("{name} is no picture as they are kept here.", name=name))
        return body

    def _bytes(self, name: str, most: int) -> bytes:
        try:
            if self._archive.getinfo(name).file_size > most:
                raise Unfit(say("{name} is longer than it can be.", name=name))
            return self._archive.read(name)
        except (KeyError, zipfile.BadZipFile, EOFError, OSError):
            raise _broken(name) from None


def is_plain_picture(body: bytes) -> bool:
    """Whether it is a JPEG or a grey PNG as photos are kept: of a picture's own parts alone, and of no huge size.

    Photos were written anew when they were taken in; written once more they would lose a little each time.
    """
    try:
        with Image.open(io.BytesIO(body), formats=("JPEG", "PNG")) as picture:
            if max(picture.size) > SIDE_MOST:
                return False
            picture.load()
            return _is_bare_jpeg(body) if picture.format == "JPEG" else _is_bare_png(body)
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        return False


def _is_bare_jpeg(body: bytes) -> bool:
    """Only segments that a picture needs, and nothing behind its end. Source: [T81], annex B."""
    at = 2
    while at + 4 <= len(body) and body[at] == 0xFF:
        if body[at + 1] not in MARKERS:
            return False
        if body[at + 1] == 0xDA:
            return body.find(b"\xff\xd9", at) == len(body) - 2
        at += 2 + int.from_bytes(body[at + 2 : at + 4], "big")
    return False


def _is_bare_png(body: bytes) -> bool:
    """Only chunks that a picture needs, and nothing behind its end. Source: [PNG], clause 5."""
    at, kinds = 8, []
    while at + 12 <= len(body):
        kinds.append(body[at + 4 : at + 8])
        at += 12 + int.from_bytes(body[at : at + 4], "big")
    return at == len(body) and set(kinds) <= {b"IHDR", b"IDAT", b"IEND", b"PLTE"} and kinds[-1] == b"IEND"


def _row(line: bytes, label: str, count: int) -> dict[str, Any]:
    try:
        row = json.loads(line)
    except ValueError:
        row = None
    if not isinstance(row, dict) or not line.endswith(b"\n"):
        raise Unfit(say("{name}, line {count}: this is no row.", name=label, count=count))
    return row


def _broken(name: str) -> Unfit:
    return Unfit(say("{name} is not as it was written: the archive was damaged or changed.", name=name))


def _is_count(given: object) -> bool:
    return isinstance(given, int) and not isinstance(given, bool) and 0 <= given <= 100_000_000
