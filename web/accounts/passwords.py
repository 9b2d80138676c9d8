"""Password rules beyond Django's."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.core.exceptions import ValidationError
from django.utils.translation import gettext

if TYPE_CHECKING:
    from web.accounts.models import User

#: Longer passwords are not safer, and hashing them is slow.
LONGEST = 128


class LongestValidator:
    """Refuse a password that is easily guessed."""

    def validate(self, password: str, user: User | None = None) -> None:
        """Raise ValidationError for a password longer than :data:`LONGEST`."""
        if len(password) > LONGEST:
            raise ValidationError(
                gettext("At most {value} characters.").format(value=LONGEST),
                code="password_too_long",
            )

    def get_help_text(self) -> str:
        """Return the rule in words."""
        return gettext("At most {value} characters.").format(value=LONGEST)
