"""What is made from the code and committed is what the code makes; what ships names no host."""

from __future__ import annotations

import json
import re
import subprocess
import unittest

from claykettle.core.methods.registry import all_methods
from claykettle.core.run import reading_names
from claykettle.formats.run_models import json_schema
from claykettle.launch.documents import SCHEMA, as_text, openapi_document
from claykettle.launch.paths import FRONTEND, OPENAPI, ROOT


class Committed(unittest.TestCase):
    def test_the_schema_is_the_models(self) -> None:
        self.assertEqual(SCHEMA.read_text(encoding="utf-8"), as_text(json_schema()), "run ./kettle documents")

    def test_the_api_is_the_applications(self) -> None:
        self.assertEqual(OPENAPI.read_text(encoding="utf-8"), as_text(openapi_document()), "run ./kettle documents")

    def test_the_schema_names_every_reading_and_option(self) -> None:
        schema = json.dumps(json_schema())
        for method in all_methods().values():
            for name in (*reading_names(method), *method.options.model_fields):
                self.assertIn(f'"{name}"', schema)


class Shipped(unittest.TestCase):
    def test_no_committed_file_names_a_registry_or_a_path_of_a_machine(self) -> None:
        files = subprocess.run(["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True).stdout.split(
            "\n"
        )
        forbidden = re.compile(r"registry\.npm|pypi\.org|deb\.debian|files\.pythonhosted|/home/\w+|/root/")
        for name in files:
            path = ROOT / name
            if not name or path.suffix in (".png", ".woff2") or path == ROOT / "tests/architecture/test_documents.py":
                continue
            if path.is_file():
                self.assertIsNone(forbidden.search(path.read_text(encoding="utf-8", errors="replace")), name)

    def test_the_page_asks_nothing_of_other_hosts(self) -> None:
        for path in (FRONTEND / "dist").rglob("*"):
            if path.suffix in (".css", ".html"):
                text = path.read_text(encoding="utf-8")
                self.assertNotRegex(text, r"(?:url\(|src=|href=)[\"']?https?://", path.name)
