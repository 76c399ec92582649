"""Orders told from descriptions: a hint says what should be seen there, not what to do."""

from __future__ import annotations

import re

# Words with which an order begins. Those that bring something in name it; those that take away do not. Some are
# adjectives too ("clear sky", "cut grass") and order only when they point at something.
AWAY = "remove|delete|erase|get rid of|take (?:away|out|off)|clean up|cut out|paint out"
AWAY_AT = "clear|clean|cut|hide|drop|wipe|lose|paint over"
BRING = "replace|fill|put|add|insert|make|turn|change|generate|create|extend|continue"
BRING_AT = "paint|draw|show|use"
AT = "the|this|that|these|those|it|them|him|her|all|every|everything|everyone|my|our|his|their|a|an|some|in|out"
POLITE = re.compile(
    r"^(?:please|kindly|(?:can|could|would) you|i (?:want|would like) (?:you )?to|you should|now|just)\s+",
    re.I,
)
ORDER = re.compile(
    rf"^(?:(?P<away>(?:{AWAY})\b|(?:{AWAY_AT})\b(?=\s+(?:{AT})\b))"
    rf"|(?P<bring>(?:{BRING})\b(?=\s+\S)|(?:{BRING_AT})\b(?=\s+(?:{AT})\b)))\s*(?P<rest>.*)$",
    re.I | re.S,
)
# What is to be seen comes after these.
WITH = re.compile(r"\b(?:with|by|into|to|as|using)\b\s+(?P<what>.+)$", re.I | re.S)
FILLER = re.compile(r"^(?:the|a|an|some|more|this|that|it|area|hole|there|here|of)\b\s*", re.I)


def as_description(words: str) -> tuple[bool, str]:
    """Whether words are an order, and what should be seen there according to it: empty for the background."""
    rest = words.strip().rstrip(".!")
    while (shorter := POLITE.sub("", rest)) != rest:
        rest = shorter
    found = ORDER.match(rest)
    if found is None:
        return False, words.strip()
    after = found["rest"].strip()
    told = WITH.search(after)
    what = told["what"] if told else "" if found["away"] else after
    while (shorter := FILLER.sub("", what)) != what:
        what = shorter
    return True, what.strip(" ,;")


def answer_to(words: str) -> str | None:
    """What to say to an order; None for a description."""
    order, what = as_description(words)
    if not order:
        return None
    if what:
        return f"Describe what the fill should show, not what to do: \u201c{what}\u201d."
    return (
        "Describe what the fill should show, not what to do: for example \u201cgrass and gravel\u201d. "
        "Leave it empty for the background."
    )


def read_as(words: str) -> str:
    """What a hint means as a description of what should be seen: orders are read as what they bring in; one that only
    takes away is empty, which means the background."""
    return as_description(words)[1]
