"""Every code of the core has its sentence, and no sentence stands without a code."""

from reedcore.acoustics import QualityReason
from reedcore.errors import all_refusals
from reedcore.targets.judging import Why
from web.practice.wording import REASONS, WHY
from web.ui.wording import REFUSALS


def test_every_refusal_has_a_sentence():
    assert {refusal.code for refusal in all_refusals()} == set(REFUSALS)


def test_no_two_refusals_share_a_code():
    codes = [refusal.code for refusal in all_refusals()]
    assert len(codes) == len(set(codes))


def test_every_quality_reason_has_a_sentence():
    assert set(REASONS) == set(QualityReason)


def test_every_why_has_its_words():
    assert set(WHY) == set(Why)
