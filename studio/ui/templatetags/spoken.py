"""The tags for texts, settled when a template is compiled for a language; see studio.ui.loading."""

from django import template

from studio.ui.loading import blocktranslate, translate

register = template.Library()
register.tag("translate", translate)
register.tag("blocktranslate", blocktranslate)
