"""The app's place in Django."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.apps import AppConfig

if TYPE_CHECKING:
    from web.clients.models import Client


class ProgrammesConfig(AppConfig):
    name = "web.programmes"

    def ready(self) -> None:
        """Check the programme in force whenever the record changes."""
        from web.clients.signals import record_changed

        from .actions import check_again

        def recheck_programmes(sender: Any, client: Client, **rest: Any) -> None:
            check_again(client)

        record_changed.connect(
            recheck_programmes, weak=False, dispatch_uid="programmes.check_again"
        )
