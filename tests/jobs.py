"""Doing what stands in the queue, where a test has no worker."""

from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob


def run_jobs():
    """Does every job that was handed over and has not been done by this; gives their names."""
    done = []
    while waiting := ProcrastinateJob.objects.filter(status="todo").exclude(pk__in=_done()).first():
        _DONE.add(waiting.pk)
        app.tasks[waiting.task_name].func(**waiting.args)
        done.append(waiting.task_name)
    return done


_DONE: set[int] = set()


def _done():
    return list(_DONE)
