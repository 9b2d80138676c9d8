"""Every code of the core has a sentence, and every sentence has a code."""

import pytest

from reedcore.acoustics import QualityReason
from reedcore.baseline import AgainstReference
from reedcore.decisions import Reason, Step
from reedcore.dose.today import Voice
from reedcore.errors import refusal_classes
from reedcore.safety import ASKABLE, ASKED, Block, Caution, Flag, Hazard, Tier
from reedcore.targets.judging import VerdictReason
from reedcore.targets.proposing import Missing, Rule, TargetKind
from web.baseline import wording as baseline
from web.clients import wording as clients
from web.decisions import wording as decisions
from web.practice import wording as practice
from web.practice.wording import WHY
from web.screening import wording as screening
from web.sound.wording import REASONS
from web.ui.wording import REFUSALS


def test_every_refusal_has_a_sentence():
    assert {refusal.code for refusal in refusal_classes()} == set(REFUSALS)


def test_no_two_refusals_share_a_code():
    codes = [refusal.code for refusal in refusal_classes()]
    assert len(codes) == len(set(codes))


def test_every_quality_reason_has_a_sentence():
    assert set(REASONS) == set(QualityReason)


def test_every_why_has_its_words():
    assert set(WHY) == set(VerdictReason)


@pytest.mark.parametrize(
    ("codes", "words"),
    [
        (ASKABLE, screening.FLAG_QUESTIONS),
        (Flag, screening.FLAG_NAMES),
        (Tier, screening.TIER_ADVICE),
        (ASKED, screening.CAUTION_QUESTIONS),
        (Caution, clients.CAUTION_NAMES),
        (Caution, screening.CAUTION_MEANS),
        (Hazard, screening.HAZARDS),
        (Block, screening.BLOCKS),
        (TargetKind, baseline.KINDS),
        (Rule, baseline.RULES),
        (Missing, baseline.MISSING),
        (AgainstReference, baseline.AGAINST_REFERENCE),
        (Flag, practice.CLIENT_FLAGS),
        (Tier, practice.CLIENT_ADVICE),
        (Voice, practice.VOICES),
        (Step, decisions.STEPS),
        (Reason, decisions.REASONS),
    ],
)
def test_every_code_has_its_words(codes, words):
    assert set(words) == set(codes)
