"""``python -m reedcore COMMAND``; ``--help`` lists the commands."""

import sys

from reedcore.cli.commands import main

if __name__ == "__main__":
    sys.exit(main())
