"""What an import contract cannot say without a list of methods: who a method knows, and that faces are used."""

from __future__ import annotations

import ast
import unittest
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

from claykettle.launch.paths import ROOT

SOURCE = ROOT / "src/claykettle"
METHODS = "claykettle.core.methods"
FACED = ("quantity", "sheet", "method", "run")
"""Packages of the core with a face: outside of them only the face is imported."""


def modules(folder: Path) -> Iterator[tuple[str, Path]]:
    """Every module below a folder by its dotted name."""
    for path in sorted(folder.rglob("*.py")):
        yield ".".join(path.relative_to(ROOT / "src").with_suffix("").parts).removesuffix(".__init__"), path


def imports(path: Path) -> set[str]:
    """The modules that a file imports from."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    return {node.module for node in ast.walk(tree) if isinstance(node, ast.ImportFrom) and node.module}


class Methods(unittest.TestCase):
    def test_a_method_knows_no_other_method_and_what_they_share_knows_none(self) -> None:
        looked = 0
        for name, path in modules(SOURCE / "core/methods"):
            folder = name.removeprefix(f"{METHODS}.").split(".")[0]
            if folder in ("registry", METHODS):
                continue
            known = {
                row.removeprefix(f"{METHODS}.").split(".")[0] for row in imports(path) if row.startswith(f"{METHODS}.")
            }
            with self.subTest(name):
                self.assertLessEqual(known, {folder, "parts"})
                looked += 1
        self.assertGreater(looked, 80)

    def test_nobody_outside_knows_a_method_by_its_module(self) -> None:
        for name, path in modules(SOURCE):
            if name.startswith(METHODS):
                continue
            known = {row for row in imports(path) if row.startswith(f"{METHODS}.")}
            with self.subTest(name):
                self.assertLessEqual(known, {f"{METHODS}.registry"})


class Faces(unittest.TestCase):
    def test_what_has_a_face_is_imported_by_it(self) -> None:
        for name, path in modules(SOURCE):
            for room in FACED:
                package = f"claykettle.core.{room}"
                if name.startswith(package):
                    continue
                with self.subTest(name, room=room):
                    self.assertEqual({row for row in imports(path) if row.startswith(f"{package}.")}, set())

    def test_a_face_names_what_is_there_and_nothing_else(self) -> None:
        for room in FACED:
            face = import_module(f"claykettle.core.{room}")
            with self.subTest(room):
                self.assertEqual(sorted(face.__all__), sorted(set(face.__all__)))
                for name in face.__all__:
                    self.assertTrue(hasattr(face, name), name)
