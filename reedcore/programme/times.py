"""The length of one trial of an item."""

from reedcore.catalogue.tasks import Task
from reedcore.measures import kind_of

from .led import breaths_of, rising_s
from .lines import is_answered, lines_of, text_of
from .programme import Item
from .sounds import beat_s, rounds_of

#: A longer trial may contain breaths and ends by time, seconds.
LONG_TRY_S = 30.0
#: Duration per word, and extra time per line (conventions), seconds.
A_WORD_S, A_LINE_S = 0.45, 1.0
#: Duration of an answer (convention), seconds.
AN_ANSWER_S = 6.0


def item_seconds(item: Item, task: Task) -> float:
    """Return the length of one trial: of a pattern one round, of a row or lines the mean, of
    counted breaths as they are led, otherwise by its measure."""
    if rising := rising_s(item):
        return sum(rising) / len(rising)
    if rounds := rounds_of(item, task):
        return rounds[0].seconds
    if breaths := breaths_of(item, task):
        return sum(phase.counts for breath in breaths for phase in breath) * beat_s(item.params)
    if kind_of(task.measure).is_by_line:
        words = [len(text_of(line).split()) for line in lines_of(item, task)]
        answers = AN_ANSWER_S if is_answered(item, task) else 0.0
        return A_LINE_S + A_WORD_S * sum(words) / len(words) + answers
    return kind_of(task.measure).seconds(task, item.params)
