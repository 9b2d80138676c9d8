"""What a serving process does once everything is loaded."""

import gc


def settle() -> None:
    """What is loaded by now stays: the collector no longer looks through all of it while a page is
    made, which is a fifth of the time of a large one."""
    gc.collect()
    gc.freeze()
