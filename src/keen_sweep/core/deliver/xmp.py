"""The ledger in a file's XMP (ISO 16684-1:2019), beside what stood there already, and read back.

DigitalSourceType is of the IPTC Photo Metadata Standard 2023.1 (IPTC Extension); the history of XMP Media Management;
the list itself in a namespace of our own, since no standard has one.
"""

from __future__ import annotations

import io
import xml.etree.ElementTree as ET
from datetime import datetime
from uuid import uuid4

from pydantic import ValidationError

from keen_sweep.core.deliver.ledger import Entry, Ledger, source_type
from keen_sweep.core.sentences import sentence

RDF_NAMESPACE = "http://www.w3.org/1999/02/22-rdf-syntax-ns#"
META_NAMESPACE = "adobe:ns:meta/"
XMP_NAMESPACE = "http://ns.adobe.com/xap/1.0/"
MEDIA_MANAGEMENT_NAMESPACE = "http://ns.adobe.com/xap/1.0/mm/"
RESOURCE_EVENT_NAMESPACE = "http://ns.adobe.com/xap/1.0/sType/ResourceEvent#"
IPTC_NAMESPACE = "http://iptc.org/std/Iptc4xmpExt/2008-02-29/"
LEDGER_NAMESPACE = "https://keen-sweep.invalid/ns/ledger/1/"
NAMESPACE_PREFIXES = {
    "x": META_NAMESPACE,
    "rdf": RDF_NAMESPACE,
    "xmp": XMP_NAMESPACE,
    "xmpMM": MEDIA_MANAGEMENT_NAMESPACE,
    "stEvt": RESOURCE_EVENT_NAMESPACE,
    "Iptc4xmpExt": IPTC_NAMESPACE,
    "sweep": LEDGER_NAMESPACE,
}
# The packet's wrapper (ISO 16684-1, 7.3.2).
PACKET_BEGIN = b'<?xpacket begin="\xef\xbb\xbf" id="W5M0MpCehiHzreSzNTczkc9d"?>\n'
PACKET_END = b'<?xpacket end="w"?>'
# Padding with which other programs can edit the packet in place.
PADDING_BYTES = 2_000


def with_ledger(packet: bytes | None, ledger: Ledger, when: datetime, agent: str, longest: int | None = None) -> bytes:
    """Add a ledger to an XMP packet: the source type, a step of the history, and the list of entries.

    Parameters
    ----------
    packet : bytes or None
        The original packet; one that cannot be read is replaced.
    ledger : Ledger
        The ledger.
    when : datetime
        Time of delivery, with its zone.
    agent : str
        Program and version.
    longest : int or None, optional
        Longest packet, bytes: the list is left out if it would exceed this.

    Returns
    -------
    bytes
        The new packet.
    """
    root = _read(packet) if packet else None
    if root is None:
        root = ET.Element(f"{{{META_NAMESPACE}}}xmpmeta")
        ET.SubElement(root, f"{{{RDF_NAMESPACE}}}RDF")
    description = _description(root)
    moment = when.isoformat(timespec="seconds")
    _set(description, XMP_NAMESPACE, "ModifyDate", moment)
    _set(description, XMP_NAMESPACE, "MetadataDate", moment)
    instance = f"xmp.iid:{uuid4()}"
    _set(description, MEDIA_MANAGEMENT_NAMESPACE, "InstanceID", instance)
    kind = source_type(ledger)
    if kind is not None:
        _set(description, IPTC_NAMESPACE, "DigitalSourceType", kind)
    parts = sentence("{parts} parts, {share:.2f} % of the picture", parts=len(ledger.entries), share=ledger.share)
    step = {"action": "edited", "when": moment, "softwareAgent": agent, "parameters": parts, "instanceID": instance}
    _sequence(description, MEDIA_MANAGEMENT_NAMESPACE, "History", keep=True).append(
        _structure(RESOURCE_EVENT_NAMESPACE, {**step, "changed": "/"})
    )
    _set(description, LEDGER_NAMESPACE, "Frame", ledger.frame)
    listed = _sequence(description, LEDGER_NAMESPACE, "Ledger", keep=False)
    for entry in ledger.entries:
        listed.append(_structure(LEDGER_NAMESPACE, _facts(entry)))
    made = _packed(root)
    if longest is not None and len(made) > longest:
        listed.clear()
        made = _packed(root)
    return made


def _packed(root: ET.Element) -> bytes:
    for prefix, space in NAMESPACE_PREFIXES.items():
        ET.register_namespace(prefix, space)
    body: bytes = ET.tostring(root, encoding="utf-8")
    return PACKET_BEGIN + body + b"\n" + b" " * PADDING_BYTES + b"\n" + PACKET_END


