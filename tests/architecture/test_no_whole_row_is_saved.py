"""Concurrent changes are kept: a row is saved field by field, and locked before it is read."""

import ast
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
#: Only one process loads the demo at a time.
LEFT_OUT = ("migrations", "demo")
SAVES_FIELDS = {"update_fields", "force_insert"}


def sources(pattern):
    found = [path for path in ROOT.glob(pattern) if not set(LEFT_OUT) & set(path.parts)]
    return {str(path.relative_to(ROOT)): ast.parse(path.read_text()) for path in found}


def saves(tree):
    """Return every call of a method named ``save``."""
    return [
        node
        for node in ast.walk(tree)
        if isinstance(node, ast.Call)
        and isinstance(node.func, ast.Attribute)
        and node.func.attr == "save"
    ]


def is_model_row(call):
    """Return whether a model row is saved: not a picture, a form without saving, or the model's own
    method."""
    words = {each.arg for each in call.keywords}
    return not call.args and "commit" not in words and None not in words


#: Whole rows that are saved on purpose.
ON_PURPOSE = {
    # A socket has a method of that name, and a session is not one of our rows.
    "web/sound/consumers.py": 2,
    # Django's own form saves the user who is signed in, and a session.
    "web/accounts/views.py": 2,
}


def test_no_existing_row_is_saved_as_a_whole():
    whole = {}
    for name, tree in sources("web/**/*.py").items():
        found = [
            call
            for call in saves(tree)
            if is_model_row(call) and not SAVES_FIELDS & {each.arg for each in call.keywords}
        ]
        if found:
            whole[name] = len(found)
    assert whole == ON_PURPOSE


def written_unlocked(function):
    """Return the arguments of a function that it saves without loading them again."""
    given = {each.arg for each in (*function.args.args, *function.args.kwonlyargs)}
    bound = {
        target.id
        for node in ast.walk(function)
        if isinstance(node, ast.Assign | ast.For)
        for target in ast.walk(node.targets[0] if isinstance(node, ast.Assign) else node.target)
        if isinstance(target, ast.Name) and isinstance(target.ctx, ast.Store)
    }
    return {
        call.func.value.id
        for call in saves(function)
        if isinstance(call.func.value, ast.Name)
        and "force_insert" not in {each.arg for each in call.keywords}
    } & (given - bound)


def test_an_action_locks_a_row_and_reads_it_again_before_it_writes():
    """A row passed as an argument was read before the lock and may be outdated."""
    unlocked = {}
    modules = (
        sources("web/*/actions.py") | sources("web/*/actions/*.py") | sources("web/*/*/actions.py")
    )
    assert len(modules) > 12
    for name, tree in modules.items():
        for node in ast.walk(tree):
            # Functions with a leading underscore get rows that their caller has locked.
            is_action = isinstance(node, ast.FunctionDef) and not node.name.startswith("_")
            if is_action and (rows := written_unlocked(node)):
                unlocked[f"{name}:{node.name}"] = sorted(rows)
    assert unlocked == {}
