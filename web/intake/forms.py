"""Forms for uploads from a device other than live sound."""

from __future__ import annotations

from typing import Any

from django import forms
from django.core.files.uploadedfile import (
    InMemoryUploadedFile,
    SimpleUploadedFile,
    TemporaryUploadedFile,
)

from web.sound.uploads import not_too_large

#: Bytes of one entry: twenty times the longest comment.
LARGEST_ENTRY = 20_000


#: Bytes of a receipt: the packed trace of the longest hold, and the figures.
LARGEST_RECEIPT = 400_000


class EntryForm(forms.Form):
    """Form for an entry of a session, with its recording if it has one."""

    # Do not strip or reject unusual characters: the reader repairs them.
    entry = forms.CharField(max_length=LARGEST_ENTRY, strip=False, validators=[])
    recording = forms.FileField(required=False, allow_empty_file=True)

    def clean_recording(
        self,
    ) -> InMemoryUploadedFile | SimpleUploadedFile | TemporaryUploadedFile | None:
        """Refuse a file too large to be a try before anything reads it."""
        upload = self.cleaned_data["recording"]
        return not_too_large(upload) if upload else upload


class SealedForm(forms.Form):
    """An entry with its sound, encrypted by a device."""

    sealed = forms.FileField()

    def clean_sealed(self) -> Any:
        """Reject data too large for an entry with its sound before reading it."""
        return not_too_large(self.cleaned_data["sealed"])
