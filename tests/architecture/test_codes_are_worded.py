"""Every code of the core has its sentence, and no sentence stands without a code."""

import pytest

from reedcore.acoustics import QualityReason
from reedcore.baseline import Standing
from reedcore.decisions import Because, Step
from reedcore.dose.today import Voice
from reedcore.errors import all_refusals
from reedcore.safety import Block, Caution, Flag, Mark, Tier
from reedcore.targets.judging import Why
from reedcore.targets.proposing import Kind, Missing, Rule
from web.clients import wording as clients
from web.practice import wording as practice
from web.practice.wording import WHY
from web.review import wording as review
from web.sound.wording import REASONS
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


@pytest.mark.parametrize(
    ("codes", "words"),
    [
        (Flag, clients.FLAG_QUESTIONS),
        (Flag, clients.FLAG_NAMES),
        (Tier, clients.TIER_ADVICE),
        (Caution, clients.CAUTION_QUESTIONS),
        (Caution, clients.CAUTION_NAMES),
        (Caution, clients.CAUTION_MEANS),
        (Mark, clients.MARKS),
        (Block, clients.BLOCKS),
        (Kind, clients.KINDS),
        (Rule, clients.RULES),
        (Missing, clients.MISSING),
        (Standing, clients.STANDINGS),
        (Flag, practice.CLIENT_FLAGS),
        (Tier, practice.CLIENT_ADVICE),
        (Voice, practice.VOICES),
        (Step, review.STEPS),
        (Because, review.REASONS),
    ],
)
def test_every_code_has_its_words(codes, words):
    assert set(words) == set(codes)
