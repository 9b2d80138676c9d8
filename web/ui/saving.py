"""Save only the fields that changed, so that concurrent changes to other fields stay."""

from typing import Any, TypeVar

from django import forms
from django.db import models, transaction

Row = TypeVar("Row", bound=models.Model)


def lock_row(row: Row) -> Row:
    """Return the current row, locked until the transaction ends.

    Raises:
        the model's DoesNotExist: it was deleted in between.
    """
    return type(row)._base_manager.select_for_update(of=("self",)).get(pk=row.pk)


def save_fields(row: Row, *names: str) -> Row:
    """Write these fields to the current row, and return it. Unchanged fields are not written, so
    that the history has no entry for them.

    Call it inside a transaction: the row stays locked until that ends."""
    stored = lock_row(row)
    changed = [name for name in names if getattr(stored, name) != getattr(row, name)]
    for name in changed:
        setattr(stored, name, getattr(row, name))
    if changed:
        stored.save(update_fields=changed)
    return stored


@transaction.atomic
def save_form(form: forms.ModelForm) -> Any:
    """Save a form: a new row as a whole, of an existing one the fields that were changed."""
    made = form.save(commit=False)
    if made._state.adding:
        made.save(force_insert=True)
    else:
        columns = {field.name for field in made._meta.concrete_fields}
        made = save_fields(made, *(name for name in form.changed_data if name in columns))
    form.instance = made
    form.save_m2m()
    return made
