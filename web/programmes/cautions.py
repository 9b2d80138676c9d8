"""Which caution on record meets which task, as the check finds it."""

from datetime import date

from reedcore.catalogue.schema import FAMILIES
from reedcore.catalogue.tasks import Task
from reedcore.checks import Person, Plan, check
from reedcore.dose import Dose, DoseKind
from reedcore.programme.document import new_item
from reedcore.programme.plan import item_of
from reedcore.safety import BY_SAY_SO, FORBIDS, Caution, forbidden_hazards
from web.clients.wording import HAZARDS

_ANY_DAY = date(2026, 1, 1)
_ONCE = Dose(DoseKind.ON_DEMAND, _ANY_DAY, a_day=1, weekdays=(0,), weeks=1)
_CODES = ("caution_on_record", "caution_allowed")
TOLD = tuple(caution for caution in Caution if FORBIDS[caution])
HEAD = """# Cautions and tasks

Made by `manage.py caution_table`; a test holds it to what the check finds. Each task stands at its
defaults, for a client of whom nothing is known but that one caution: no baseline, no props, no word
of whoever treats it. What is known decides instead: 80 % of the best or less does not empty the
lungs, a note inside the comfortable range is not high, a wide straw is no back pressure, a soft
tube no glass. An empty field means nothing is found. Stop: only with a written reason, for that
caution and that task. Stop*: a warning once whoever treats it has allowed it and the record says
who, when and what.

What holds for every task has no column: a client who was never screened, or whose larynx nobody has
looked at for a complaint, is stopped (a reason overrules); an open red flag, the surgeon's voice
rest, and surgery without the surgeon's date let nothing be prescribed at all. Lung disease also
keeps holds and hisses to 80 % of the best and lengthens every rest to 15 seconds. A risk of
aspiration takes the water out of pauses. Hoarser or ill today is asked each day: nothing loud,
and the gentler session or a rest day. Reflux, an inhaler and hearing loss are noted.
"""


def met_by(task: Task) -> dict[Caution, tuple[str, ...]]:
    """The cautions that a task at its defaults meets, each with what of it they are about."""
    found = {}
    for caution in TOLD:
        who = Person(
            cautions=frozenset({caution}), forbidden=forbidden_hazards({caution}, on=_ANY_DAY)
        )
        plan = Plan((item_of(new_item(task, id="item"), task),), _ONCE)
        hazards = [
            each.facts["hazards"]
            for each in check(plan, who)
            if each.code in _CODES and each.about == caution
        ]
        if hazards:
            found[caution] = tuple(HAZARDS[hazard] for hazard in hazards[0])
    return found


def table(tasks: dict[str, Task]) -> str:
    """The whole of it as Markdown, family by family."""
    names = " | ".join(caution.replace("_", " ") for caution in TOLD)
    lines = [HEAD]
    for family, title in FAMILIES.items():
        lines += [f"## {title}\n", f"| task | {names} |", "|---" * (len(TOLD) + 1) + "|"]
        for task in tasks.values():
            if task.family == family:
                met = met_by(task)
                cells = [_cell(caution, met) for caution in TOLD]
                lines.append(f"| {task.name} | {' | '.join(cells)} |")
        lines.append("")
    return "\n".join(lines)


def _cell(caution, met):
    if caution not in met:
        return ""
    return f"stop{'*' if caution in BY_SAY_SO else ''}: {', '.join(met[caution])}"
