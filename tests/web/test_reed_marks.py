"""Marks rendered together are escaped like any template output."""

from dataclasses import dataclass

import pytest

from web.results.reed_marks import points, stems


@dataclass
class Reed:
    title: str = "Mon 3 Nov: 8.0 s"
    link: str = "?try=1&by=week"
    key: str = "k"
    reach: str = "M0 0h12"
    state: str = "met"
    path: str = "M1 1L1 9"
    head: str = "full"
    tip: tuple[float, float] = (1.0, 9.5)
    x: float = 1.0
    y: float = 9.5


@pytest.mark.parametrize("drawn", [stems, points])
def test_user_text_is_escaped(drawn):
    made = drawn([Reed(title='<script>"hm"', link='"><b>')])
    assert "<script>" not in made
    assert "&lt;script&gt;" in made
    assert "<b>" not in made


def test_a_reed_leads_to_its_session_and_has_its_head():
    made = stems([Reed(), Reed(link="", head="")])
    assert made.count("<a ") == made.count("</a>") == 1
    assert made.count("<g>") == 1
    assert 'href="?try=1&amp;by=week"' in made
    assert made.count('class="head head-full head-met" transform="translate(1.0 9.5)') == 1
    assert made.count('class="stem stem-met"') == 2
