"""Tokens: what a script says instead of a passphrase (RFC 6750). Only a digest is kept of each."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta

from sqlmodel import col, select

from keen_sweep.core.errors import BadRequest, NotFound
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.moment import now
from keen_sweep.store.scope import Scope
from keen_sweep.store.tables import Token

# Makes a token recognisable wherever it turns up.
TOKEN_PREFIX = "keen_"
# Precision of the time of last use: otherwise every request would write to the database.
LAST_USE_PRECISION = timedelta(hours=1)
MAX_NAME_CHARS = 80


def make_token(library: Library, name: str, scope: Scope) -> tuple[Token, str]:
    """A new token and what has to be said, which is told once and kept nowhere. Raises BadRequest."""
    shown = name.strip()
    if not shown or len(shown) > MAX_NAME_CHARS:
        raise BadRequest(
            sentence(
                "A token needs a name of at most {max_name_chars} characters: what it is for.",
                max_name_chars=MAX_NAME_CHARS,
            )
        )
    words = TOKEN_PREFIX + secrets.token_urlsafe(32)
    with library.session(write=True) as session:
        token = Token(name=shown, scope=scope, digest=_digest(words))
        session.add(token)
        session.flush()
        return token, words


def tokens(library: Library) -> list[Token]:
    """All tokens, oldest first."""
    with library.session() as session:
        return list(session.exec(select(Token).order_by(col(Token.id))))


def revoke(library: Library, token_id: int) -> None:
    """Nobody gets in by a token any more. Raises NotFound."""
    with library.session(write=True) as session:
        token = session.get(Token, token_id)
        if token is None:
            raise NotFound(sentence("This token is not there any more."))
        session.delete(token)


def scope_of(library: Library, words: str) -> Scope | None:
    """What whoever says these words may do; None if they are no token's."""
    with library.session() as session:
        found = session.exec(select(Token).where(Token.digest == _digest(words))).first()
    if found is None:
        return None
    if found.used_at is None or found.used_at < now() - LAST_USE_PRECISION:
        with library.session(write=True) as session:
            known = session.get(Token, found.id)
            if known is not None:
                known.used_at = now()
    return found.scope


def _digest(words: str) -> str:
    # 256 random bits are not guessed: no slow hash is needed.
    return hashlib.sha256(words.encode()).hexdigest()
