"""The schemas that ship with the engine."""

import json
from pathlib import Path

from jsonschema import Draft202012Validator

SCHEMAS = Path(__file__).resolve().parents[2] / "engine" / "schema"


def schema(name: str) -> Draft202012Validator:
    """A validator of `job` or `answer`."""
    return Draft202012Validator(json.loads((SCHEMAS / f"{name}.schema.json").read_text(encoding="utf-8")))
