"""One line a figure."""


def bar(name: str, value: float, unit: str, limit: float, *, at_least: bool = False) -> None:
    """Print a figure beside the limit it should keep: at most `limit`, or at least."""
    kept = value >= limit if at_least else value <= limit
    print(f"BAR {name} {value:.4g} {unit} {limit:g} {'ok' if kept else 'short'}", flush=True)
