"""Log lines: one event a line, as key=value pairs or as JSON."""

from __future__ import annotations

import logging
import re
from typing import Any

import structlog
from structlog.typing import EventDict

#: Formats that LOG_FORMAT can name.
LAYOUTS = ("logfmt", "json")
#: Extra attributes of Django's own log records that may contain data.
_OBJECTS = ("request", "server_time", "taskName", "websocket", "color_message")

#: Path segments after these grant access (a practice link's code, a signed token). An address may
#: be nested in another, encoded.
_SECRET = re.compile(
    r"((?:/|%2F)(?:practice(?:/|%2F)with|reminders(?:/|%2F)off|choose-password)(?:/|%2F))"
    r"[^\s?&\"']+",
    re.IGNORECASE,
)


def cut_secret_paths(text: str) -> str:
    """Return the text without the secret part of paths that grant access."""
    return _SECRET.sub(r"\1…", text)


def formatter(layout: str = "logfmt") -> logging.Formatter:
    """Return the formatter of every log line.

    Raises:
        ValueError: The layout is neither ``logfmt`` nor ``json``.
    """
    if layout not in LAYOUTS:
        raise ValueError(f"LOG_FORMAT is {layout!r}: use one of {', '.join(LAYOUTS)}")
    ordered = ["timestamp", "level", "event", "logger"]
    renderer: Any = (
        structlog.processors.JSONRenderer(ensure_ascii=False, default=str)
        if layout == "json"
        else structlog.processors.LogfmtRenderer(key_order=ordered, drop_missing=True)
    )
    return structlog.stdlib.ProcessorFormatter(
        foreign_pre_chain=[
            structlog.stdlib.add_log_level,
            structlog.stdlib.add_logger_name,
            structlog.stdlib.ExtraAdder(),
            structlog.processors.TimeStamper(fmt="iso", utc=True),
        ],
        processors=[
            structlog.stdlib.ProcessorFormatter.remove_processors_meta,
            structlog.processors.format_exc_info,
            _drop_secrets,
            renderer,
        ],
    )


def _drop_secrets(_logger: Any, _method: str, event: EventDict) -> EventDict:
    return {
        key: cut_secret_paths(value) if isinstance(value, str) else value
        for key, value in event.items()
        if key not in _OBJECTS and value is not None
    }
