"""What can be chosen about a format: a record of settings, each written as text on the command line and in lists."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from buccaphon.choice import Choice
from buccaphon.errors import TargetError
from buccaphon.setting import settings_of, values_of
from buccaphon.texts import _

TOGETHER = "together"  # the option for one file of all roles of a scene
_ON_OR_OFF = {"yes": True, "no": False, "true": True, "false": False}


def option_text(value: Any) -> str:
    """A value as lists and the command line write it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}" if isinstance(value, float) else str(value.value if isinstance(value, Choice) else value)


def words_of_option(options: type, name: str) -> tuple[str, ...]:
    """What can be written for an option that is one of several; () for others."""
    return tuple(option_text(value) for value, _label in settings_of(options)[name].options)


def may_be(options: type, name: str) -> str:
    """What can be written for an option, in words."""
    each = settings_of(options)[name]
    if words := words_of_option(options, name):
        return ", ".join(words)
    if each.is_number:
        unit = each.unit if each.scale == 1.0 else ""
        return _("{least:g} to {most:g} {unit}", least=each.least, most=each.most, unit=_(unit)).rstrip()
    return _("text") if each.is_text else _("yes or no")


def chosen_options(options: type, chosen: Mapping[str, str]) -> Any:
    """A record of options with some of them as text. Raises TargetError for what is none or cannot be understood."""
    known = values_of(options())
    values = {}
    for name, text in chosen.items():
        if name not in known:
            remedy = _("Its options: {names}", names=", ".join(known) or _("none"))
            raise TargetError(_("option “{name}”", name=name), _("this format has no such option"), remedy)
        values[name] = _value(options, name, known[name], text)
    try:
        return options(**values)
    except ValueError as problem:
        raise TargetError(_("the options"), str(problem), _("Choose another value")) from None


def _value(options: type, name: str, default: Any, text: str) -> Any:
    words = words_of_option(options, name)
    try:
        if isinstance(default, bool):
            return _ON_OR_OFF[text.lower()]
        if words and text not in words:
            raise ValueError(text)
        return type(default)(text)
    except (ValueError, KeyError):
        if isinstance(default, bool):
            reason = _("“{text}” is neither yes nor no", text=text)
        elif words:
            reason = _("“{text}” is none of {words}", text=text, words=", ".join(words))
        else:
            reason = _("“{text}” is no value for it", text=text)
        remedy = _("The default is {value}", value=option_text(default))
        raise TargetError(_("option “{name}”", name=name), reason, remedy) from None
