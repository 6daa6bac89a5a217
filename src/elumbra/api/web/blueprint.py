"""Routes of one area; what they are in OpenAPI is worked out when somebody asks, not at every start."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask_openapi3 import APIBlueprint
from flask_openapi3.utils import parse_parameters


class Blueprint(APIBlueprint):
    """Collects nothing for the OpenAPI document while routes are declared: that takes longer than all else at start."""

    def __init__(self, name: str, import_name: str, **options: Any) -> None:
        super().__init__(name, import_name, **options)
        self._undescribed: list[Callable[[], object]] = []

    def _collect_openapi_info(self, rule: str, func: Callable[..., Any], **options: Any) -> Any:
        def describe() -> object:
            return super(Blueprint, self)._collect_openapi_info(rule, func, **options)

        self._undescribed.append(describe)
        return parse_parameters(func, doc_ui=False)

    def describe(self) -> None:
        """Work out the paths and schemas of its routes, once."""
        while self._undescribed:
            self._undescribed.pop(0)()
