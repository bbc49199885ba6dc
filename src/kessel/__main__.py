"""``python -m kessel``."""

import sys

from .cli import main

sys.exit(main())
