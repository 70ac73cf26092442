"""Benchmarks patch parts of the aligner by name: the names are there."""

import pytest
from benchmarks.ablation import IDEAS


@pytest.mark.parametrize("idea", IDEAS)
def test_what_an_ablation_takes_away_is_there(idea):
    assert [name for where, name, _ in IDEAS[idea] if not hasattr(where, name)] == []
