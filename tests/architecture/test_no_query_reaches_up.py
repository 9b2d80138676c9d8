"""A query uses relations of its own app and of lower apps only."""

import ast
import tomllib
from collections import defaultdict
from pathlib import Path

from django.apps import apps

ROOT = Path(__file__).resolve().parents[2]
QUERIES = {
    "filter", "exclude", "get", "order_by", "values", "values_list", "annotate", "aggregate", "Q",
    "F", "Count", "Max", "Min", "Sum", "Avg", "Exists", "OuterRef", "only", "defer", "distinct",
    "select_related", "prefetch_related", "Prefetch", "alias", "dates", "update", "latest",
}  # fmt: skip


def order():
    """Return the web's apps, lowest first, in the order of the import rules."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]
    layers = next(
        each["layers"] for each in contracts["contracts"] if "web.ui" in each.get("layers", ())
    )
    return [layer.removeprefix("web.") for layer in reversed(layers)]


def relations():
    """Return the names of relations from a model to one of a higher app: name -> apps."""
    found = defaultdict(set)
    for model in apps.get_models():
        if model.__module__.startswith("web."):
            for each in model._meta.related_objects:
                there = each.related_model.__module__
                if there.startswith("web.") and not each.hidden:
                    found[each.name].add((model.__module__.split(".")[1], there.split(".")[1]))
    return found


def names_asked(source):
    """Yield each relation that a query names, with its line."""
    for call in ast.walk(ast.parse(source)):
        if isinstance(call, ast.Call):
            name = getattr(call.func, "attr", getattr(call.func, "id", ""))
            if name in QUERIES:
                said = [each.arg for each in call.keywords if each.arg]
                said += [
                    each.value
                    for each in call.args
                    if isinstance(each, ast.Constant) and isinstance(each.value, str)
                ]
                for each in said:
                    for part in each.lstrip("-").split("__"):
                        yield part, call.lineno


def relations_to_higher_apps(app, source, rank, known):
    """Return the relations in the source that exist only in higher apps."""
    return [
        (name, line)
        for name, line in names_asked(source)
        if known.get(name) and all(rank[there] > rank[app] for _, there in known[name])
    ]


def test_no_query_names_a_relation_of_a_later_app():
    rank = {app: place for place, app in enumerate(order())}
    known = relations()
    assert ("clients", "record") in known["trial"] | known["trials"]
    found = []
    for file in sorted((ROOT / "web").rglob("*.py")):
        app = file.relative_to(ROOT / "web").parts[0]
        if app in rank and "migrations" not in file.parts:
            for name, line in relations_to_higher_apps(app, file.read_text(), rank, known):
                found.append(f"{file.relative_to(ROOT)}:{line}: {name}")
    assert found == []


def test_a_query_that_reaches_up_is_found():
    rank = {"clients": 0, "record": 1}
    known = {"trials": {("clients", "record")}}
    source = "Client.objects.filter(trials__seconds__gt=3).order_by('-trials__at')"
    assert [name for name, _ in relations_to_higher_apps("clients", source, rank, known)] == [
        "trials"
    ] * 2
    assert relations_to_higher_apps("record", source, rank, known) == []
