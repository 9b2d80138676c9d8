"""The part of docs/benchmarks.md that tells of scale."""

from __future__ import annotations

from typing import Any


def section(rows: list[dict[str, Any]]) -> str:
    """Return a table with a line per page and a column per size; the ratio compares the largest
    with the smallest."""
    sizes = list(dict.fromkeys(row["tries"] for row in rows))
    lines = [
        "By `make bench-scale`: the middle of 15 requests, server time in ms (and processor time, "
        "without the database's) through the whole "
        "stack of Django. The clinic that is looked at has 60 clients with a year each and is the "
        f"same at every size; the largest database holds {rows[-1]['clients']} clients. "
        f"{rows[-1]['traces']:,} of its tries have a trace; it takes {rows[-1]['gb']} GB. "
        f"Loading the last size took {rows[-1]['loaded_s']} s.",
        "",
        "| page | " + " | ".join(f"{size:,} tries" for size in sizes) + " | ratio | queries |",
        "|---|" + "---:|" * (len(sizes) + 2),
    ]
    for name in dict.fromkeys(row["page"] for row in rows):
        of_page = [row for row in rows if row["page"] == name]
        by_size = {row["tries"]: f"{row['ms']:.0f} ({row['cpu_ms']:.0f})" for row in of_page}
        times = " | ".join(by_size.get(size, "") for size in sizes)
        queries = ", ".join(dict.fromkeys(str(row["queries"]) for row in of_page))
        ratio = f"{of_page[-1]['ms'] / of_page[0]['ms']:.2f}" if len(of_page) > 1 else ""
        lines.append(f"| {name} | {times} | {ratio} | {queries} |")
    return "\n".join(lines) + "\n"
