"""Actions on screenings and stops."""

from .screening import declare_safe, record_screen, refer
from .stop_alerts import alert_text, deliver, pass_on_stops, send_alert_if_due, send_due_alerts
from .stops import add_words, advice, clear_stop, mark_read, record_stop, take_back

__all__ = [
    "add_words",
    "advice",
    "alert_text",
    "clear_stop",
    "declare_safe",
    "deliver",
    "mark_read",
    "pass_on_stops",
    "record_screen",
    "record_stop",
    "refer",
    "send_alert_if_due",
    "send_due_alerts",
    "take_back",
]
