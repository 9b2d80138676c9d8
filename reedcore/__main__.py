"""``python -m reedcore analyse FILE…`` and ``python -m reedcore speak FILE.wav``."""

import sys

from reedcore.cli.commands import main

if __name__ == "__main__":
    sys.exit(main())
