"""Edits of the export list."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.formats.listing import ExportList, require_valid_list
from buccaphon.project.edits import Edit, Touched
from buccaphon.project.state import State
from buccaphon.texts import N_


@dataclass(frozen=True, slots=True)
class SetExports(Edit):
    """Write these files for the host."""

    TITLE = N_("Change the export list")
    TOUCHES = Touched.EXPORTS

    exports: ExportList

    def apply(self, state: State) -> State:
        """Raises ListError for a list that cannot be."""
        require_valid_list(self.exports)
        return replace(state, exports=self.exports)
