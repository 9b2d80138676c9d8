"""The app's place in Django."""

from django.apps import AppConfig


class ProgrammesConfig(AppConfig):
    name = "web.programmes"

    def ready(self):
        """A changed record is held against the programme in force."""
        from web.clients.signals import record_changed

        from .actions import check_again

        def looked(sender, client, **rest):
            check_again(client)

        record_changed.connect(looked, weak=False, dispatch_uid="programmes.check_again")
