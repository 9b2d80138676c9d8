"""The command `still-reed`: what runs a clinic's site, in one word each.

`serve` and `worker` are the two that stay; all else is Django's own, such as `begin`, `check`,
`migrate`, `backup`, `restore` and `erase-due`.
"""

import argparse
import os
import sys
from pathlib import Path

import environ
import uvicorn

#: Words of our own, and what they are to Django.
CALLED = {
    "worker": "work",
    "erase-due": "end_what_is_over",
    "take-out": "take_out",
    "seal-anew": "seal_anew",
    "forget-second-step": "forget_second_step",
}
#: Where the settings stand when nothing else is said; systemd reads the same file.
ENVIRONMENT = Path("/etc/still-reed/environment")
USUAL_PORT = 8001


def main() -> None:
    """Reads the settings file, unless the environment has them, and does what is said."""
    if "SECRET_KEY" not in os.environ and os.access(ENVIRONMENT, os.R_OK):
        environ.Env.read_env(ENVIRONMENT)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings.production")
    words = sys.argv[1:]
    if words[:1] == ["serve"]:
        return _serve(words[1:])
    from django.core.management import execute_from_command_line

    first = CALLED.get(words[0], words[0]) if words else "help"
    return execute_from_command_line(["still-reed", first, *words[1:]])


def _serve(words: list[str]) -> None:
    """One serving process. A balancer or nginx stands before it: on this machine, unless `--host`
    opens it to others, as a container needs.
    """
    asked = argparse.ArgumentParser(
        prog="still-reed serve", description="Serves, to this machine or others."
    )
    asked.add_argument("--port", type=int, default=USUAL_PORT)
    asked.add_argument("--host", default="127.0.0.1")
    said = asked.parse_args(words)
    uvicorn.run(
        "web.config.asgi:application",
        host=said.host,
        port=said.port,
        log_level="info",
        lifespan="off",
        ws_max_size=262_144,
        ws_per_message_deflate=False,
        proxy_headers=False,
        timeout_graceful_shutdown=20,
    )
