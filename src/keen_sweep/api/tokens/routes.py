"""Tokens by which scripts are let in."""

from __future__ import annotations

from fastapi import APIRouter

from keen_sweep.api.deps import TheLibrary
from keen_sweep.api.tokens.schemas import TokenIn, TokenMade, TokenOut
from keen_sweep.studio import tokens

router = APIRouter(prefix="/api/tokens", tags=["tokens"])


@router.get("", operation_id="listTokens")
def list_tokens(library: TheLibrary) -> list[TokenOut]:
    """All tokens, oldest first; what has to be said is not kept."""
    return [TokenOut.of(each) for each in tokens.tokens(library)]


@router.post("", status_code=201, operation_id="makeToken")
def make_token(library: TheLibrary, body: TokenIn) -> TokenMade:
    """A new token, for the header Authorization: Bearer. No token can make another."""
    token, words = tokens.make_token(library, body.name, body.scope)
    return TokenMade(**TokenOut.of(token).model_dump(), words=words)


@router.delete("/{token_id}", status_code=204, operation_id="revokeToken")
def revoke_token(library: TheLibrary, token_id: int) -> None:
    tokens.revoke(library, token_id)
