"""Sentences for the user, in the language of the installation (GNU gettext).

English stands in the code. Every sentence goes through `sentence` or `counted_sentence`, from where
`tests/support/catalogue.py` gathers them into `locale/keen_sweep.pot`; a translation of that catalogue,
`locale/<language>/LC_MESSAGES/keen_sweep.mo`, replaces them.
"""

import gettext
import os
from functools import cache
from pathlib import Path

CATALOGUE_DOMAIN = "keen_sweep"
"""Name of the catalogue's files, without their ending."""

LOCALE_FOLDER = Path(__file__).resolve().parent.parent / "locale"
"""Folder of the catalogue and its translations."""

LANGUAGE_VARIABLE = "KEEN_SWEEP_LANGUAGE"
"""Environment variable with the language, such as `de`; English where it is not set."""

FOLDER_VARIABLE = "KEEN_SWEEP_LOCALE"
"""Environment variable with another folder of translations than the one shipped."""


@cache
def _translations() -> gettext.NullTranslations:
    language = os.environ.get(LANGUAGE_VARIABLE, "")
    folder = os.environ.get(FOLDER_VARIABLE) or LOCALE_FOLDER
    if not language:
        return gettext.NullTranslations()
    return gettext.translation(CATALOGUE_DOMAIN, folder, [language], fallback=True)


def sentence(text: str, /, **values: object) -> str:
    """Translate a sentence and put values into it.

    Parameters
    ----------
    text : str
        The English sentence, with a named field in braces for each value. It must be written out at
        the place of the call, or the catalogue does not contain it.
    **values : object
        One value for each field of the text. Without values, braces stay as they are.

    Returns
    -------
    str
        The sentence in the language of the installation.

    Raises
    ------
    KeyError
        If the text has a field without a value.

    References
    ----------
    GNU gettext manual, chapter "Preparing Program Sources".
    """
    translated = translate(text)
    return translated.format(**values) if values else translated


def translate(text: str) -> str:
    """Look a finished text up: the help of the shell's commands, which is not written in a call of `sentence`.

    Parameters
    ----------
    text : str
        The English text; may be empty.

    Returns
    -------
    str
        Its translation, or the text itself where there is none.
    """
    # The empty text stands for a catalogue's own header.
    return _translations().gettext(text) if text else text


def counted_sentence(one: str, many: str, count: float, /, **values: object) -> str:
    """Translate a sentence whose form depends on a number.

    Parameters
    ----------
    one : str
        The English sentence for one thing.
    many : str
        The English sentence for none or several; its field `{count}` holds the number.
    count : float
        How many things there are, from 0. A broken number takes the form of two.
    **values : object
        One value for each other field of the two texts.

    Returns
    -------
    str
        The sentence in the language of the installation, in that language's form for the number.

    Raises
    ------
    KeyError
        If a text has a field without a value.

    References
    ----------
    GNU gettext manual, "Additional functions for plural forms".
    """
    form = int(count) if count == int(count) else 2
    return _translations().ngettext(one, many, form).format(count=count, **values)
