"""Where a request or a stream of sound comes in."""

import os

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings.production")
http_application = get_asgi_application()

# after the line above, which sets Django up
from channels.auth import AuthMiddlewareStack  # noqa: E402
from channels.routing import ProtocolTypeRouter, URLRouter  # noqa: E402
from channels.security.websocket import AllowedHostsOriginValidator  # noqa: E402

from web.clients import urls as clients_urls  # noqa: E402
from web.practice import urls as practice_urls  # noqa: E402

application = ProtocolTypeRouter(
    {
        "http": http_application,
        "websocket": AllowedHostsOriginValidator(
            AuthMiddlewareStack(
                URLRouter(clients_urls.websocket_urlpatterns + practice_urls.websocket_urlpatterns)
            )
        ),
    }
)
