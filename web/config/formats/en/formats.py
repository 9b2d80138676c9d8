"""How dates and times are written in English; templates and sentences name these formats."""

DATE_FORMAT = "j F Y"
SHORT_DATE_FORMAT = "j M Y"
MONTH_DAY_FORMAT = "j F"
TIME_FORMAT = "H:i"
DATETIME_FORMAT = "j F Y, H:i"
SHORT_DATETIME_FORMAT = "j M Y, H:i"
