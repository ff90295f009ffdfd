"""Writes the documents that are made from the code: the run file's schema and the API.

The page's TypeScript types are made from the latter at every build.
"""

from __future__ import annotations

import json
from typing import Any

from claykettle.formats.plan_file import plan_schema
from claykettle.formats.practical_file import practical_schema
from claykettle.formats.run_models import json_schema
from claykettle.formats.sheet_file import sheet_schema
from claykettle.launch.paths import OPENAPI, ROOT, say
from claykettle.store.database import Database
from claykettle.web import create_app

SCHEMA = ROOT / "docs/run.schema.json"
PLAN_SCHEMA, PRACTICAL_SCHEMA = ROOT / "docs/plan.schema.json", ROOT / "docs/practical.schema.json"
SHEET_SCHEMA = ROOT / "docs/sheet.schema.json"


def openapi_document() -> dict[str, Any]:
    """The OpenAPI document; nothing is asked of a database."""
    app = create_app(Database("mariadb+pymysql://nobody@127.0.0.1:1/none"))
    return dict(app.api_doc)


def as_text(document: dict[str, Any]) -> str:
    """A document as it is committed."""
    return json.dumps(document, ensure_ascii=False, indent=2, sort_keys=True) + "\n"


def write_documents() -> int:
    """Write both anew; the exit status."""
    SCHEMA.write_text(as_text(json_schema()), encoding="utf-8")
    PLAN_SCHEMA.write_text(as_text(plan_schema()), encoding="utf-8")
    PRACTICAL_SCHEMA.write_text(as_text(practical_schema()), encoding="utf-8")
    SHEET_SCHEMA.write_text(as_text(sheet_schema()), encoding="utf-8")
    OPENAPI.write_text(as_text(openapi_document()), encoding="utf-8")
    written = SCHEMA, PLAN_SCHEMA, PRACTICAL_SCHEMA, SHEET_SCHEMA, OPENAPI
    say(f"wrote {', '.join(str(path.relative_to(ROOT)) for path in written)}")
    return 0
