"""English formats of dates and times; templates and sentences refer to them by name."""

DATE_FORMAT = "j F Y"
SHORT_DATE_FORMAT = "j M Y"
MONTH_DAY_FORMAT = "j F"
TIME_FORMAT = "H:i"
DATETIME_FORMAT = "j F Y, H:i"
SHORT_DATETIME_FORMAT = "j M Y, H:i"
