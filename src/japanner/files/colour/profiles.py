"""Colour profiles (ICC.1, ISO 15076-1): pictures out of them at 16 bits, proofs of paper, and tables for screens.

LittleCMS does the work, through imagecodecs: Pillow's door to it has 8 bits.
"""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache, lru_cache
from pathlib import Path
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import lab
from japanner.color.difference import ciede2000
from japanner.errors import FileFormatError
from japanner.files.reading import read_bytes

__all__ = [
    "MATTE_PAPER",
    "OUTSIDE",
    "Profile",
    "Proof",
    "from_profile",
    "known_profiles",
    "matte_paper",
    "named_profile",
    "profile_at",
    "proof_of",
    "proof_through",
    "screen_table",
    "srgb_icc",
]

LARGEST: Final = 64 << 20
NODES: Final = 41
BAND: Final = 256
"""Rows at once, so that large pictures take no memory beside them."""
SPACES: Final = {b"RGB ": "rgb", b"GRAY": "gray", b"CMYK": "cmyk"}
CHANNELS: Final = {"rgb": 3, "gray": 1, "cmyk": 4}
FULL: Final = {"rgb": 1.0, "gray": 1.0, "cmyk": 100.0}
"""What LittleCMS has for a full channel in floating point: of inks per cent."""
MATTE_PAPER: Final = "matte paper"
OUTSIDE: Final = 2.3
"""CIEDE2000 from which a colour counts as lost: about what is just seen."""
CLOSES: Final = 1.0
"""Of L* above the paper's black: what is darker comes out as one dark."""
FOLDERS: Final = ("/usr/share/color/icc", "/usr/local/share/color/icc", "~/.local/share/icc", "~/.color/icc")
WHITE_D50: Final = (0.3457, 0.3585, 1.0)
PAPER_PRIMARIES: Final = (0.560, 0.340, 1.0, 0.310, 0.520, 1.0, 0.190, 0.150, 1.0)
"""Chromaticities that pigment inks reach about on uncoated, matte papers; our own, rounded."""
OUTSIDE_COLOUR: Final = (0.86, 0.25, 0.80)
CLOSED_COLOUR: Final = (0.16, 0.55, 0.86)
"""Colours that paint seldom has, for what a print loses."""
PAPER_BLACK: Final = 17.0
"""L* of the darkest that such papers give: common practice has 15 to 20."""


def srgb_icc() -> bytes:
    """An sRGB profile, as files carry it."""
    from PIL import ImageCms  # noqa: PLC0415 - only files need it

    profile: bytes = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    return profile


@dataclass(frozen=True, eq=False)
class Profile:
    """A profile that can be worked with. space: rgb, gray or cmyk."""

    name: str
    data: bytes
    space: str


def profile_of(data: bytes, name: str = "") -> Profile:
    """A profile from its bytes, tried once; FileFormatError if it is damaged or of a kind that pictures have not."""
    from PIL import ImageCms  # noqa: PLC0415 - only files need it

    space = SPACES.get(data[16:20]) if len(data) >= 128 and data[36:40] == b"acsp" else None
    if space is None:
        raise FileFormatError(f"{name or 'The colour profile'} is none for pictures.")
    try:
        opened = ImageCms.ImageCmsProfile(io.BytesIO(data))
        words = ImageCms.getProfileDescription(opened).strip()
        profile = Profile(name or words or "unnamed profile", data, space)
        _transformed(np.zeros((1, 1, CHANNELS[space]), np.float32), profile, SRGB())
    except Exception as error:  # LittleCMS raises many kinds for damaged profiles, and each means the same to us
        raise FileFormatError(f"{name or 'The colour profile'} is damaged, or has no way into sRGB.") from error
    return profile


def profile_at(path: Path) -> Profile:
    """The profile in a file."""
    return profile_of(read_bytes(path, LARGEST), path.stem)


@cache
def SRGB() -> Profile:
    """Ours."""
    return Profile("sRGB", srgb_icc(), "rgb")


@cache
def matte_paper() -> Profile:
    """A printer on matte paper: colours that it reaches, and a black that is not black. Of our own making."""
    from imagecodecs import cms_profile  # noqa: PLC0415

    dark = float(lab.luminance_from_lightness(PAPER_BLACK))
    curve = dark + (1 - dark) * np.linspace(0, 1, 1024) ** 2.2
    codes = np.rint(curve * 65535).astype(np.uint16)
    data = cms_profile("rgb", whitepoint=list(WHITE_D50), primaries=list(PAPER_PRIMARIES), transferfunction=codes)
    return Profile(MATTE_PAPER, bytes(data), "rgb")


def known_profiles() -> Iterator[tuple[str, Path | None]]:
    """Profiles to print through by their names: our own paper (None), sRGB, and those that the system has."""
    yield MATTE_PAPER, None
    yield "sRGB", None
    seen = {MATTE_PAPER, "sRGB"}
    for folder in FOLDERS:
        root = Path(folder).expanduser()
        for path in sorted((*root.rglob("*.icc"), *root.rglob("*.icm"))) if root.is_dir() else ():
            if path.stem not in seen:
                seen.add(path.stem)
                yield path.stem, path


