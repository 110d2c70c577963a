"""Templates are compiled once for each language, with their constant texts in it: a page then looks up none of them."""

from django.template.base import Node, Origin, Parser, TextNode, Token, TokenType
from django.template.context import Context
from django.template.loaders import cached
from django.templatetags.i18n import BlockTranslateNode, TranslateNode, do_block_translate, do_translate
from django.utils.translation import gettext

from studio.ui.speaking import tongue


class ByLanguage(cached.Loader):
    """Django's keeping loader, with a place for each language."""

    def cache_key(self, template_name: str, skip: list[Origin] | None = None) -> str:
        """As what a compiled template is kept."""
        return f"{tongue()}:{super().cache_key(template_name, skip)}"


def translate(parser: Parser, token: Token) -> Node:
    """Django's tag; what it says is settled here where it is a constant."""
    node: TranslateNode = do_translate(parser, token)
    said = node.filter_expression
    is_constant = getattr(said.var, "literal", None) is not None and not said.filters
    return TextNode(str(node.render(Context()))) if is_constant and not node.asvar else node


def blocktranslate(parser: Parser, token: Token) -> Node:
    """Django's tag; what it says is settled here where nothing is filled in."""
    node: BlockTranslateNode = do_block_translate(parser, token)
    is_constant = all(part.token_type == TokenType.TEXT for part in node.singular) and not node.plural
    if not is_constant or node.asvar or node.message_context:
        return node
    text, _names = node.render_token_list(node.singular)
    return TextNode(gettext(text) % {})  # a percent sign is written twice, as in Django's own node
