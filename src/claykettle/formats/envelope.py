"""What the files of a class have in common: one JSON object that names its format and its version, read strictly."""

from __future__ import annotations

from typing import Any, TypeVar, get_args

from pydantic import ValidationError

from claykettle.core.errors import Fault, Refusal
from claykettle.formats import strict_json
from claykettle.formats.run_file import model_faults
from claykettle.formats.run_models import Model

Read = TypeVar("Read", bound=Model)


def read_envelope(data: bytes, model: type[Read], named: str) -> tuple[Read, dict[str, Any]]:
    """A file's bytes as its model, and as they were parsed; `named` is what the file is, such as `plan`.

    Raises Refusal with every fault found: also for a version that is newer than the model's.
    """
    document = strict_json.loads(data)
    if not isinstance(document, dict):
        raise Refusal(Fault(f"not-a-{named}", "", f"A {named} is one JSON object."))
    (known,), (newest,) = (get_args(model.model_fields[name].annotation) for name in ("format", "version"))
    later = document.get("version")
    if document.get("format") == known and type(later) is int and later > newest:
        text = f"This {named} was written by a newer Clay Kettle (its version is {later}); open it there."
        raise Refusal(Fault("newer", "version", text))
    try:
        return model.model_validate(document), document
    except ValidationError as error:
        raise Refusal(*model_faults(error)) from None


def schema_of(model: type[Model], title: str) -> dict[str, Any]:
    """The JSON Schema of a file."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **model.model_json_schema(),
        "title": title,
    }
