"""What a row is known by outside this database: in files, in other studios, to other programs."""

from __future__ import annotations

import uuid
from typing import Any

from django.contrib.postgres.functions import RandomUUID
from django.db import models


def own_uid() -> models.UUIDField[Any, Any]:
    """A field that names a row for good, wherever a file takes it. Source: [RFC9562], version 4.

    It is not unique by itself: one server may hold two studios that know one visit. A model says within what it is.
    """
    return models.UUIDField(
        default=uuid.uuid4, db_default=RandomUUID(), editable=False, db_index=True, help_text="the same in every file"
    )
