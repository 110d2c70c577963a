"""The description of what programs may ask for, made of the schemas that ship. Source: [OAS31]."""

import json
from functools import cache
from pathlib import Path
from typing import Any, Final

from ninja import NinjaAPI

from engine.schema import answers_schema, jobs_schema
from studio.api.problems import KIND, TITLES
from studio.formats.card_json import card_schema
from studio.shelf.shelf_file import shelf_schema

PREFIX: Final = "/api/1/"
_EVERYWHERE: Final = (401, 403, 404, 422, 429)
_OF_BODIES: Final = (400, 413, 415)
_OF_WHOLE_DOCUMENTS: Final = ("$schema", "$id")


@cache
def api_schema() -> dict[str, Any]:
    """What programs are told beside cards, shelves and answers: `$defs` by the names of components."""
    schema: dict[str, Any] = json.loads((Path(__file__).parent / "schema" / "api.schema.json").read_text("utf-8"))
    return schema


def an_answer(name: str, *, kind: str = "application/json") -> dict[str, Any]:
    """What an address answers: by which component, and which problems it may tell of."""
    told: dict[int, Any] = {200: {"description": "As asked.", "content": {kind: {"schema": _named(name)}}}}
    told |= {status: _problem(status) for status in _EVERYWHERE}
    if kind == "application/json":
        told |= {304: {"description": "It is still what the ETag names."}}
    return {"responses": told}


def a_body(name: str) -> dict[str, Any]:
    """What is sent to an address."""
    return {"requestBody": {"required": True, "content": {"application/json": {"schema": _named(name)}}}}


@cache
def openapi(api: NinjaAPI) -> dict[str, Any]:
    """The whole description, with every schema in it."""
    document: dict[str, Any] = json.loads(json.dumps(api.get_openapi_schema(path_prefix=PREFIX)))
    shipped = {"card": card_schema(), "shelf": shelf_schema(), "jobs": jobs_schema(), "answers": answers_schema()}
    places = {schema["$id"]: f"#/components/schemas/{name}" for name, schema in shipped.items()}
    components = {name: _placed(each, "#", places) for name, each in api_schema()["$defs"].items()}
    components |= {name: _placed(schema, places[schema["$id"]], places) for name, schema in shipped.items()}
    document["components"]["schemas"] = components
    for operations in document["paths"].values():
        if "post" in operations:
            operations["post"]["responses"] |= {str(status): _problem(status) for status in _OF_BODIES}
    return document


def _placed(node: Any, place: str, places: dict[str, str]) -> Any:
    """A schema as a part of the description: what it refers to stands where the description has it.

    Names of schemas go: most tools that read descriptions know no names, and look for `#/` in the whole of it.
    """
    if isinstance(node, list):
        return [_placed(each, place, places) for each in node]
    if not isinstance(node, dict):
        return node
    told = {name: _placed(each, place, places) for name, each in node.items() if name not in _OF_WHOLE_DOCUMENTS}
    if isinstance(reference := node.get("$ref"), str):
        within, _, path = reference.partition("#")
        own = "#/components/schemas" if place == "#" else place
        path = path.removeprefix("/$defs") if place == "#" and not within else path
        told["$ref"] = (places[within] if within else own) + path
    return told


def _named(name: str) -> dict[str, str]:
    return {"$ref": f"#/components/schemas/{name}"}


def _problem(status: int) -> dict[str, Any]:
    return {"description": TITLES[status], "content": {KIND: {"schema": _named("problem")}}}
