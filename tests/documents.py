"""Programmes and items as documents, for tests that build them field by field."""

from reedcore.catalogue.ages import ADULT
from reedcore.programme.document import empty_programme
from reedcore.programme.document import new_item as default_item
from reedcore.programme.document_values import item_document, programme_document


def empty_document(today, wording=ADULT):
    return programme_document(empty_programme(today, wording))


def new_item(task, *, id, **given):
    return {**item_document(default_item(task, id=id)), **given}
