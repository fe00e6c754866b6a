"""Write docs/figures.md from the specs. Run: .venv/bin/python scripts/write_docs.py"""

from pathlib import Path

from homunculus.report import figure_table

if __name__ == "__main__":
    (Path(__file__).parent.parent / "docs" / "figures.md").write_text(figure_table(), encoding="utf-8")
