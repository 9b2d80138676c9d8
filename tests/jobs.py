"""Doing what stands in the queue, where a test has no worker."""

from django.db.models import Q
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob


def run_jobs():
    """Does every job that was prescribed, is due and has not been done by this; gives their names."""
    done = []
    while waiting := _due().exclude(pk__in=_done()).first():
        _DONE.add(waiting.pk)
        app.tasks[waiting.task_name].func(**waiting.args)
        done.append(waiting.task_name)
    return done


def _due():
    due = Q(scheduled_at=None) | Q(scheduled_at__lte=timezone.now())
    return ProcrastinateJob.objects.filter(due, status="todo")


_DONE: set[int] = set()


def _done():
    return list(_DONE)
