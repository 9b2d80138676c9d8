"""JSON from outside, bounded before it is read and mended before it is kept.

A body that passes can be stored, shown, exported and mailed: no number is infinite, no
text holds what PostgreSQL or UTF-8 cannot, nothing is deeper or longer than a person's work is.
"""

import json
import re
from math import isfinite
from typing import Any

import yaml

#: Real entries, programmes and sessions are only a few levels deep.
MOST_DEPTH = 24
#: Real entries have fewer values.
MOST_VALUES = 50_000
#: Beyond this a float cannot represent every integer.
LARGEST_NUMBER = 2**53
_STANDS_IN = "\N{REPLACEMENT CHARACTER}"
#: Lone surrogates, and control characters except tab and newline.
_SURROGATES = re.compile("[\ud800-\udfff]")
_CONTROLS = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u2028\u2029]")
_LINE_BREAKS = re.compile(r"[\r\n\t\v\f\x1c-\x1e\x85\u2028\u2029]+")


class Unreadable(ValueError):
    """A body is not acceptable JSON; the message names the cause without its content."""


class BodyTooLarge(Unreadable):
    """The body is valid JSON but too large."""


def read_json(text: str | bytes, *, most_bytes: int, should_clean: bool = False) -> Any:
    """Return standard JSON that the database can store.

    Args:
        most_bytes: longer than that is refused unread.
        mend: put a stand-in for half characters and leave control characters out, so that a
            person's words are kept; otherwise they are refused.

    Raises:
        Unreadable: it is no JSON, too long or too deep, holds a number that is none, or, unless
            mended, a character that cannot be kept.
    """
    if len(text) > most_bytes:
        raise BodyTooLarge("too long")
    try:
        value = json.loads(text, parse_constant=_no_number, parse_float=_float, parse_int=_int)
    except RecursionError as error:
        raise Unreadable("too deep") from error
    except (UnicodeDecodeError, json.JSONDecodeError) as error:
        raise Unreadable("not JSON") from error
    return _clean_value(value, should_clean=should_clean)


class _Plain(yaml.SafeLoader):
    """YAML without anchors, aliases and merges: with them three hundred bytes hold a library, and
    reading it takes seconds."""

    def compose_node(self, parent: yaml.Node | None, index: int) -> yaml.Node | None:
        """Refuse anchors and aliases, which can grow without limit."""
        if self.check_event(yaml.AliasEvent) or getattr(self.peek_event(), "anchor", None):
            raise Unreadable("an anchor or an alias")
        return super().compose_node(parent, index)


def read_yaml(text: str) -> Any:
    """Return YAML of the data files: plain lists, names and values.

    Raises:
        yaml.YAMLError: it is none.
        Unreadable: it holds an anchor, is too deep, or holds what cannot be kept.
    """
    depth = 0
    for event in yaml.parse(text, Loader=yaml.SafeLoader):
        opens = isinstance(event, yaml.CollectionStartEvent)
        depth += opens - isinstance(event, yaml.CollectionEndEvent)
        if depth > MOST_DEPTH:
            raise Unreadable("too deep")
    value = yaml.load(text, Loader=_Plain)  # noqa: S506  # a safe loader, and plainer still
    return read_json(
        json.dumps(value, default=str, allow_nan=False), most_bytes=10 * len(text) + 64
    )


def clean_text(text: str) -> str:
    """Return a text without characters that cannot be stored; line breaks and tabs stay."""
    return _CONTROLS.sub("", _SURROGATES.sub(_STANDS_IN, text))


def clean_line(text: str) -> str:
    """Return a name or a heading: mended, and on one line, as mails' headings and file names need
    it."""
    return clean_text(_LINE_BREAKS.sub(" ", text)).strip()


def _no_number(word: str) -> None:
    raise Unreadable("a number that is none")


def _float(digits: str) -> float:
    value = float(digits)
    if not isfinite(value) or abs(value) > LARGEST_NUMBER:
        raise Unreadable("a number that is none")
    return value


def _int(digits: str) -> int:
    # Check first: parsing a number with many digits is slow.
    if len(digits) > len(str(LARGEST_NUMBER)) + 1 or abs(int(digits)) > LARGEST_NUMBER:
        raise Unreadable("a number that is none")
    return int(digits)


def _clean_value(value: Any, *, should_clean: bool) -> Any:
    """Return the same value with its texts fit to be kept, walked without recursion's
    own limits."""
    count = 0

    def walk(value: Any, depth: int) -> Any:
        nonlocal count
        count += 1
        if depth > MOST_DEPTH:
            raise Unreadable("too deep")
        if count > MOST_VALUES:
            raise BodyTooLarge("too much")
        if isinstance(value, str):
            return _text(value, should_clean=should_clean)
        if isinstance(value, list):
            return [walk(each, depth + 1) for each in value]
        if isinstance(value, dict):
            return {
                _text(k, should_clean=should_clean): walk(v, depth + 1) for k, v in value.items()
            }
        return value

    return walk(value, 0)


def _text(text: str, *, should_clean: bool) -> str:
    fit = clean_text(text)
    if fit != text and not should_clean:
        raise Unreadable("a character that cannot be kept")
    return fit
