"""The layered file's second way: a TIFF 6.0 of pages: the merged picture, then as shot, then each layer."""

from __future__ import annotations

import io
import os
from collections.abc import Sequence

import tifffile

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.deliver.layers import Layer, rgba
from keen_sweep.core.photo.channels import join
from keen_sweep.core.photo.picture import Metadata
from keen_sweep.core.photo.tiff import COMPRESSION_PARAMETERS, MAX_CLASSIC_BYTES
from keen_sweep.core.sentences import sentence

# Number of channels of a picture with transparency.
RGBA_CHANNELS = 4
# TIFF 6.0 tags of a page.
PAGE_NAME_TAG = 285
X_POSITION_TAG = 286
Y_POSITION_TAG = 287


def layered_tiff(
    original: Pixels,
    merged: Pixels,
    layers: Sequence[Layer],
    metadata: Metadata,
    alphas: tuple[Pixels, Pixels] | None = None,
) -> bytes:
    """Encode layers as pages of a TIFF, each with its name, position and transparency.

    Parameters
    ----------
    original : (H, W, 3) uint8 or uint16
        The picture as shot.
    merged : (H, W, 3) of the same dtype
        All layers together.
    layers : sequence of Layer
        The layers, bottom to top.
    metadata : Metadata
        Metadata of the original.
    alphas : pair of (H, W), or None, optional
        Transparency of the original and of the merged picture.

    Returns
    -------
    bytes
        The file.
    """
    clear, merged_clear = alphas or (None, None)
    across, down = metadata.resolution or (72.0, 72.0)
    big = original.nbytes * 2 + sum(layer.pixels.nbytes * 2 for layer in layers) > MAX_CLASSIC_BYTES
    buffer = io.BytesIO()
    with tifffile.TiffWriter(buffer, byteorder="<", bigtiff=big) as out:
        pages: list[tuple[str, Pixels, Layer | None]] = [
            ("Merged", join(merged, merged_clear, False, 1), None),
            ("As shot", join(original, clear, False, 1), None),
        ]
        pages += [
            (
                layer.name if layer.shown else sentence("{name} (switched off)", name=layer.name),
                rgba(layer),
                layer,
            )
            for layer in layers
        ]
        for name, pixels, layer in pages:
            extra: list[tuple[int, int | str, int, object, bool]] = [(PAGE_NAME_TAG, "s", 0, name, True)]
            if layer is not None:
                extra.append((X_POSITION_TAG, "2I", 1, (layer.box.x * 1000, round(across * 1000)), True))
                extra.append((Y_POSITION_TAG, "2I", 1, (layer.box.y * 1000, round(down * 1000)), True))
            out.write(
                pixels,
                photometric="rgb",
                extrasamples=["unassalpha"] if pixels.shape[2] == RGBA_CHANNELS else None,
                compression="zlib",
                compressionargs=COMPRESSION_PARAMETERS,
                predictor=True,
                rowsperstrip=max(1, 1_048_576 // max(1, pixels.strides[0])),
                maxworkers=os.cpu_count(),
                resolution=(across, down),
                resolutionunit="INCH",
                iccprofile=metadata.icc,
                metadata=None,
                software=False,
                extratags=extra,
            )
    return buffer.getvalue()
