"""What can happen to a screening and to a stop."""

from .screening import declare_safe, record_screen, refer
from .stop_alerts import about_stops, deliver, pass_on_stops, tell_all, tell_of
from .stops import add_words, advice, clear_stop, mark_read, record_stop, take_back

__all__ = [
    "about_stops",
    "add_words",
    "advice",
    "clear_stop",
    "declare_safe",
    "deliver",
    "mark_read",
    "pass_on_stops",
    "record_screen",
    "record_stop",
    "refer",
    "take_back",
    "tell_all",
    "tell_of",
]
