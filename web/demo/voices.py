"""Synthesise demo voices in one process while another measures them."""

from concurrent.futures import ThreadPoolExecutor

VOICES = ThreadPoolExecutor(1)
