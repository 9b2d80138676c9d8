"""Where the made-up voices sound: beside whoever has the one before measured, in another process."""

from concurrent.futures import ThreadPoolExecutor

VOICES = ThreadPoolExecutor(1)
