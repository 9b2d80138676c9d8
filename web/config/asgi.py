"""Entry point of the server for requests and streams of sound."""

import os
from threading import Thread

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings.production")
http_application = get_asgi_application()

# Must follow the line above, which sets Django up.
from channels.auth import AuthMiddlewareStack  # noqa: E402
from channels.routing import ProtocolTypeRouter, URLRouter  # noqa: E402
from channels.security.websocket import AllowedHostsOriginValidator  # noqa: E402
from django.core.checks import run_checks  # noqa: E402
from django.urls import re_path  # noqa: E402

from reedcore.acoustics import ready  # noqa: E402
from web.baseline import urls as baseline_urls  # noqa: E402
from web.config.body_limit import BodyLimit  # noqa: E402
from web.config.warmup import settle  # noqa: E402
from web.intake import urls as intake_urls  # noqa: E402
from web.sound.consumers import UnknownSocket  # noqa: E402
from web.sound.pool import POOL  # noqa: E402

# Refuse to start if nobody would receive stop alerts.
if failed := [each for each in run_checks() if each.is_serious()]:
    raise SystemExit("\n".join(f"Still Reed does not start: {each}" for each in failed))

application = ProtocolTypeRouter(
    {
        "http": BodyLimit(http_application),
        "websocket": AllowedHostsOriginValidator(
            AuthMiddlewareStack(
                URLRouter(
                    [
                        *baseline_urls.websocket_urlpatterns,
                        *intake_urls.websocket_urlpatterns,
                        re_path("", UnknownSocket.as_asgi()),
                    ]
                )
            )
        ),
    }
)


def _make_ready() -> None:
    settle()
    ready()
    POOL.make_ready()


# Loaded in the background: the first pages need neither.
making_ready = Thread(target=_make_ready, name="making ready", daemon=True)
making_ready.start()
