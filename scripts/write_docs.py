"""Write docs/figures.md from the specs and docs/shot-list.md from the columns. Run: .venv/bin/python scripts/write_docs.py"""

from pathlib import Path

from homunculus.report import column_table, figure_table

if __name__ == "__main__":
    docs = Path(__file__).parent.parent / "docs"
    (docs / "figures.md").write_text(figure_table(), encoding="utf-8")
    (docs / "shot-list.md").write_text(column_table(), encoding="utf-8")
