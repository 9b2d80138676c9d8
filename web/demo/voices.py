"""Where the made-up voices sound: while the one before is measured, in another process."""

from concurrent.futures import ThreadPoolExecutor

VOICES = ThreadPoolExecutor(1)