def ledger_in(packet: bytes | None) -> Ledger | None:
    """Read the ledger of an XMP packet.

    Parameters
    ----------
    packet : bytes or None
        The packet.

    Returns
    -------
    Ledger or None
        The ledger; None where there is none that can be read.
    """
    root = _read(packet) if packet else None
    if root is None:
        return None
    frame = _value(root, LEDGER_NAMESPACE, "Frame")
    listed = root.find(f".//{{{LEDGER_NAMESPACE}}}Ledger/{{{RDF_NAMESPACE}}}Seq")
    if frame is None or listed is None:
        return None
    try:
        return Ledger(frame=frame, entries=tuple(_entry(each) for each in listed))
    except (ValidationError, ValueError):
        return None


def source_type_in(packet: bytes | None) -> str | None:
    """Read the source type of an XMP packet.

    Parameters
    ----------
    packet : bytes or None
        The packet.

    Returns
    -------
    str or None
        Address of the term; None where there is none.
    """
    root = _read(packet) if packet else None
    return None if root is None else _value(root, IPTC_NAMESPACE, "DigitalSourceType")


def _read(packet: bytes) -> ET.Element | None:
    # No packet has a document type; one that brings it along may be a trap.
    if b"<!DOCTYPE" in packet:
        return None
    try:
        for _, (prefix, space) in ET.iterparse(io.BytesIO(packet.strip(b"\0 \r\n\t")), events=["start-ns"]):
            if prefix and not prefix.startswith("ns"):
                ET.register_namespace(prefix, space)
        root = ET.fromstring(packet.strip(b"\0 \r\n\t"))
    except (ET.ParseError, ValueError):
        return None
    if root.tag == f"{{{RDF_NAMESPACE}}}RDF":
        whole = ET.Element(f"{{{META_NAMESPACE}}}xmpmeta")
        whole.append(root)
        root = whole
    return root if root.find(f"{{{RDF_NAMESPACE}}}RDF") is not None else None


def _description(root: ET.Element) -> ET.Element:
    """The description that is written into: the first, or a new one."""
    rdf = root.find(f"{{{RDF_NAMESPACE}}}RDF")
    assert rdf is not None
    found = rdf.find(f"{{{RDF_NAMESPACE}}}Description")
    return (
        found
        if found is not None
        else ET.SubElement(rdf, f"{{{RDF_NAMESPACE}}}Description", {f"{{{RDF_NAMESPACE}}}about": ""})
    )


def _set(description: ET.Element, space: str, name: str, value: str) -> None:
    """Give a property one value, whether it stood there as an attribute or as an element."""
    tag = f"{{{space}}}{name}"
    description.attrib.pop(tag, None)
    for old in description.findall(tag):
        description.remove(old)
    ET.SubElement(description, tag).text = value


def _sequence(description: ET.Element, space: str, name: str, keep: bool) -> ET.Element:
    """The ordered list of a property; keep: with what is in it."""
    tag = f"{{{space}}}{name}"
    found = description.find(tag)
    if found is not None and not keep:
        description.remove(found)
        found = None
    if found is None:
        found = ET.SubElement(description, tag)
    listed = found.find(f"{{{RDF_NAMESPACE}}}Seq")
    return listed if listed is not None else ET.SubElement(found, f"{{{RDF_NAMESPACE}}}Seq")


def _structure(space: str, facts: dict[str, str]) -> ET.Element:
    item = ET.Element(f"{{{RDF_NAMESPACE}}}li", {f"{{{RDF_NAMESPACE}}}parseType": "Resource"})
    for name, value in facts.items():
        ET.SubElement(item, f"{{{space}}}{name}").text = value
    return item


def _facts(entry: Entry) -> dict[str, str]:
    """What an entry says, but for what is empty."""
    values = entry.model_dump(mode="json", exclude_defaults=True)
    values["sisters"] = ", ".join(entry.sisters)
    return {name: str(value) for name, value in values.items() if value not in ("", None)}


def _entry(item: ET.Element) -> Entry:
    within = item.find(f"{{{RDF_NAMESPACE}}}Description")
    values = {
        each.tag.removeprefix(f"{{{LEDGER_NAMESPACE}}}"): each.text or ""
        for each in (item if within is None else within)
    }
    # Others may write a structure with attributes.
    values |= {
        name.removeprefix(f"{{{LEDGER_NAMESPACE}}}"): value
        for name, value in item.attrib.items()
        if LEDGER_NAMESPACE in name
    }
    sisters = tuple(each for each in values.pop("sisters", "").split(", ") if each)
    return Entry.model_validate({**values, "sisters": sisters})


def _value(root: ET.Element, space: str, name: str) -> str | None:
    tag = f"{{{space}}}{name}"
    for description in root.iter(f"{{{RDF_NAMESPACE}}}Description"):
        if tag in description.attrib:
            return description.attrib[tag]
        found = description.find(tag)
        if found is not None:
            return found.text or ""
    return None
