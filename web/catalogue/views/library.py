"""The clinic's library: programmes, lines and pictures to use again."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_GET, require_POST

from web.accounts.access import clinician_only, looking
from web.ui.forms import DescribedForm

from ..actions import NotAPicture, add_picture, keep, put_away
from ..models import LibraryEntry
from ..queries import entries_of, library_of

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest


class LinesForm(DescribedForm, forms.Form):
    """Lines to say, kept under a name."""

    name = forms.CharField(label=gettext_lazy("Name of the set"), max_length=60)
    lines = forms.CharField(
        label=gettext_lazy("Lines (one per row)"),
        max_length=12_000,
        widget=forms.Textarea(attrs={"rows": 6}),
    )
    shared = forms.BooleanField(
        label=gettext_lazy("Available to everyone in the clinic"), required=False, initial=True
    )

    def clean_lines(self) -> list[str]:
        """Split the text into lines, up to the limit of a task."""
        lines = [line.strip() for line in self.cleaned_data["lines"].splitlines() if line.strip()]
        if len(lines) > 40 or any(len(line) > 300 for line in lines):
            raise forms.ValidationError(gettext("At most 40 lines of up to 300 characters."))
        return lines


class PictureForm(DescribedForm, forms.Form):
    """A picture or a map to speak about."""

    name = forms.CharField(label=gettext_lazy("Name of the picture"), max_length=60)
    alt = forms.CharField(label=gettext_lazy("Description (for screen readers)"), max_length=300)
    file = forms.FileField(
        label=gettext_lazy("The file"),
        error_messages={"required": gettext_lazy("Choose a file first.")},
    )


def _page(
    request: SignedInRequest,
    lines: LinesForm | None = None,
    picture: PictureForm | None = None,
    status: int = 200,
) -> HttpResponse:
    clinic = request.user.clinic
    context = {
        "programmes": library_of(request.user, LibraryEntry.Kind.PROGRAMME),
        "sets": library_of(request.user, LibraryEntry.Kind.LINES),
        "pictures": clinic.pictures.defer("image"),
        "lines_form": lines or LinesForm(),
        "picture_form": picture or PictureForm(),
    }
    return render(request, "catalogue/library.html", context, status=status)


@looking
@require_GET
def library(request: SignedInRequest) -> HttpResponse:
    """Return all that the clinic keeps to use again."""
    return _page(request)


@clinician_only
@require_POST
def add_lines(request: SignedInRequest) -> HttpResponse:
    """Return lines to say, or the next version of some."""
    form = LinesForm(request.POST)
    if not form.is_valid():
        return _page(request, lines=form, status=422)
    cleaned = form.cleaned_data
    made = keep(
        request.user.clinic, kind=LibraryEntry.Kind.LINES, name=cleaned["name"],
        data=cleaned["lines"], shared=cleaned["shared"], by=request.user,
    )  # fmt: skip
    messages.success(
        request,
        gettext("“{name}” was saved to the library, version {version}.").format(
            name=made.name, version=made.version
        ),
    )
    return redirect("catalogue:library")


@clinician_only
@require_POST
def upload_picture(request: SignedInRequest) -> HttpResponse:
    """Return a picture to speak about."""
    form = PictureForm(request.POST, request.FILES)
    if form.is_valid():
        cleaned = form.cleaned_data
        try:
            made = add_picture(
                request.user.clinic, name=cleaned["name"], alt=cleaned["alt"],
                data=cleaned["file"].read(), by=request.user,
            )  # fmt: skip
        except NotAPicture as refused:
            form.add_error("file", str(refused))
        else:
            messages.success(
                request,
                gettext("“{name}” is now available in all programmes.").format(name=made.name),
            )
            return redirect("catalogue:library")
    return _page(request, picture=form, status=422)


@clinician_only
@require_POST
def put_entry_away(request: SignedInRequest, pk: int) -> HttpResponse:
    """Archive an entry; only its author or the lead may."""
    entry = get_object_or_404(entries_of(request.user), pk=pk)
    if request.user not in (entry.author, request.user.clinic.lead):
        whose = entry.author.get_full_name()
        messages.error(
            request,
            gettext("“{name}” belongs to {whose}. Nothing was changed.").format(
                name=entry.name, whose=whose
            ),
        )
    else:
        put_away(entry)
        messages.success(
            request, gettext("“{name}” was removed from the library.").format(name=entry.name)
        )
    return redirect("catalogue:library")
