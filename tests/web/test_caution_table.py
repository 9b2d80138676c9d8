"""Each caution on record against each task of the catalogue, as it was once read by eye."""

import pytest

from reedcore.catalogue.tasks import written_tasks
from web.programmes.cautions import met_by, table
from web.programmes.management.commands.caution_table import PATH

#: A few rows as the reference gives them: what meets the task, and nothing else.
ROWS = {
    "quiet_hold": {"pressure_acute", "pressure", "lung_disease", "fainting"},
    "balloon": {"pressure_acute", "pressure", "lung_disease", "fainting", "latex"},
    "lying_book": {"lying"},
    "tube_water": {"aspiration", "tremor"},
    "straw_water": {"aspiration"},
    "two_numbers": {"aspiration"},
    "water": {"aspiration"},
    "panting": {"fainting"},
    "strong_glides": {"vocal_fold_surgery"},
    "five_note": {"vocal_fold_surgery"},
    "short_short_long": {"pressure_acute", "pressure", "lung_disease", "fainting"},
    "s_to_z": {"pressure_acute", "pressure"},
    "tongue_base": {"neck_jaw"},
    "sit_tall": set(),
    "hum_hold": set(),
}


@pytest.mark.parametrize("code", ROWS)
def test_a_row_of_the_reference(code):
    assert {caution.value for caution in met_by(written_tasks()[code])} == ROWS[code]


def test_the_table_that_was_read_is_what_the_check_finds():
    # after a change: manage.py caution_table, then read what differs
    assert PATH.read_text() == table(written_tasks())
