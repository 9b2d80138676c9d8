"""A take from a file."""

from __future__ import annotations

from typing import Any

from django import forms
from django.conf import settings
from django.core.files.uploadedfile import (
    InMemoryUploadedFile,
    SimpleUploadedFile,
    TemporaryUploadedFile,
)


def not_too_large(
    upload: Any,
) -> InMemoryUploadedFile | SimpleUploadedFile | TemporaryUploadedFile | None:
    """Return the file, unless it is larger than the longest possible try."""
    if upload.size > settings.LARGEST_UPLOAD_BYTES:
        megabytes = settings.LARGEST_UPLOAD_BYTES // 1024**2
        raise forms.ValidationError(
            f"This file is larger than {megabytes} MB. Use a shorter recording."
        )
    return upload


class TakeFileForm(forms.Form):
    """A recording, under the key that its page made."""

    key = forms.UUIDField()
    recording = forms.FileField(
        allow_empty_file=True,
        error_messages={"required": "Choose a WAV file first."},
    )

    def clean_recording(self) -> Any:
        """Refuse a file too large to be a try before anything reads it."""
        return not_too_large(self.cleaned_data["recording"])
