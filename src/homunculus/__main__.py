"""``python -m homunculus`` is the same as ``homunculus``."""

import sys

from homunculus.cli import main

sys.exit(main())
