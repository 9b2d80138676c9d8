"""The app's place in Django."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.apps import AppConfig

if TYPE_CHECKING:
    from web.clients.models import Client


class ProgrammesConfig(AppConfig):
    name = "web.programmes"

    def ready(self) -> None:
        """A changed record is held against the programme in force."""
        from web.clients.signals import record_changed

        from .actions import check_again

        def looked(sender: Any, client: Client, **rest: Any) -> None:
            check_again(client)

        record_changed.connect(looked, weak=False, dispatch_uid="programmes.check_again")
