"""Texts of messages to clients."""

from web.ui.marked import Words, gettext_noop

from .models import Message

MESSAGES = Words(
    {
        Message.Kind.MISSED: gettext_noop(
            "Hello,\n\nwe have not received your practice for yesterday. That happens. A short session counts too. Open your practice link when it suits you, and start with the easiest task.\n\nIf something hurts, or your voice has changed, do not practise. Call us instead.\n\n{clinic}\n\nYou get at most one reminder a day. To turn reminders off, open this link: {off}"
        ),
        Message.Kind.CHECK_IN: gettext_noop(
            "Hello,\n\nhow is your practice going? If something makes it hard, or a task does not suit you, call us or tell us at your next visit. We can change it.\n\nIf something hurts, or your voice has changed, do not practise. Call us instead.\n\n{clinic}"
        ),
        Message.Kind.CHANGED: gettext_noop(
            "Hello,\n\nyour programme changes from today. Your practice link shows the new programme:\n\n{changes}\n\nWe would like to hear how your voice is. Please call us.\n\nIf something hurts, or your voice has changed, do not practise. Call us instead.\n\n{clinic}"
        ),
    }
)
SUBJECTS = Words(
    {
        Message.Kind.MISSED: gettext_noop("Your voice practice"),
        Message.Kind.CHECK_IN: gettext_noop("How is the practice going?"),
        Message.Kind.CHANGED: gettext_noop("Your programme has changed"),
    }
)
