"""Where a service is: what an address may be, so that a key goes to nobody else."""

from __future__ import annotations

import ipaddress
from urllib.parse import urlsplit

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence


def checked_address(address: str) -> str:
    """The address of a service without what does not belong there. Raises BadRequest with what is wrong: a key must not
    travel in the clear beyond this machine and its network."""
    parts = urlsplit(address.strip())
    host = parts.hostname or ""
    if parts.scheme not in ("http", "https") or not host:
        raise BadRequest(sentence("The address of a service has to start with https:// or http://."))
    if parts.username or parts.password or parts.query or parts.fragment:
        raise BadRequest(sentence("Leave keys and query strings out of the address: the key has its own field."))
    if parts.scheme == "http" and not is_near(host):
        raise BadRequest(
            sentence("Over http:// others could read the key: use https:// for a service outside this network.")
        )
    return f"{parts.scheme}://{parts.netloc}{parts.path}".rstrip("/")


def is_near(host: str) -> bool:
    """Whether a host is this machine or one of its own network."""
    if host == "localhost" or host.endswith((".local", ".localhost")) or ("." not in host and ":" not in host):
        return True
    try:
        found = ipaddress.ip_address(host)
    except ValueError:
        return False
    return found.is_loopback or found.is_private or found.is_link_local
