"""Orders told from descriptions: a hint says what should be seen there, not what to do."""

from __future__ import annotations

import re

from keen_sweep.core.sentences import sentence

# Verbs that order a removal: their object is not what should appear.
REMOVE_VERBS = "remove|delete|erase|get rid of|take (?:away|out|off)|clean up|cut out|paint out"
# These are adjectives too ("clear sky", "cut grass") and order only before an article.
REMOVE_VERBS_WITH_OBJECT = "clear|clean|cut|hide|drop|wipe|lose|paint over"
# Verbs whose object should appear.
BRING_VERBS = "replace|fill|put|add|insert|make|turn|change|generate|create|extend|continue"
BRING_VERBS_WITH_OBJECT = "paint|draw|show|use"
ARTICLE_WORDS = (
    "the|this|that|these|those|it|them|him|her|all|every|everything|everyone|my|our|his|their|a|an|some|in|out"
)
POLITE_PREFIX = re.compile(
    r"^(?:please|kindly|(?:can|could|would) you|i (?:want|would like) (?:you )?to|you should|now|just)\s+",
    re.I,
)
ORDER_PATTERN = re.compile(
    rf"^(?:(?P<away>(?:{REMOVE_VERBS})\b|(?:{REMOVE_VERBS_WITH_OBJECT})\b(?=\s+(?:{ARTICLE_WORDS})\b))"
    rf"|(?P<bring>(?:{BRING_VERBS})\b(?=\s+\S)|(?:{BRING_VERBS_WITH_OBJECT})\b(?=\s+(?:{ARTICLE_WORDS})\b)))\s*(?P<rest>.*)$",
    re.I | re.S,
)
# What should appear follows these words.
REPLACEMENT_PATTERN = re.compile(r"\b(?:with|by|into|to|as|using)\b\s+(?P<what>.+)$", re.I | re.S)
FILLER_PREFIX = re.compile(r"^(?:the|a|an|some|more|this|that|it|area|hole|there|here|of)\b\s*", re.I)


def as_description(words: str) -> tuple[bool, str]:
    """Read an order as a description.

    Parameters
    ----------
    words : str
        What the photographer wrote.

    Returns
    -------
    tuple of (bool, str)
        Whether it is an order, and what should be seen according to it; empty for the background.
    """
    rest = words.strip().rstrip(".!")
    while (shorter := POLITE_PREFIX.sub("", rest)) != rest:
        rest = shorter
    found = ORDER_PATTERN.match(rest)
    if found is None:
        return False, words.strip()
    after = found["rest"].strip()
    replacement = REPLACEMENT_PATTERN.search(after)
    what = replacement["what"] if replacement else "" if found["away"] else after
    while (shorter := FILLER_PREFIX.sub("", what)) != what:
        what = shorter
    return True, what.strip(" ,;")


def reply_to_order(words: str) -> str | None:
    """Reply to an order.

    Parameters
    ----------
    words : str
        What the photographer wrote.

    Returns
    -------
    str or None
        The reply; None for a description.
    """
    order, what = as_description(words)
    if not order:
        return None
    if what:
        return sentence("Describe what the fill should show, not what to do: \u201c{what}\u201d.", what=what)
    return (
        "Describe what the fill should show, not what to do: for example \u201cgrass and gravel\u201d. "
        "Leave it empty for the background."
    )


def hint_as_description(words: str) -> str:
    """Read a hint as a description: an order is what it brings in; one that only removes is empty, which
    means the background.

    Parameters
    ----------
    words : str
        What the photographer wrote.

    Returns
    -------
    str
        The description.
    """
    return as_description(words)[1]
