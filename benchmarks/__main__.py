"""Print every ratio: ``python -m benchmarks``. Each part runs in a process of its own."""

import subprocess
import sys

for part in ("start", "edit", "section", "log", "mesh", "study", "shots", "lens", "stage"):
    subprocess.run([sys.executable, "-m", f"benchmarks.{part}"], check=True)
