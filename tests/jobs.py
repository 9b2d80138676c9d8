"""Runs queued jobs in tests without a worker."""

from django.db.models import Q
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob


def run_jobs():
    """Run every queued job that is due; return their names."""
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
