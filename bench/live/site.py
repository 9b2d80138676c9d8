"""The site as a clinic runs it: nginx with TLS, two serving processes, a scratch database. On
loopback, in a folder that goes with it."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

SERVERS = 2
NGINX = """
pid {home}/nginx.pid;
error_log {home}/nginx-errors.log;
worker_processes 1;
daemon off;
events {{ worker_connections 1024; }}
http {{
  access_log off;
  client_body_temp_path {home}/body; proxy_temp_path {home}/proxy;
  fastcgi_temp_path {home}/f; uwsgi_temp_path {home}/u; scgi_temp_path {home}/s;
  client_max_body_size 91m;
  map $http_upgrade $connection_upgrade {{ default upgrade; '' close; }}
  upstream reed {{ least_conn; {upstreams} }}
  server {{
    listen 127.0.0.1:{port} ssl;
    ssl_certificate {home}/cert.pem; ssl_certificate_key {home}/key.pem;
    location / {{
      proxy_pass http://reed;
      proxy_http_version 1.1;
      proxy_set_header Upgrade $http_upgrade;
      proxy_set_header Connection $connection_upgrade;
      proxy_set_header Host $http_host;
      proxy_set_header X-Forwarded-For $proxy_add_x_forwarded_for;
      proxy_set_header X-Forwarded-Proto https;
      proxy_read_timeout 120s;
    }}
  }}
}}
"""


@dataclass(frozen=True)
class Site:
    """The address of the site, and the processes of the application and the proxy."""

    port: int
    servers: tuple[int, ...]
    nginx: int


@contextmanager
def running(environment: dict[str, str]) -> Iterator[Site]:
    """Start the site, and stop it at the end."""
    with tempfile.TemporaryDirectory() as folder:
        home = Path(folder)
        os.chmod(home, 0o755)  # noqa: S103  # nginx's worker is another user
        _certificate(home)
        ports = [_free_port() for _ in range(SERVERS + 1)]
        servers = [_server(port, environment) for port in ports[:SERVERS]]
        upstreams = " ".join(f"server 127.0.0.1:{port};" for port in ports[:SERVERS])
        config = home / "nginx.conf"
        config.write_text(NGINX.format(home=home, upstreams=upstreams, port=ports[-1]))
        door = subprocess.Popen(["nginx", "-c", str(config), "-p", str(home)])
        try:
            for port in ports:
                _wait_for_port(port)
            yield Site(ports[-1], tuple(each.pid for each in servers), door.pid)
        finally:
            for each in (door, *servers):
                each.terminate()
            for each in (door, *servers):
                each.wait(20)


def _server(port: int, environment: dict[str, str]) -> subprocess.Popen[bytes]:
    words = [
        sys.executable, "-m", "uvicorn", "web.config.asgi:application",
        "--host", "127.0.0.1", "--port", str(port), "--log-level", "warning", "--lifespan", "off",
        "--ws-per-message-deflate", "false", "--no-proxy-headers",
    ]  # fmt: skip
    return subprocess.Popen(words, env=environment)


def _certificate(home: Path) -> None:
    words = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "1", "-subj"]
    out = ["-keyout", str(home / "key.pem"), "-out", str(home / "cert.pem")]
    subprocess.run([*words, "/CN=localhost", *out], check=True, capture_output=True)


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def _wait_for_port(port: int) -> None:
    for _ in range(600):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return
        time.sleep(0.1)
    raise RuntimeError(f"nothing listens on {port}")
