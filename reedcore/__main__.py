"""``python -m reedcore COMMAND``: analyse, speak, check, decide, judge, plan, simulate, schema."""

import sys

from reedcore.cli.commands import main

if __name__ == "__main__":
    sys.exit(main())
