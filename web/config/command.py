"""The command `still-reed`.

`serve` and `worker` keep running; `version` and `alive` answer at once. All other commands are
Django management commands, such as `create-clinic`, `check`, `migrate` and `erase-expired`.
A hyphen in a name stands for the underscore of the management command.
"""

import argparse
import http.client
import os
import sys
from pathlib import Path

import environ
import uvicorn

from web.ui.version import version

#: Command names of earlier versions, still used by units and scripts of installations.
RENAMED = {
    "begin": "create_clinic",
    "erase-due": "erase_expired",
    "take-out": "export_clinic",
    "seal-anew": "reseal_keys",
    "forget-second-step": "reset_two_step",
    "after-restore": "finish_restore",
    "tell-failure": "notify_failure",
}
#: Default settings file; systemd reads the same file.
ENVIRONMENT = Path("/etc/still-reed/environment")
USUAL_PORT = 8001
#: Folder in which several serving processes combine their metrics.
FIGURES = "PROMETHEUS_MULTIPROC_DIR"


def main() -> None:
    """Read the settings file, unless the environment has the settings, and run the command."""
    if "SECRET_KEY" not in os.environ and os.access(ENVIRONMENT, os.R_OK):
        environ.Env.read_env(ENVIRONMENT)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings.production")
    words = sys.argv[1:]
    if words[:1] == ["version"]:
        print(version())  # noqa: T201
        return None
    if words[:1] == ["alive"]:
        return _alive(words[1:])
    if words[:1] == ["serve"]:
        return _serve(words[1:])
    os.environ.pop(FIGURES, None)  # Only the serving process has metrics.
    from django.core.management import execute_from_command_line

    first = RENAMED.get(words[0], words[0].replace("-", "_")) if words else "help"
    return execute_from_command_line(["still-reed", first, *words[1:]])


def _alive(words: list[str]) -> None:
    """Ask the serving process on this machine as its proxy would; exit with 1 without an answer. A
    container's health check calls it."""
    parser = argparse.ArgumentParser(prog="still-reed alive", description="Asks whether it serves.")
    parser.add_argument("--port", type=int, default=USUAL_PORT)
    options = parser.parse_args(words)
    name = os.environ.get("ALLOWED_HOSTS", "localhost").split(",")[0]
    way = http.client.HTTPConnection("127.0.0.1", options.port, timeout=5)
    try:
        way.request("GET", "/health/live", headers={"Host": name})
        status = way.getresponse().status
    except OSError as away:
        sys.exit(f"nothing answers on port {options.port}: {away}")
    if status != 200:
        sys.exit(f"it answers {status}")


def _collect_figures() -> None:
    """Create the folder for the metrics of several serving processes, and remove files of ended
    ones."""
    folder = os.environ.get(FIGURES, "")
    if not folder:
        os.environ.pop(FIGURES, None)
        return
    from prometheus_client.multiprocess import mark_process_dead

    try:
        Path(folder).mkdir(parents=True, exist_ok=True)
    except OSError as wrong:
        sys.exit(f"{FIGURES} names a folder that cannot be made: {wrong}")
    for path in Path(folder).glob("*_*.db"):
        pid = path.stem.rpartition("_")[2]
        if pid.isdigit() and not Path(f"/proc/{pid}").exists():
            mark_process_dead(int(pid))


def _serve(words: list[str]) -> None:
    """Run one server process behind a proxy. It listens on this machine only, unless `--host`
    opens it to others, as a container needs.
    """
    parser = argparse.ArgumentParser(
        prog="still-reed serve", description="Serves, to this machine or others."
    )
    parser.add_argument("--port", type=int, default=USUAL_PORT)
    parser.add_argument("--host", default="127.0.0.1")
    options = parser.parse_args(words)
    _collect_figures()
    uvicorn.run(
        "web.config.asgi:application",
        host=options.host,
        port=options.port,
        log_level="info",
        lifespan="off",
        ws_max_size=262_144,
        ws_per_message_deflate=False,
        proxy_headers=False,
        timeout_graceful_shutdown=20,
    )


if __name__ == "__main__":
    main()
