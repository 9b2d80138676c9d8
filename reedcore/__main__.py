"""``python -m reedcore COMMAND``; what there is says ``python -m reedcore --help``."""

import sys

from reedcore.cli.commands import main

if __name__ == "__main__":
    sys.exit(main())
