"""A studio written as an archive: row by row, so that one of any size takes no memory but for its numbers."""

from __future__ import annotations

import datetime
import hashlib
import json
import zipfile
from collections.abc import Iterator
from typing import IO, Any, Final

from django.apps import apps
from django.db import connection, models, transaction

from studio.accounts.models import Studio
from studio.archives.cells import told
from studio.archives.numbers import Numbers
from studio.archives.progress import Progress
from studio.archives.references import INSIDE
from studio.archives.schema import FORMAT, VERSION, archive_schema
from studio.archives.tables import CONTEXTS, PATHS, PEOPLE, fields_of, pk_of, related, rows_of, tracked
from studio.ui.speaking import WRITTEN_IN, speaking

PIECE: Final = 1000


def row_counts(studio_id: int) -> int:
    """How many rows a studio has. A query for each table."""
    return sum(rows_of(label, studio_id).count() for label in PATHS)


def write_archive(studio_id: int, file: IO[bytes], progress: Progress, *, now: datetime.datetime) -> None:
    """Write a studio as it is at one moment, whatever is changed meanwhile. file: seekable, open for writing."""
    is_within = connection.in_atomic_block
    with transaction.atomic(), zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive, speaking(WRITTEN_IN):
        if not is_within:
            with connection.cursor() as cursor:
                cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
        _Writer(studio_id, archive, progress).write(now)


class _Writer:
    def __init__(self, studio_id: int, archive: zipfile.ZipFile, progress: Progress) -> None:
        self._studio_id, self._archive, self._progress = studio_id, archive, progress
        self._numbers = Numbers()
        self._rows: dict[str, int] = {}
        self._sha256: dict[str, str] = {}

    def write(self, now: datetime.datetime) -> None:
        for label in PATHS:
            keys = rows_of(label, self._studio_id).values_list("pk", flat=True)
            self._numbers.begin(label, keys.iterator(chunk_size=PIECE))
        for label in PATHS:
            rows = rows_of(label, self._studio_id)
            self._write_rows(label, rows)
            self._write_files(label, rows)
        self._write_contexts()
        self._write_json("schema.json", archive_schema())
        manifest = {
            "format": FORMAT,
            "version": VERSION,
            "made_at": now.astimezone(datetime.UTC).isoformat(),
            "studio": Studio.objects.get(pk=self._studio_id).name,
            "tables": {
                label: {"rows": rows, "numbers": self._numbers.most(label)} for label, rows in self._rows.items()
            },
            "sha256": self._sha256,
        }
        self._archive.writestr("archive.json", _line(manifest, indent=1))

    def _write_rows(self, label: str, rows: models.QuerySet[models.Model]) -> None:
        fields = [field for field in fields_of(label) if not isinstance(field, models.BinaryField)]
        files = [field.name for field in fields_of(label) if isinstance(field, models.BinaryField)]
        name, digest, count = f"rows/{label}.jsonl", hashlib.sha256(), 0
        columns = rows.values_list(*(field.attname for field in fields))
        with self._archive.open(name, "w", force_zip64=True) as member:
            for values in columns.iterator(chunk_size=PIECE):
                row = self._row(label, fields, values)
                row |= {file: _file_name(label, row[pk_of(label)], file) for file in files}
                line = _line(row) + b"\n"
                digest.update(line)
                member.write(line)
                count += 1
                self._progress.count()
        self._rows[label], self._sha256[name] = count, digest.hexdigest()

    def _row(self, label: str, fields: list[models.Field[Any, Any]], values: tuple[Any, ...]) -> dict[str, Any]:
        inside, of_trace = INSIDE.get(label, {}), tracked(label)
        row: dict[str, Any] = {}
        for field, value in zip(fields, values, strict=True):
            if value is None:
                row[field.name] = None
            elif field.primary_key:
                row[field.name] = self._numbers.of(label, value)
            elif field.is_relation:
                row[field.name] = self._related(label, field, value)
            elif of_trace and field.name == "id":
                row[field.name] = self._numbers.of(of_trace, value)
            else:
                row[field.name] = inside[field.name](value, self._numbers.of) if field.name in inside else told(value)
        return row

    def _related(self, label: str, field: models.Field[Any, Any], value: Any) -> int | None:
        """The number of a row that is named; none for a person of another studio, who is the same as one of this."""
        of = related(field)
        if label == PEOPLE and field.name == "same_as" and not self._numbers.knows(of, value):
            return None
        return self._numbers.of(of, value)

    def _write_files(self, label: str, rows: models.QuerySet[models.Model]) -> None:
        for field in fields_of(label):
            if isinstance(field, models.BinaryField):
                for key, body in rows.values_list("pk", field.attname).iterator(chunk_size=10):
                    self._write_file(_file_name(label, self._numbers.of(label, key), field.name), bytes(body))

    def _write_file(self, name: str, body: bytes) -> None:
        """A photo as it is kept: packed already."""
        self._archive.writestr(name, body, compress_type=zipfile.ZIP_STORED)
        self._sha256[name] = hashlib.sha256(body).hexdigest()

    def _write_contexts(self) -> None:
        """Whose hands the traces are by, in the order in which they name them."""
        keys = self._numbers.keys(CONTEXTS)
        fields = fields_of(CONTEXTS)
        name, digest = f"rows/{CONTEXTS}.jsonl", hashlib.sha256()
        count = 0
        with self._archive.open(name, "w", force_zip64=True) as member:
            for line in self._contexts(keys, fields):
                digest.update(line)
                member.write(line)
                count += 1
        self._rows[CONTEXTS], self._sha256[name] = count, digest.hexdigest()

    def _contexts(self, keys: list[Any], fields: list[models.Field[Any, Any]]) -> Iterator[bytes]:
        contexts = apps.get_model(CONTEXTS)._default_manager
        for start in range(0, len(keys), PIECE):
            piece = keys[start : start + PIECE]
            rows = contexts.filter(pk__in=piece).values_list(*(field.attname for field in fields))
            by_key = {values[0]: values for values in rows}
            for key in piece:
                if key in by_key:  # else its time was over, as house rules have it
                    yield _line(self._row(CONTEXTS, fields, by_key[key])) + b"\n"

    def _write_json(self, name: str, document: dict[str, Any]) -> None:
        body = _line(document, indent=1)
        self._archive.writestr(name, body)
        self._sha256[name] = hashlib.sha256(body).hexdigest()


def _file_name(label: str, number: int, field: str) -> str:
    return f"files/{label}/{number}-{field}"


def _line(document: Any, *, indent: int | None = None) -> bytes:
    return json.dumps(document, ensure_ascii=False, indent=indent).encode()
