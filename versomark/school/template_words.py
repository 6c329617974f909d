"""Words of printed pages: `{% text "Right: {key}" key=question.right %}`, in the language in force."""

from django import template
from django.utils.html import conditional_escape
from django.utils.safestring import SafeString, mark_safe

from versomark.core.language import _, _n, is_right_to_left, language
from versomark.core.text import marks_text

register = template.Library()


@register.filter
def marks_number(value: float) -> str:
    """`7`, `7.5`: marks inside a sentence."""
    return marks_text(value)


@register.simple_tag
def text(template: str, **facts: object) -> SafeString:
    """Facts are escaped, so that a name with a sign of HTML in it stays a name."""
    return mark_safe(_(template, **{name: conditional_escape(str(value)) for name, value in facts.items()}))


@register.simple_tag
def texts(singular: str, plural: str, count: float, **facts: object) -> SafeString:
    """Words that depend on a number, which they name `{count}`."""
    escaped = {name: conditional_escape(str(value)) for name, value in facts.items()}
    return mark_safe(_n(singular, plural, count, **{"count": f"{count:g}", **escaped}))


@register.simple_tag
def reads_from_the_right() -> bool:
    return is_right_to_left()


@register.simple_tag
def language_of_page() -> SafeString:
    """What `<html>` says of the page: its language, and which way it is read."""
    return mark_safe(f'lang="{language()}" dir="{"rtl" if is_right_to_left() else "ltr"}"')
