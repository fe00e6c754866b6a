"""Write docs/figures.md, docs/shot-list.md and the README's table of keys. Run: .venv/bin/python scripts/write_docs.py"""

from pathlib import Path

from homunculus.app.shell.key_help import with_keys
from homunculus.report import column_table, figure_table

if __name__ == "__main__":
    root = Path(__file__).parent.parent
    (root / "docs" / "figures.md").write_text(figure_table(), encoding="utf-8")
    (root / "docs" / "shot-list.md").write_text(column_table(), encoding="utf-8")
    readme = root / "README.md"
    readme.write_text(with_keys(readme.read_text("utf-8")), encoding="utf-8")
