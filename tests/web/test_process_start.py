"""A process of the site starts without what it does not use."""

import subprocess
import sys

from django.conf import settings

START = """
import os, sys
os.environ["DJANGO_SETTINGS_MODULE"] = "web.config.settings.test"
import django
django.setup()
import web.config.urls
print([each for each in ("scipy.ndimage", "scipy.fft", "scipy.io", "numba") if each in sys.modules])
"""


def test_a_process_that_measures_nothing_loads_no_part_of_scipy():
    found = subprocess.run(
        [sys.executable, "-c", START], cwd=settings.ROOT, check=True, capture_output=True, text=True
    )
    assert found.stdout.splitlines()[-1] == "[]"
