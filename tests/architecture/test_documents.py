"""What is made from the code and committed is what the code makes; what ships names no host."""

from __future__ import annotations

import json
import os
import re
import unittest
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

from claykettle.core.methods.registry import all_methods
from claykettle.core.run import reading_names
from claykettle.formats.plan_file import plan_schema
from claykettle.formats.practical_file import practical_schema
from claykettle.formats.run_models import json_schema
from claykettle.launch.documents import PLAN_SCHEMA, PRACTICAL_SCHEMA, SCHEMA, as_text, openapi_document
from claykettle.launch.paths import FRONTEND, OPENAPI, ROOT
from claykettle.service.views.base import View

MADE = {"node_modules", "dist", "generated", "__pycache__"}
"""What is made here and never committed, beside hidden folders (.gitignore); a fresh machine may have no git to ask."""


def _source_files() -> Iterator[Path]:
    for folder, folders, names in os.walk(ROOT):
        folders[:] = [name for name in folders if name not in MADE and (name[0] != "." or name == ".ci")]
        yield from (Path(folder) / name for name in names)


class Committed(unittest.TestCase):
    def test_the_schema_is_the_models(self) -> None:
        self.assertEqual(SCHEMA.read_text(encoding="utf-8"), as_text(json_schema()), "run ./kettle documents")

    def test_the_schemas_of_plan_and_practical_are_theirs(self) -> None:
        for path, made in ((PLAN_SCHEMA, plan_schema()), (PRACTICAL_SCHEMA, practical_schema())):
            self.assertEqual(path.read_text(encoding="utf-8"), as_text(made), "run ./kettle documents")

    def test_the_api_is_the_applications(self) -> None:
        self.assertEqual(OPENAPI.read_text(encoding="utf-8"), as_text(openapi_document()), "run ./kettle documents")

    def test_no_two_views_bear_one_name(self) -> None:
        """In the API's document a later one would stand for both."""
        openapi_document()
        views, found = [View], []
        while views:
            views += (below := views.pop().__subclasses__())
            found += [row.__name__ for row in below]
        self.assertEqual([], [name for name, count in Counter(found).items() if count > 1])
        self.assertGreater(len(found), 100)

    def test_the_schema_names_every_reading_and_option(self) -> None:
        schema = json.dumps(json_schema())
        for method in all_methods().values():
            for name in (*reading_names(method), *method.options.model_fields):
                self.assertIn(f'"{name}"', schema)


class Shipped(unittest.TestCase):
    def test_no_committed_file_names_a_registry_or_a_path_of_a_machine(self) -> None:
        forbidden = re.compile(r"registry\.npm|pypi\.org|deb\.debian|files\.pythonhosted|/home/\w+|/root/")
        looked_at = 0
        for path in _source_files():
            if path.suffix not in (".png", ".woff2") and path != Path(__file__).resolve():
                looked_at += 1
                text = path.read_text(encoding="utf-8", errors="replace")
                self.assertIsNone(forbidden.search(text), str(path.relative_to(ROOT)))
        self.assertGreater(looked_at, 300, "the walk found the tree")

    def test_the_page_asks_nothing_of_other_hosts(self) -> None:
        for path in (FRONTEND / "dist").rglob("*"):
            if path.suffix in (".css", ".html"):
                text = path.read_text(encoding="utf-8")
                self.assertNotRegex(text, r"(?:url\(|src=|href=)[\"']?https?://", path.name)
