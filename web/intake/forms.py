"""What a device hands in besides live sound."""

from __future__ import annotations

from typing import Any

from django import forms
from django.core.files.uploadedfile import (
    InMemoryUploadedFile,
    SimpleUploadedFile,
    TemporaryUploadedFile,
)

from web.sound.uploads import not_too_large

#: Bytes of one entry: a comment of five hundred letters fits twenty times over.
LARGEST_ENTRY = 20_000


#: Of a receipt: the pitch and level of the longest hold, packed, and the figures.
LARGEST_RECEIPT = 400_000


class EntryForm(forms.Form):
    """One entry of a session, with its sound where it has one."""

    # not stripped and not refused for an odd character: it is mended where it is read
    entry = forms.CharField(max_length=LARGEST_ENTRY, strip=False, validators=[])
    recording = forms.FileField(required=False, allow_empty_file=True)

    def clean_recording(
        self,
    ) -> InMemoryUploadedFile | SimpleUploadedFile | TemporaryUploadedFile | None:
        """Refuse a file too large to be a try before anything reads it."""
        upload = self.cleaned_data["recording"]
        return not_too_large(upload) if upload else upload


class SealedForm(forms.Form):
    """An entry with its sound as it lay sealed on a device."""

    sealed = forms.FileField()

    def clean_sealed(self) -> Any:
        """Refuse what is too large to be an entry with its sound before anything reads it."""
        return not_too_large(self.cleaned_data["sealed"])
