"""Writes the documents that are made from the code: the run file's schema, the API, the page's types."""

from __future__ import annotations

import json
import subprocess
from typing import Any

from claykettle.formats.run_models import json_schema
from claykettle.launch.node import npm_environment
from claykettle.launch.paths import FRONTEND, ROOT, say
from claykettle.store.database import Database
from claykettle.web import create_app

SCHEMA, OPENAPI = ROOT / "docs/run.schema.json", ROOT / "docs/openapi.json"
TYPES = FRONTEND / "src/api/types.ts"


def openapi_document() -> dict[str, Any]:
    """The OpenAPI document; nothing is asked of a database."""
    app = create_app(Database("mariadb+pymysql://nobody@127.0.0.1:1/none"))
    return dict(app.api_doc)


def as_text(document: dict[str, Any]) -> str:
    """A document as it is committed."""
    return json.dumps(document, ensure_ascii=False, indent=2, sort_keys=True) + "\n"


def write_documents() -> int:
    """Write all three anew; the exit status."""
    SCHEMA.write_text(as_text(json_schema()), encoding="utf-8")
    OPENAPI.write_text(as_text(openapi_document()), encoding="utf-8")
    say(f"wrote {SCHEMA.relative_to(ROOT)} and {OPENAPI.relative_to(ROOT)}")
    command = ["npx", "--no-install", "openapi-typescript", str(OPENAPI), "-o", str(TYPES)]
    return subprocess.run(command, cwd=FRONTEND, env=npm_environment(), check=False).returncode
