"""One notice, sent and signed as the Standard Webhooks say (standardwebhooks.com, version 1; from memory): whoever gets
it works the signature out again with the secret that both know, and knows who sent it and when."""

from __future__ import annotations

import base64
import hashlib
import hmac
import json
import secrets
from collections.abc import Mapping
from datetime import datetime
from urllib.parse import urlsplit

from pydantic import SecretStr

from keen_sweep.core.sentences import sentence
from keen_sweep.remote.address import is_near

# Longest wait for an answer, seconds.
ANSWER_TIMEOUT_SECONDS = 10.0
SECRET_PREFIX = "whsec_"


class NotTaken(Exception):
    """A notice did not arrive; the words say why."""


def new_secret() -> SecretStr:
    """A secret for a place that notices are sent to: 256 random bits, as the standard writes them."""
    return SecretStr(SECRET_PREFIX + base64.b64encode(secrets.token_bytes(32)).decode())


def signature(secret: SecretStr, name: str, seconds: int, body: bytes) -> str:
    """The header webhook-signature of a body that is sent under a name at a time, in seconds since 1970."""
    key = base64.b64decode(secret.get_secret_value().removeprefix(SECRET_PREFIX))
    signed = f"{name}.{seconds}.".encode() + body
    return "v1," + base64.b64encode(hmac.new(key, signed, hashlib.sha256).digest()).decode()


def send(address: str, secret: SecretStr, name: str, content: Mapping[str, object], at: datetime) -> None:
    """Send one notice. Raises NotTaken unless it is answered with 2xx; where an answer leads elsewhere, nobody goes."""
    # Only who sends pays for it.
    import httpx

    body = json.dumps(content, separators=(",", ":"), sort_keys=True).encode()
    seconds = int(at.timestamp())
    headers = {
        "content-type": "application/json",
        "webhook-id": name,
        "webhook-timestamp": str(seconds),
        "webhook-signature": signature(secret, name, seconds, body),
    }
    near = is_near(urlsplit(address).hostname or "")
    try:
        answer = httpx.post(address, content=body, headers=headers, timeout=ANSWER_TIMEOUT_SECONDS, trust_env=not near)
    except httpx.TimeoutException:
        raise NotTaken(
            sentence("No answer within {answer_timeout_seconds:.0f} s.", answer_timeout_seconds=ANSWER_TIMEOUT_SECONDS)
        ) from None
    except httpx.HTTPError as error:
        raise NotTaken(sentence("It cannot be reached ({name}).", name=type(error).__name__)) from None
    if not answer.is_success:
        raise NotTaken(sentence("The receiver answered with {status_code}.", status_code=answer.status_code))
