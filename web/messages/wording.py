"""What clients are written, in plain words."""

from .models import Message

MESSAGES = {
    Message.Kind.MISSED: "Hello,\n\nyesterday’s practice is not there yet. That happens. A short day counts too: open your practice link when it suits you, and start with whatever is easiest.\n\nIf something hurts, or your voice has changed, do not practise; call us instead.\n\n{clinic}\n\nYou get at most one such note a day. For none at all, open this and say so: {off}",
    Message.Kind.CHECK_IN: "Hello,\n\nhow is the practice going? If something stands in the way, or a task does not suit you, call us or tell us at your next visit: it can be changed.\n\nIf something hurts, or your voice has changed, do not practise; call us instead.\n\n{clinic}",
    Message.Kind.CHANGED: "Hello,\n\nyour programme has changed from today; the practice link shows it:\n\n{changes}\n\nWe would like to hear how your voice is doing: please call us.\n\nIf something hurts, or your voice has changed, do not practise; call us instead.\n\n{clinic}",
}
SUBJECTS = {
    Message.Kind.MISSED: "Your voice practice",
    Message.Kind.CHECK_IN: "How is the practice going?",
    Message.Kind.CHANGED: "Your programme has changed",
}
