"""From linear light to the file a camera would have written."""

from __future__ import annotations

import io

import cv2
import numpy as np
from PIL import Image, ImageCms
from PIL.TiffImagePlugin import IFDRational


def finish(linear: np.ndarray, exposure: float, grain: float, seed: int, lens: float = 1.0) -> np.ndarray:
    """(H, W, 3) linear radiance -> uint8 sRGB: veiling glare, lens blur, vignette, colour fringe, warm white,
    a filmic curve, and grain by luminance with a fixed seed."""
    height, width = linear.shape[:2]
    image = linear.astype(np.float32) * exposure
    glare = cv2.GaussianBlur(image, (0, 0), width / 60)
    image = 0.985 * image + 0.015 * glare
    image = cv2.GaussianBlur(image, (0, 0), 0.5)
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    nx, ny = (x - width / 2) / (width / 2), (y - height / 2) / (width / 2)
    r2 = nx**2 + ny**2
    image *= (1 - 0.20 * lens * r2)[..., None]
    for channel, scale in ((0, 1.00025), (2, 0.99975)):
        mx, my = width / 2 + (x - width / 2) * scale, height / 2 + (y - height / 2) * scale
        image[..., channel] = cv2.remap(image[..., channel], mx, my, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT)
    image *= np.array([1.05, 1.0, 0.93], np.float32)
    image = np.clip(image, 0, None)
    # Filmic shoulder (a rational curve), then the sRGB transfer.
    image = (image * (2.51 * image + 0.03)) / (image * (2.43 * image + 0.59) + 0.14)
    encoded = np.where(image <= 0.0031308, 12.92 * image, 1.055 * np.clip(image, 1e-9, None) ** (1 / 2.4) - 0.055)
    random = np.random.default_rng(seed)
    noise = random.normal(0, 1, image.shape).astype(np.float32)
    noise = 0.75 * noise + 0.55 * cv2.GaussianBlur(noise, (0, 0), 0.7) * 1.8
    luminance = encoded.mean(axis=2, keepdims=True)
    encoded = encoded + noise * grain * (0.35 + 0.65 * np.sqrt(np.clip(1 - luminance, 0, 1)))
    return np.clip(np.rint(encoded * 255), 0, 255).astype(np.uint8)


def jpeg(pixels: np.ndarray, exif: tuple[str, float, int], quality: int = 95) -> bytes:
    """An sRGB JPEG without colour subsampling, with what a camera notes: exposure time, f-number, ISO."""
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    time, aperture, iso = exif
    notes = Image.Exif()
    shot = notes.get_ifd(0x8769)
    shot[0x829A] = IFDRational(1, int(time.split("/")[1]))
    shot[0x829D] = IFDRational(round(aperture * 10), 10)
    shot[0x8827] = iso
    shot[0x9003] = "2031:06:14 18:12:00"
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "JPEG", quality=quality, subsampling=0, icc_profile=profile, exif=notes)
    return out.getvalue()


def save_png(path, pixels: np.ndarray) -> None:
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    Image.fromarray(pixels).save(path, optimize=True, **({"icc_profile": profile} if pixels.ndim == 3 else {}))
