"""Writes the golden evaluations anew."""

from __future__ import annotations

from tests.golden import evaluated, evaluation_file, run_files

for path in run_files():
    text, kept = evaluated(path), evaluation_file(path)
    if not kept.exists() or kept.read_text(encoding="utf-8") != text:
        kept.write_text(text, encoding="utf-8")
        print(f"changed: {kept.name}")
