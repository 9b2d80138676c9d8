"""The command `still-reed`: what runs a clinic's site, in one word each.

`serve` and `worker` are the two that stay; all else is Django's own, such as `begin`, `check`,
`migrate`, `backup`, `restore` and `erase-due`.
"""

import os
import sys
from pathlib import Path

#: Words of our own, and what they are to Django.
CALLED = {"worker": "work", "erase-due": "end_what_is_over"}
#: Where the settings stand when nothing else is said; systemd reads the same file.
ENVIRONMENT = Path("/etc/still-reed/environment")
USUAL_PORT = "8001"


def main() -> None:
    """Reads the settings file, unless the environment has them, and does what is said."""
    if "SECRET_KEY" not in os.environ and os.access(ENVIRONMENT, os.R_OK):
        _read(ENVIRONMENT)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings.production")
    words = sys.argv[1:]
    if words[:1] == ["serve"]:
        _serve(words[1:])
    from django.core.management import execute_from_command_line

    first = CALLED.get(words[0], words[0]) if words else "help"
    execute_from_command_line(["still-reed", first, *words[1:]])


def _read(path: Path) -> None:
    """Lines as NAME=value; a hash begins a remark."""
    for line in path.read_text().splitlines():
        name, is_set, value = line.partition("=")
        if is_set and not name.lstrip().startswith("#"):
            os.environ.setdefault(name.strip(), value.strip().strip("\"'"))


def _serve(words: list[str]) -> None:
    """One serving process; `--port` says where. A balancer or nginx stands before it."""
    port = words[words.index("--port") + 1] if "--port" in words else USUAL_PORT
    given = [
        sys.executable, "-m", "uvicorn", "web.config.asgi:application",
        "--host", "127.0.0.1", "--port", port, "--log-level", "info", "--lifespan", "off",
        "--ws-max-size", "262144", "--ws-per-message-deflate", "false", "--no-proxy-headers",
        "--timeout-graceful-shutdown", "20",
    ]  # fmt: skip
    os.execv(sys.executable, given)  # noqa: S606
