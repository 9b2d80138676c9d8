"""What a password may not be, beside what Django refuses."""

from django.core.exceptions import ValidationError

#: Longer is no safer, and hashing it holds the site up.
LONGEST = 128


class LongestValidator:
    """Refuses a password that nobody types."""

    def validate(self, password, user=None):
        """Raises ValidationError: it is longer than :data:`LONGEST`."""
        if len(password) > LONGEST:
            raise ValidationError(f"At most {LONGEST} letters.", code="password_too_long")

    def get_help_text(self):
        """For a page that lists the rules."""
        return f"At most {LONGEST} letters."
