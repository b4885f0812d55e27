"""The words of the trade, for the help and for a card that links to them."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from ringcraft.glossary import Word, words

router = Router()


@router.get("", response=list[Word], operation_id="read_glossary")
def read_glossary(request: HttpRequest) -> list[Word]:
    """Every word, by the alphabet."""
    return list(words())
