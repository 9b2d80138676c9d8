"""A measuring process ends with its site, in whatever way that ends."""

import os
import select
import signal
import subprocess
import sys

import pytest
from django.conf import settings

SITE = """
import os, sys
import django
django.setup()
from web.sound.pool import POOL
if __name__ == "__main__":
    print(POOL.run(os.getpid), flush=True)
    sys.stdin.read()
"""


@pytest.mark.parametrize("how", [signal.SIGKILL, signal.SIGTERM])
def test_a_measuring_process_ends_with_its_site(how, tmp_path):
    script = tmp_path / "site.py"
    script.write_text(SITE)
    environment = {
        **os.environ, "PYTHONPATH": str(settings.ROOT), "ANALYSIS_PROCESSES": "1",
        "DJANGO_SETTINGS_MODULE": "web.config.settings.test",
    }  # fmt: skip
    site = subprocess.Popen(
        [sys.executable, script], env=environment, text=True, stdin=subprocess.PIPE, stdout=subprocess.PIPE,
    )  # fmt: skip
    measuring = os.pidfd_open(int(site.stdout.readline()))
    try:
        site.send_signal(how)
        # The pipe closes when no process can write to it any more.
        assert site.communicate(timeout=120)[0] == ""
        # It can be read once the process has ended.
        assert select.select([measuring], [], [], 120)[0]
    finally:
        os.close(measuring)
