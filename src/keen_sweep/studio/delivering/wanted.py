"""What is wanted of a delivery: which kind of file, for whom, and under which names."""

from __future__ import annotations

from enum import StrEnum

from pydantic import BaseModel, ConfigDict, Field

from keen_sweep.core.deliver.named import DEFAULT_PATTERN
from keen_sweep.core.photo.picture import Format, Written
from keen_sweep.core.photo.write import DEFAULT_FORMATS, FORMAT_SUFFIXES


class Kind(StrEnum):
    """Kinds of files."""

    SAME = "same"  # like the original
    JPEG = "jpeg"
    PNG = "png"
    TIFF = "tiff"
    WEB = "web"
    ORA = "ora"  # the layered file
    LAYERS = "layers"  # a TIFF with a page for each layer


class Wanted(BaseModel):
    """longest, quality, sharpen: of files for the web; ledger: what was done is written into the file; masks: each
    sweep's mask lies beside it as a PNG; pattern: of names, see core.deliver.named."""

    model_config = ConfigDict(frozen=True)

    kind: Kind = Kind.SAME
    longest: int = Field(default=2048, ge=16, le=20_000)
    quality: int = Field(default=88, ge=1, le=100)
    sharpen: bool = True
    ledger: bool = True
    masks: bool = False
    pattern: str = Field(default=DEFAULT_PATTERN, max_length=180)

    def written(self, original: Format) -> Written | None:
        """The plain format that is written; None for layered files."""
        if self.kind in (Kind.ORA, Kind.LAYERS):
            return None
        if self.kind is Kind.WEB:
            return "jpeg"
        return DEFAULT_FORMATS[original] if self.kind is Kind.SAME else _PLAIN_FORMATS[self.kind]

    def suffix(self, original: Format) -> str:
        """What the file's name ends with."""
        written = self.written(original)
        if written is not None:
            return FORMAT_SUFFIXES[written]
        return ".ora" if self.kind is Kind.ORA else ".layers.tif"


LIKE_THE_ORIGINAL = Wanted()
_PLAIN_FORMATS: dict[Kind, Written] = {Kind.JPEG: "jpeg", Kind.PNG: "png", Kind.TIFF: "tiff"}