def named_profile(name: str) -> Profile:
    """One of the known ones; FileFormatError where it is gone or damaged."""
    if name == "sRGB":
        return SRGB()
    path = dict(known_profiles()).get(name)
    if name == MATTE_PAPER or path is None:
        return matte_paper()
    return profile_at(path)


def _transformed(codes: NDArray[np.floating], source: Profile, target: Profile) -> NDArray[np.float32]:
    """Pixels (h, w, c), 0..1, of one profile in another: relative colorimetric, without making black black. In floating
    point LittleCMS works every pixel out; whole numbers it looks up in a coarse table.
    """
    from imagecodecs import CMS, cms_transform  # noqa: PLC0415 - it takes a moment, and few need it

    given = np.ascontiguousarray(codes * np.float32(FULL[source.space]), np.float32)
    found: NDArray[np.float32] = cms_transform(
        given, source.data, target.data, colorspace=source.space, outcolorspace=target.space, outdtype="float32",
        intent=CMS.INTENT.RELATIVE_COLORIMETRIC,
    )  # fmt: skip
    return found / np.float32(FULL[target.space])


def from_profile(codes: NDArray[np.uint16], data: bytes) -> tuple[NDArray[np.uint16], str]:
    """Pixels uint16 (1, 3 or 4 channels, h, w) of a picture with this profile as sRGB (3, h, w), and what was done in a
    sentence, "" for nothing. FileFormatError where the profile is damaged or is none for so many channels.
    """
    profile = profile_of(data)
    if CHANNELS[profile.space] != len(codes):
        raise FileFormatError(f"The colour profile {profile.name} is none for {len(codes)} channels.")
    if "srgb" in profile.name.lower() and profile.space == "rgb":
        return codes, ""
    planes = np.empty((3, *codes.shape[1:]), np.uint16)
    for top in range(0, codes.shape[1], BAND):
        rows = codes[:, top : top + BAND].transpose(1, 2, 0) / np.float32(65535)
        found = np.clip(_transformed(rows, profile, SRGB()).reshape(*rows.shape[:2], 3), 0, 1)
        planes[:, top : top + BAND] = np.rint(found * np.float32(65535)).astype(np.uint16).transpose(2, 0, 1)
    return planes, f"Converted from {profile.name} to sRGB."


@dataclass(frozen=True, eq=False)
class Proof:
    """How a print through a profile comes out.

    seen, warned: tables (n * n, n, 3), float32, from encoded sRGB at n nodes a side to the outcome, and to the same
    with what is out of reach in one colour and darks that close in another. black: the darkest L* there is.
    """

    profile: Profile
    seen: NDArray[np.float32]
    warned: NDArray[np.float32]
    black: float

    def lost(self, codes: NDArray[np.floating]) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
        """Which encoded colours (h, w, 3), 0..1, are out of reach, and which darks come out as one."""
        return _lost(codes, _there_and_back(codes, self.profile), self.black)


@cache
def _grid() -> NDArray[np.float32]:
    """All encoded colours at the nodes, (n * n, n, 3)."""
    axis = np.linspace(0, 1, NODES, dtype=np.float32)
    return np.ascontiguousarray(np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), -1).reshape(-1, NODES, 3))


def proof_through(profile: Profile) -> Proof:
    """What a profile does to all colours, there and back."""
    colours = _grid()
    seen = _there_and_back(colours, profile)
    black = float(lab.lightness_from_srgb(seen).min())
    outside, closes = _lost(colours, seen, black)
    warned = np.where(closes[..., None], CLOSED_COLOUR, np.where(outside[..., None], OUTSIDE_COLOUR, seen))
    return Proof(profile, seen, np.ascontiguousarray(warned, np.float32), black)


@lru_cache(maxsize=8)
def proof_of(name: str) -> Proof:
    """The proof through one of the known profiles, worked out once; FileFormatError as there."""
    return proof_through(named_profile(name))


def _there_and_back(codes: NDArray[np.floating], profile: Profile) -> NDArray[np.float32]:
    there = _transformed(np.asarray(codes, np.float32), SRGB(), profile)
    back = _transformed(there, profile, SRGB()).reshape(codes.shape)
    found: NDArray[np.float32] = np.clip(back, 0, 1).astype(np.float32)
    return found


def _lost(
    codes: NDArray[np.floating], seen: NDArray[np.floating], black: float
) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    before, after = lab.lab_from_srgb(codes), lab.lab_from_srgb(seen)
    closes = (before[..., 0] < black + CLOSES) & (black > CLOSES)
    return (ciede2000(before, after) > OUTSIDE) & ~closes, closes


def screen_table(profile: Profile) -> NDArray[np.float32]:
    """Codes that a screen of this profile shows sRGB colours with, (n * n, n, 3), 0..1; FileFormatError for what is no
    screen's.
    """
    if profile.space != "rgb":
        raise FileFormatError(f"{profile.name} is no screen's profile.")
    return np.clip(_transformed(_grid(), SRGB(), profile), 0, 1).astype(np.float32)
