"""Texts of the core: English without translations, otherwise translated."""

from contextvars import copy_context

import pytest

from reedcore.catalogue.settings import shipped_ladders
from reedcore.catalogue.tasks import shipped_material, shipped_sets, shipped_tasks
from reedcore.cli.texts import core_texts
from reedcore.programme.document import new_item
from reedcore.programme.starting import starting_programmes
from reedcore.programme.words import client_lines
from reedcore.translation import TRANSLATIONS, translate


class ReversedTranslations:
    """Translations that reverse every text."""

    language = "backwards"

    def gettext(self, message):
        return message[::-1]


def in_another_language(work):
    def run():
        TRANSLATIONS.set(ReversedTranslations())
        return work()

    return copy_context().run(run)


def test_without_translations_a_text_is_as_it_is_written():
    assert translate("Hum") == "Hum"
    assert translate("") == ""


def test_a_task_has_translated_texts_and_the_same_codes():
    english = shipped_tasks()["straw_hold"]
    other = in_another_language(lambda: shipped_tasks()["straw_hold"])
    assert (other.name, other.client[0]) == (english.name[::-1], english.client[0][::-1])
    assert (other.code, other.sound, other.ladder) == (english.code, english.sound, english.ladder)
    assert shipped_tasks()["straw_hold"] == english


def test_rungs_stay_and_their_labels_are_translated():
    english = shipped_ladders()["feedback"]
    other = in_another_language(lambda: shipped_ladders()["feedback"])
    assert other.rungs == english.rungs
    assert other.labels == tuple(label[::-1] for label in english.labels)


def test_a_sentence_of_a_setting_is_translated_with_its_figure():
    task = shipped_tasks()["slow_counts"]
    item = new_item(task, id="a")
    item = type(item)(id="a", task=item.task, params={**item.params, "held": 2})
    assert "Stay for 2 between in and out." in client_lines(item, task)


@pytest.mark.parametrize(
    "read",
    [
        lambda: {task.name for task in shipped_tasks().values()},
        lambda: {line for task in shipped_tasks().values() for line in task.client},
        lambda: {label for ladder in shipped_ladders().values() for label in ladder.client},
        lambda: {line for lines in shipped_material().values() for line in lines},
        lambda: {name for name, _ in shipped_sets().values()},
        lambda: {each.name for each in starting_programmes().values()},
    ],
    ids=["names", "instructions", "rungs", "material", "sets", "starting programmes"],
)
def test_every_text_is_in_the_catalogue_for_translators(read):
    assert read() - {""} <= set(core_texts())
