"""Files that a page sends, with the ticket of their import."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, File, Header, UploadFile
from pydantic import Field

from ..formats import file_name

RowId = Annotated[int, Field(ge=-(2**31), le=2**63 - 1)]
"""An integer that the database can hold."""


class Sent:
    """A file that was sent: its data, its displayable name, and its ticket."""

    def __init__(
        self,
        file: Annotated[UploadFile, File()],
        x_import: Annotated[str, Header(max_length=40, pattern="^[a-z0-9-]*$")] = "",
    ) -> None:
        self.data, self.name, self.ticket = file.file, file_name(file.filename), x_import


SentFile = Annotated[Sent, Depends()]
