"""What a serving process does once everything is loaded."""

import gc

#: A page makes tens of thousands of objects and lets go of all of them: looked through less often.
YOUNG, MIDDLE, OLD = 50_000, 20, 20


def settle() -> None:
    """What is loaded by now stays: the collector no longer looks through all of it while a page is
    made, which is a fifth of the time of a large one."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(YOUNG, MIDDLE, OLD)
