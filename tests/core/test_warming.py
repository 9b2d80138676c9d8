"""Warm-up before loud work, by school."""

from reedcore.checks import School, check
from reedcore.dose import SessionPart
from tests.core.test_checks import COOL, LOUD, PERSON, codes, item, plan


def test_warm_up_tasks_of_each_approach():
    chain = item("n", "nasal_chain", "articulation")
    silent = item("b", "straw_hold", "occluded", part=SessionPart(3, 8.0, False))
    cases = [
        (item("o", "straw_hold", "occluded"), School.SOFT, True),
        (silent, School.SOFT, False),
        (chain, School.LOUD, True),
        (chain, School.SOFT, False),
        (item("x", "twisters", "articulation"), School.LOUD, False),
        (item("x", "twisters", "articulation"), School.SOFT, False),
    ]
    for before, school, warms in cases:
        found = codes(check(plan(before, LOUD, COOL, school=school), PERSON))
        assert ("loud_without_warming" not in found) is warms, (before.task, school)
