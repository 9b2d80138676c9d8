"""The app for accounts and sign-in."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Clinics, their people, and how they sign in."""

    name = "web.accounts"

    def ready(self) -> None:
        """Register the checks of the settings, and email users whose two-step methods change."""
        from allauth.mfa import signals
        from django.contrib.auth.signals import user_logged_in

        from . import auth_log, checks  # noqa: F401
        from .actions import notify_of_change
        from .second.adapters import STEPS
        from .sessions import record_session

        def notifier_of(change: str) -> Any:
            def notify(sender: Any, user: Any, authenticator: Any, **_: Any) -> None:
                # Recovery codes are created and removed with the method that they replace.
                if change == "reset" or authenticator.type in STEPS:
                    notify_of_change(user, change)

            return notify

        # Clients sign in by a practice link, which does not go through the package.
        user_logged_in.connect(record_session, dispatch_uid="keep session")
        for name in ("added", "removed", "reset"):
            signal = getattr(signals, f"authenticator_{name}")
            signal.connect(notifier_of(name), weak=False, dispatch_uid=f"notify {name}")
