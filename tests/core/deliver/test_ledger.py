"""The ledger in XMP, held against exiftool and against what stood there before."""

import io
import json
import shutil
import subprocess
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest
from PIL import Image

from keen_sweep.core.deliver.ledger import Entry, Ledger, Way, source_type
from keen_sweep.core.deliver.xmp import ledger_in, source_type_in, with_ledger

WHEN = datetime(2026, 11, 27, 16, 30, tzinfo=UTC)
AGENT = "Keen Sweep 0.1.0"
WOVEN = Entry(name="Visitor with bag", way=Way.WOVEN, share=2.25, engine="weave", seed=7, hint="grass & <gravel>")
PAINTED = Entry(
    name="Sign", way=Way.MODEL, share=0.5, engine="model", model="house", sha256="ab" * 32, service="", credits=1.5
)
LENT = Entry(name="Child", way=Way.BORROWED, share=1.0, sisters=("ov-0413", "ov-0415"))
HAND = Entry(name="Clone", way=Way.BY_HAND, share=0.01)
EARLIER = b"""<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmp="http://ns.adobe.com/xap/1.0/"
 xmlns:xmpMM="http://ns.adobe.com/xap/1.0/mm/" xmlns:stEvt="http://ns.adobe.com/xap/1.0/sType/ResourceEvent#"
 xmp:Rating="4" xmp:ModifyDate="2026-01-02T03:04:05">
<dc:title><rdf:Alt><rdf:li xml:lang="x-default">The pond</rdf:li></rdf:Alt></dc:title>
<xmpMM:History><rdf:Seq><rdf:li stEvt:action="created" stEvt:softwareAgent="A camera"/></rdf:Seq></xmpMM:History>
</rdf:Description></rdf:RDF></x:xmpmeta>"""

needs_exiftool = pytest.mark.skipif(
    shutil.which("exiftool") is None, reason="Debian's libimage-exiftool-perl is not here"
)


def read_by_exiftool(file: Path) -> dict[str, Any]:
    told = subprocess.run(
        ["exiftool", "-j", "-struct", "-G1", "-a", str(file)], check=True, capture_output=True, text=True
    )
    return dict(json.loads(told.stdout)[0])


@pytest.mark.parametrize(
    ("entries", "term"),
    [
        ((WOVEN,), "algorithmicallyEnhanced"),
        ((LENT, HAND), "compositeCapture"),
        ((LENT, WOVEN), "algorithmicallyEnhanced"),
        ((HAND,), "humanEdits"),
        ((WOVEN, PAINTED, HAND), "compositeWithTrainedAlgorithmicMedia"),
    ],
)
def test_the_term_is_that_of_what_is_farthest_from_a_capture(entries: tuple[Entry, ...], term: str) -> None:
    found = source_type(Ledger(frame="ov-0412", entries=entries))
    assert found == f"http://cv.iptc.org/newscodes/digitalsourcetype/{term}"
    packet = with_ledger(None, Ledger(frame="ov-0412", entries=entries), WHEN, AGENT)
    assert source_type_in(packet) == found


def test_a_picture_as_shot_is_not_said_to_be_anything() -> None:
    nothing = Ledger(frame="ov-0412")
    assert source_type(nothing) is None
    assert source_type_in(with_ledger(None, nothing, WHEN, AGENT)) is None


@pytest.mark.parametrize("before", [None, EARLIER, b"no packet at all", b"<!DOCTYPE x [<!ENTITY a 'b'>]>" + EARLIER])
def test_a_ledger_comes_back_as_it_went_in(before: bytes | None) -> None:
    ledger = Ledger(frame="ov-0412.jpg", entries=(WOVEN, PAINTED, LENT, HAND))
    packet = with_ledger(before, ledger, WHEN, AGENT)
    assert ledger_in(packet) == ledger
    # Delivered again it says the newer one only.
    newer = Ledger(frame="ov-0412.jpg", entries=(LENT,))
    assert ledger_in(with_ledger(packet, newer, WHEN, AGENT)) == newer


def test_what_is_no_ledger_is_none() -> None:
    assert ledger_in(None) is None
    assert ledger_in(b"<") is None
    assert ledger_in(EARLIER) is None
    broken = with_ledger(None, Ledger(frame="a", entries=(HAND,)), WHEN, AGENT).replace(b"by hand", b"by magic")
    assert ledger_in(broken) is None


@needs_exiftool
def test_an_independent_reader_finds_all_of_it_and_all_that_was_there(tmp_path: Path) -> None:
    ledger = Ledger(frame="ov-0412.jpg", entries=(WOVEN, LENT))
    packet = with_ledger(EARLIER, ledger, WHEN, AGENT)
    Image.new("RGB", (32, 32)).save(tmp_path / "a.jpg", xmp=packet)
    told = read_by_exiftool(tmp_path / "a.jpg")
    assert told["XMP-iptcExt:DigitalSourceType"].endswith("/algorithmicallyEnhanced")
    assert told["XMP-xmp:Rating"] == 4
    assert told["XMP-dc:Title"] == "The pond"
    assert told["XMP-xmp:ModifyDate"] == "2026:11:27 16:30:00+00:00"
    first, second = told["XMP-xmpMM:History"]
    assert first == {"Action": "created", "SoftwareAgent": "A camera"}
    assert second["Action"] == "edited"
    assert second["SoftwareAgent"] == AGENT
    assert second["Parameters"] == "2 parts, 3.25 % of the picture"
    listed = told["XMP-sweep:Ledger"]
    assert [each["Name"] for each in listed] == ["Visitor with bag", "Child"]
    assert listed[0]["Hint"] == "grass & <gravel>"
    assert listed[1]["Sisters"] == "ov-0413, ov-0415"
    words = ["exiftool", "-validate", "-warning", "-error", "-a", str(tmp_path / "a.jpg")]
    checked = subprocess.run(words, capture_output=True, text=True, check=True)
    assert "XMP" not in checked.stdout.replace("Validate", "")


@needs_exiftool
def test_the_packet_is_sound(tmp_path: Path) -> None:
    packet = with_ledger(None, Ledger(frame="a", entries=(WOVEN,)), WHEN, AGENT)
    (tmp_path / "a.xmp").write_bytes(packet)
    told = subprocess.run(
        ["exiftool", "-validate", str(tmp_path / "a.xmp")], check=True, capture_output=True, text=True
    )
    assert told.stdout.split(":", 1)[1].strip() == "OK"
    with Image.open(io.BytesIO(_png(packet))) as image:
        assert image.info["xmp"].startswith(b"<?xpacket begin=")


def _png(packet: bytes) -> bytes:
    buffer = io.BytesIO()
    Image.new("RGB", (8, 8)).save(buffer, "WEBP", xmp=packet)
    return buffer.getvalue()
