"""Who may ask, and what pages may do: a page from elsewhere must neither drive a program on this machine nor read
pictures through it.

Browsers say where a request comes from (Origin, RFC 6454; Sec-Fetch-Site, W3C Fetch Metadata), whatever the page that
sent it wants; programs such as curl say nothing. Answers carry a Content Security Policy (W3C CSP 3).
"""

from __future__ import annotations

from collections.abc import Mapping
from urllib.parse import SplitResult, urlsplit

from keen_sweep.core.sentences import sentence

# Methods that change nothing (RFC 9110, 9.2.1).
SAFE_METHODS = {"GET", "HEAD", "OPTIONS"}
# Bodies that a form on any page may send without a preflight (Fetch standard, CORS-safelisted request header).
FORM_CONTENT_TYPES = {"text/plain", "multipart/form-data", "application/x-www-form-urlencoded"}
# Where our own form is sent (api.passphrase).
ENTRY_PATH = "/enter"
# On every response.
SECURITY_HEADERS = {
    "Content-Security-Policy": (
        # The style sheets of the components are written by a script of ours into the page.
        "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
        "connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}


def turned_away(method: str, url: SplitResult, headers: Mapping[str, str], allowed: set[str] | None) -> str | None:
    """Why a request is not answered; None if it is. url: where it was sent to; allowed: names of this server, None for
    any, where a passphrase stands before everything.

    Names are looked at so that no name of somebody else's, pointed at this machine, is answered (DNS rebinding).
    """
    if allowed is not None and url.hostname not in allowed:
        return sentence("Keen Sweep does not answer to this host name.")
    site = headers.get("sec-fetch-site")
    # A link from elsewhere may open the application; nothing else of another site may ask for anything.
    navigates = headers.get("sec-fetch-mode") == "navigate" and headers.get("sec-fetch-dest") == "document"
    opens = method == "GET" and navigates
    if site in ("cross-site", "same-site") and not opens:
        return sentence("Keen Sweep only answers requests from its own pages.")
    origin = headers.get("origin")
    if origin is not None and not _own(origin, headers.get("host", ""), allowed):
        return sentence("Keen Sweep only answers requests from its own pages.")
    if method not in SAFE_METHODS and url.path != ENTRY_PATH:
        kind = headers.get("content-type", "").split(";")[0].strip().lower()
        if kind in FORM_CONTENT_TYPES:
            return sentence("Forms are not accepted: send JSON, or a file as application/octet-stream.")
    return None


def _own(origin: str, host: str, allowed: set[str] | None) -> bool:
    """Whether an origin is this server: "null", which a sandboxed page has, is nobody's."""
    parts = urlsplit(origin)
    named = allowed is None or parts.hostname in allowed
    return parts.scheme in ("http", "https") and named and parts.netloc == host
