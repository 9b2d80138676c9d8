"""Each caution on record with each task of the catalogue, as reviewed once by hand."""

import pytest

from reedcore.catalogue.tasks import written_tasks
from web.programmes.cautions import ALLOWED, MEAL, STOP, cautions_met, table
from web.programmes.management.commands.caution_table import PATH

#: Cautions that forbid pressure, and who can allow it.
ALLOWED_PRESSURE = {"pressure", "pregnancy"}
VOICED_HOLD = {"vocal_fold_surgery", "lung_disease", "airway"}
#: A few rows of the reference: by column, the caution of the task, and nothing else.
ROWS = {
    "quiet_hold": (
        {"pressure_acute", "lung_disease", "airway", "fainting"},
        ALLOWED_PRESSURE | {"breathing_attacks"},
        set(),
    ),
    "balloon": (
        {"pressure_acute", "lung_disease", "airway", "fainting", "latex"},
        ALLOWED_PRESSURE | {"breathing_attacks", "abdominal"},
        {"reflux"},
    ),
    "lying_book": ({"airway", "aspiration", "lying"}, set(), {"reflux"}),
    "tube_water": (VOICED_HOLD | {"aspiration", "tremor"}, set(), set()),
    "two_numbers": ({"airway", "aspiration"}, set(), set()),
    "water": ({"aspiration"}, set(), set()),
    "panting": ({"lung_disease", "airway", "fainting"}, {"breathing_attacks"}, set()),
    "steady_hiss": ({"lung_disease", "airway", "fainting"}, {"breathing_attacks"}, set()),
    "light_onsets": ({"vocal_fold_surgery", "airway"}, set(), set()),
    "swell_fade": (VOICED_HOLD, set(), set()),
    "strong_oh": (
        VOICED_HOLD | {"pressure_acute", "fainting", "child"},
        ALLOWED_PRESSURE | {"breathing_attacks", "abdominal", "neck_surgery", "blood_thinners"},
        set(),
    ),
    "carry_over": (
        {"vocal_fold_surgery", "pressure_acute", "airway", "child"},
        ALLOWED_PRESSURE | {"abdominal", "neck_surgery", "blood_thinners"},
        set(),
    ),
    "five_note": ({"vocal_fold_surgery", "airway"}, {"neck_surgery", "blood_thinners"}, set()),
    "s_to_z": ({"pressure_acute", "lung_disease", "airway"}, ALLOWED_PRESSURE, set()),
    "tongue_base": ({"neck_surgery"}, {"neck_jaw", "jaw_disorder", "blood_thinners"}, set()),
    "thumbs_down_neck": ({"neck_surgery"}, {"neck_jaw", "blood_thinners"}, set()),
    "wide_mouths": (set(), {"neck_jaw", "jaw_disorder", "blood_thinners"}, set()),
    "sit_tall": (set(), set(), set()),
    "descending_hum": ({"lung_disease", "airway"}, set(), set()),
}


@pytest.mark.parametrize("code", ROWS)
def test_a_row_of_the_reference(code):
    met = cautions_met(written_tasks()[code])
    found = tuple(
        {caution.value for caution, columns in met.items() if column in columns}
        for column in (STOP, ALLOWED, MEAL)
    )
    assert found == ROWS[code]


@pytest.mark.parametrize("code", ["strong_ah", "strong_glides", "nasal_chain"])
def test_a_wide_open_strong_vowel_meets_a_jaw_disorder(code):
    assert STOP in cautions_met(written_tasks()[code])["jaw_disorder"]
    assert "jaw_disorder" not in cautions_met(written_tasks()["strong_oh"])


def test_the_table_that_was_read_is_what_the_check_finds():
    # After a change, run manage.py caution_table and review the difference.
    assert PATH.read_text() == table(written_tasks())
