"""The app of those who sign in."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Clinics, their people, and how they sign in."""

    name = "web.accounts"

    def ready(self) -> None:
        """Brings the checks of the settings along, and tells people of changed second steps."""
        from allauth.mfa import signals

        from . import auth_log, checks  # noqa: F401
        from .actions import tell_of_change
        from .second.adapters import STEPS

        def told(what: Any) -> Any:
            def tell(sender: Any, user: Any, authenticator: Any, **_: Any) -> None:
                # spare codes come and go with the step that they stand in for
                if what == "reset" or authenticator.type in STEPS:
                    tell_of_change(user, what)

            return tell

        for name in ("added", "removed", "reset"):
            signal = getattr(signals, f"authenticator_{name}")
            signal.connect(told(name), weak=False, dispatch_uid=f"told of {name}")
